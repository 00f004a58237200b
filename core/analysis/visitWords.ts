import type { Visit } from '../engine/decision.ts';

/** What changes of cart and checkout, thing by thing, in plain words: "the order button is hidden". */
export function visitChanges(before: Visit, after: Visit, nameOfMethod: (code: string) => string): string[] {
  return [
    ...doorWords('cart', before.cart, after.cart),
    ...doorWords('checkout', before.checkout, after.checkout),
    ...buttonWords(before.checkout.submitOrder, after.checkout.submitOrder),
    ...methodWords(before.checkout.hideMethods, after.checkout.hideMethods, nameOfMethod),
  ];
}

interface Door {
  readonly open: boolean;
  readonly redirectTo: string | null;
}

function doorWords(name: 'cart' | 'checkout', before: Door, after: Door): string[] {
  const leading = after.redirectTo === null ? '' : `, and its page leads to ${after.redirectTo}`;
  if (before.open !== after.open) return [after.open ? `the ${name} opens` : `the ${name} closes${leading}`];
  if (after.open || before.redirectTo === after.redirectTo) return [];
  return [`the page of the closed ${name} leads to ${after.redirectTo ?? 'the first page'}`];
}

type Button = Visit['checkout']['submitOrder'];

function buttonWords(before: Button, after: Button): string[] {
  const saying = after.text === null ? '' : `, with “${withoutTags(after.text)}” in its place`;
  if (before.show !== after.show)
    return [after.show ? 'the order button is shown' : `the order button is hidden${saying}`];
  if (after.show || before.text === after.text) return [];
  return [
    after.text === null ? 'nothing is said in the order button’s place' : `the order button stays hidden${saying}`,
  ];
}

const withoutTags = (html: string) =>
  html
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

function methodWords(before: readonly string[], after: readonly string[], nameOf: (code: string) => string): string[] {
  const phrase = (codes: readonly string[], words: (names: string, verb: 'is' | 'are') => string) =>
    codes.length === 0
      ? []
      : [words(new Intl.ListFormat('en').format(codes.map(nameOf)), codes.length === 1 ? 'is' : 'are')];
  return [
    ...phrase(
      after.filter((code) => !before.includes(code)),
      (names, verb) => `payment by ${names} ${verb} hidden`,
    ),
    ...phrase(
      before.filter((code) => !after.includes(code)),
      (names, verb) => `payment by ${names} ${verb} shown again`,
    ),
  ];
}
