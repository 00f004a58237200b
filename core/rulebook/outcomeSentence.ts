import { controlOf, labelOf, type PlainControl } from '../controls/controls.ts';
import { outcome } from '../controls/telling.ts';
import { joined, quoted, speech, textWords, type Names } from '../facts/wording.ts';
import { NOTE_PLACE_NAMES } from '../model/notePlaces.ts';
import type { Control, Outcome, Price } from './outcome.ts';
import { words, type Segment } from '../facts/segment.ts';

/** What a rule says, aspect by aspect. */
export function outcomeSegments(then: Outcome, names: Names): Segment[] {
  const { notes, afterOrder } = then;
  const aspects = [
    then.control && controlSegments(then.control, names),
    then.price && priceSegments(then.price, names),
    then.express && [outcome(`${then.express} express pay`, '/then/express')],
    ...(notes ?? []).map(({ place, text }, index) => [
      outcome(`${NOTE_PLACE_NAMES[place]}, say ${textWords(text, names)}`, `/then/notes/${index}`),
    ]),
    then.limits && [outcome(limitWords(then.limits), '/then/limits')],
    then.visibility && [outcome(visibilityWords(then.visibility), '/then/visibility')],
    afterOrder && [outcome(`after the order, say ${textWords(afterOrder.text, names)}`, '/then/afterOrder')],
    then.style && [
      outcome(
        `add the CSS class${then.style.length > 1 ? 'es' : ''} ${joined(then.style.map(quoted), 'and')}`,
        '/then/style',
      ),
    ],
    then.cart && [
      outcome((then.cart.open ? 'keep the cart open' : 'close the cart') + sending(then.cart.redirectTo), '/then/cart'),
    ],
    then.checkout && [outcome(checkoutWords(then.checkout, names), '/then/checkout')],
  ].filter((segments): segments is Segment[] => segments !== undefined);
  if (aspects.length === 0) {
    return [{ kind: 'phrase', about: 'outcome', text: 'choose what happens', pointer: '/then', lacking: true }];
  }
  return aspects.flatMap((segments, index) => (index === 0 ? segments : [words('; '), ...segments]));
}

const sending = (href: string | undefined) => (href === undefined ? '' : `, sending shoppers to ${speech(href)}`);

function controlSegments(control: Control, names: Names): Segment[] {
  const pointer = '/then/control';
  const head = headOf(control, pointer, names);
  const tail = tailOf(control, pointer, names);
  const { onListing } = control;
  if (!onListing) return [...head, ...tail];
  const at = `${pointer}/onListing`;
  if ('kind' in onListing) {
    return [
      ...head,
      ...tail,
      words(', and on listings '),
      ...headOf(onListing, at, names),
      ...tailOf(onListing, at, names),
    ];
  }
  const shownText = 'text' in onListing ? onListing.text : onListing.label;
  return [...head, words(' ('), outcome(`${textWords(shownText, names)} on listings`, at), words(')'), ...tail];
}

/** What a stand-in is, and its label. */
function headOf(control: PlainControl, pointer: string, names: Names): Segment[] {
  const { verb, labelled } = controlOf(control);
  const beside =
    'beside' in control && control.beside ? [outcome('beside the button', `${pointer}/beside`), words(', ')] : [];
  const label = labelled === null ? undefined : labelOf(control);
  const named =
    label === undefined ? [] : [words(labelled ?? ''), outcome(textWords(label, names), `${pointer}/label`)];
  return [...beside, ...verb(control, { names, pointer }), ...named];
}

/** On what terms, and how it looks. */
function tailOf(control: PlainControl, pointer: string, names: Names): Segment[] {
  const terms = controlOf(control).terms?.(control, { names, pointer }) ?? [];
  const look = 'look' in control ? lookWords(control.look) : undefined;
  return look === undefined ? terms : [...terms, words(', '), outcome(look, `${pointer}/look`)];
}

function lookWords(look: { fill?: string | undefined; ink?: string | undefined } | undefined): string | undefined {
  if (!look) return undefined;
  const colour = (name: string, value: string | undefined) =>
    value === undefined ? [] : [`${name} ${value.toLowerCase()}`];
  return `with ${joined([...colour('fill', look.fill), ...colour('ink', look.ink)], 'and')}`;
}

function priceSegments(price: Price, names: Names): Segment[] {
  return [outcome(priceWords(price, names), '/then/price')];
}

function priceWords(price: Price, names: Names): string {
  if ('adjust' in price) return adjustmentWords(price.adjust, names);
  if (!price.show) {
    return price.text === undefined ? 'hide the price' : `show ${textWords(price.text, names)} instead of the price`;
  }
  const { showWas, suffix, onListing } = price;
  const parts = [
    suffix !== undefined && ` followed by ${textWords(suffix, names)}`,
    onListing !== undefined && ` (${textWords(onListing.suffix, names)} on listings)`,
    showWas === false && ', without the former price',
  ];
  return `show the price${parts.filter((part) => part !== false).join('')}`;
}

function adjustmentWords(adjust: Extract<Price, { adjust: unknown }>['adjust'], { price }: Names): string {
  const formatAmount = price ?? ((minor: number) => `${minor} in minor units`);
  if ('fixed' in adjust) return `set the price to ${formatAmount(adjust.fixed)}`;
  const [by, text] =
    'percent' in adjust
      ? [adjust.percent, `${Math.abs(adjust.percent)} %`]
      : [adjust.amount, formatAmount(Math.abs(adjust.amount))];
  return by > 0 ? `increase the price by ${text}` : `reduce the price by ${text}`;
}

function limitWords({ min, max, step }: NonNullable<Outcome['limits']>): string {
  const ends = [min !== undefined && `at least ${min}`, max !== undefined && `at most ${max}`].filter(
    (end) => end !== false,
  );
  const steps = step === undefined ? [] : [`in steps of ${step}`];
  return `sell ${[...(ends.length > 0 ? [`${joined(ends, 'and')} at a time`] : []), ...steps].join(', ')}`;
}

function visibilityWords({ state, redirectTo }: NonNullable<Outcome['visibility']>): string {
  const what = {
    shown: 'show the product everywhere',
    offListings: 'keep the product off listings',
    blocked: 'block the product’s page',
  }[state];
  return what + sending(redirectTo);
}

function checkoutWords(checkout: NonNullable<Outcome['checkout']>, names: Names): string {
  const { open, redirectTo, submitOrder, hideMethods } = checkout;
  const parts = [
    open !== undefined && (open ? 'keep the checkout open' : 'close the checkout'),
    submitOrder && `${submitOrder.show ? 'show' : 'hide'} the order button`,
    submitOrder?.text !== undefined && `saying ${textWords(submitOrder.text, names)}`,
    hideMethods &&
      `hide the payment method${hideMethods.length > 1 ? 's' : ''} ${joined(hideMethods.map(quoted), 'and')}`,
  ].filter((part) => typeof part === 'string');
  return parts.join(', ') + sending(redirectTo);
}
