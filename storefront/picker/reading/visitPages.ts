import { CART_NAME, CHECKOUT_NAME } from '../words.ts';
import { contains, parentOf } from '../deep.ts';
import { best } from '../naming.ts';
import { proposals } from '../selectors.ts';
import { cardsAmong, type Cards, type Goods } from './cards.ts';
import { actionOf, formOf, isSubmit, TAKES_OUT } from './controls.ts';
import { countsUp } from './fields.ts';
import { samePath } from './paths.ts';
import type { Draft } from './reading.ts';
import type { Box } from './prices.ts';
import type { PageView } from './pageView.ts';
import { ranked, type Sign } from './signs.ts';

/** Evidence that identifies a page of the visit. */
export interface VisitPage {
  readonly boxes: readonly Box[];
  readonly pressables: readonly Element[];
  readonly cards: Cards | undefined;
  readonly goods: Goods;
}

/** Half of the smallest unit that counts. */
const SAME = 0.005;
const LEAST_CART = 6;

/** Whether something takes how many of a line there are. */
const isCount = (element: Element) =>
  element.matches('input[type=number], input[inputmode=numeric]') ||
  countsUp(element) ||
  (element.matches('input:not([type]), input[type=text], input[type=tel]') &&
    /^\d{1,3}$/.test(element.getAttribute('value') ?? ''));

const takesOut = (element: Element) => TAKES_OUT.test(actionOf(element));

const weighed = (signs: readonly (readonly [holds: boolean, weight: number])[]) =>
  signs.reduce((sum, [holds, weight]) => sum + (holds ? weight : 0), 0);

/** An address by its path alone, as an expression. */
export const exactly = (path: string): string =>
  `^${path.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\/$/, '')}/?$`;

/**
 * The lines of a cart, told by how many of each can be changed and by amounts that add up to one beside them; and what leads
 * on from there. None where the page is no cart.
 */
export function cartOn(view: PageView, page: VisitPage): { readonly map: Draft; readonly lines: Cards } | undefined {
  const { boxes, cards, goods } = page;
  const all = cards?.elements ?? [];
  const holding = (parts: readonly Element[]) => all.filter((card) => parts.some((part) => contains(card, part)));
  const counted = holding(view.elements.filter(isCount));
  // Without quantity fields, lines are elements with an amount that can be removed.
  const shown = counted.length > 0 ? counted : holding(boxes.map(({ element }) => element));
  const amounts = shown.map((line) => boxes.filter(({ element }) => contains(line, element)));
  const beside = boxes
    .filter(({ element }) => !shown.some((line) => contains(line, element)))
    .map(({ amount }) => amount.value);
  const sum = amounts.reduce((total, line) => total + (line.at(-1)?.amount.value ?? 0), 0);
  const isSum = [0, ...beside].some((more) => beside.some((total) => Math.abs(total - sum - more) < SAME));
  const isTakenOut = shown.every((line) => page.pressables.some((one) => contains(line, one) && takesOut(one)));
  const isCounted = counted.length > 0;
  const isNamed = CART_NAME.test(view.url.pathname) && (isCounted || isTakenOut);
  const score = weighed([
    [isSum && sum > 0, 4],
    [isCounted, 3],
    [isNamed, 3],
    [isTakenOut && shown.length > 0, 2],
  ]);
  const lines = score >= LEAST_CART ? cardsAmong(shown, goods.links, view.page) : undefined;
  if (!lines) return undefined;
  const here = view.elements.filter(
    (element) => element.matches('a[href]') && samePath(actionOf(element), view.url.pathname),
  );
  const links = best(here, view.page);
  const mark = proposals(lines.elements, view.page).find(({ selector }) => !selector.includes(':has('))?.selector;
  const leads = onlyHere(leadsOn(view, page, lines), view.page, mark);
  const map: Draft = {
    cart: { path: exactly(view.url.pathname), ...(links === undefined ? {} : { links }) },
    ...(leads === undefined ? {} : { checkout: { links: leads } }),
  };
  return { map, lines };
}

/** Selectors with a meaning of their own: an id, an address, a field name, an author's attribute. */
const OWN = /#|\[(href|action|formaction|name|data-[\w-]+)(\^?=|\])/;

/**
 * Finds a selector for these elements that matches on pages of this kind only. Parts of a visit are searched on every page of
 * the shop, and a class may be on any button; then an element that only such a page has is part of the selector.
 * @param mark selector of that element
 */
function onlyHere(wanted: readonly Element[], page: Document, mark: string | undefined): string | undefined {
  const ways = proposals(wanted, page).filter(({ found }) => found === wanted.length);
  const own = ways.find(({ selector }) => OWN.test(selector));
  if (own) return own.selector;
  const [way] = ways;
  return way === undefined || mark === undefined ? undefined : `body:has(${mark}) ${way.selector}`;
}

/** Fields of a form that asks something. */
const ASKED = 'input:not([type=hidden], [type=submit], [type=image], [type=button]), textarea, select';

/** Finds the elements that lead from a cart to the checkout. */
function leadsOn(view: PageView, { pressables, goods }: VisitPage, { elements: lines }: Cards): Element[] {
  const [line] = lines;
  const outside = pressables.filter(
    (element) => !lines.some((one) => contains(one, element)) && !goods.links.includes(element),
  );
  const largest = Math.max(0, ...outside.filter((element) => view.isRaised(element)).map((one) => view.size(one)));
  const signs: readonly Sign<Element>[] = [
    { weight: 5, holds: (element) => CHECKOUT_NAME.test(actionOf(element)) },
    { weight: 3, holds: (element) => view.isFilled(element) },
    { weight: 2, holds: (element) => view.isRaised(element) && view.size(element) >= largest * 0.95 },
    { weight: 2, holds: (element) => line !== undefined && isAfter(element, line) },
    { weight: 1, holds: (element) => isSubmit(element) || view.isRaised(element) },
    { weight: -6, holds: (element) => (formOf(element)?.querySelector(ASKED) ?? null) !== null },
    { weight: -6, holds: (element) => element.closest('nav, header, footer, [role=navigation]') !== null },
    { weight: -6, holds: (element) => samePath(actionOf(element), view.url.pathname) },
  ];
  return ranked(outside, signs)
    .filter(({ score }) => score >= 4)
    .slice(0, 1)
    .map(({ candidate }) => candidate);
}

const isAfter = (element: Element, other: Element) =>
  (other.compareDocumentPosition(element) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0;

/** Fields by their autofill tokens (HTML): delivery and payment. */
const SENT_TO = /\b(street-address|address-line1|postal-code|cc-number|cc-exp|cc-name)\b/;
const PERSONAL =
  /\b(name|given-name|family-name|email|tel|street-address|address-line1|postal-code|address-level2|cc-[a-z]+)\b/;

const autofill = (field: Element) => field.getAttribute('autocomplete') ?? '';

const LEAST_CHECKOUT = 6;

/** The order button and payment methods of a page that asks for name, delivery and payment. */
export function checkoutOn(
  view: PageView,
  { boxes, pressables }: Pick<VisitPage, 'boxes' | 'pressables'>,
): Draft | undefined {
  const filled = view.elements.filter((element) => PERSONAL.test(autofill(element)));
  const sent = filled.find((field) => SENT_TO.test(autofill(field)));
  // Delivery costs something, ways to pay do not; they are chosen last.
  const methods = choicesOn(view).findLast((group) => group.every(({ words }) => view.amounts(words).length === 0));
  const score = weighed([
    [sent !== undefined, 3],
    [filled.length > 1, 2],
    [filled.some((field) => autofill(field).includes('cc-')), 3],
    [CHECKOUT_NAME.test(view.url.pathname), 3],
    [methods !== undefined, 2],
    [boxes.length > 0, 1],
  ]);
  const first = filled[0] ?? methods?.[0]?.choice;
  if (!first || score < LEAST_CHECKOUT) return undefined;
  const name = methods?.[0]?.choice.getAttribute('name') ?? null;
  const mark = sent ? `[autocomplete="${autofill(sent)}"]` : name === null ? undefined : `[name="${CSS.escape(name)}"]`;
  const order = onlyHere(orderAmong(view, pressables, first), view.page, mark);
  if (order === undefined) return undefined;
  const words = (methods ?? []).map((one) => one.words);
  const named = onlyHere(words, view.page, mark);
  return {
    checkout: { path: exactly(view.url.pathname), order, ...(named === undefined ? {} : { methods: named }) },
  };
}

function orderAmong(view: PageView, pressables: readonly Element[], field: Element): Element[] {
  const form = formOf(field);
  const candidates = pressables.filter((element) => (form ? formOf(element) === form : isAfter(element, field)));
  const largest = Math.max(0, ...candidates.map((element) => view.size(element)));
  const signs: readonly Sign<Element>[] = [
    { weight: 3, holds: isSubmit },
    { weight: 3, holds: (element) => isAfter(element, field) },
    { weight: 3, holds: (element) => view.isFilled(element) },
    { weight: 2, holds: (element) => view.size(element) >= largest * 0.95 },
    { weight: -5, holds: (element) => element.matches('[formnovalidate], [role=radio], [aria-pressed], [type=reset]') },
    { weight: -4, holds: (element) => element.matches('a[href]:not([role=button])') },
    { weight: -2, holds: (element) => element.previousElementSibling?.matches('input, select') ?? false },
  ];
  return ranked(candidates, signs)
    .filter(({ score }) => score >= 5)
    .slice(0, 1)
    .map(({ candidate }) => candidate);
}

/** One choice, with the element that holds its text. */
interface Choice {
  readonly choice: Element;
  readonly words: Element;
}

/** Finds groups of choices, in page order. */
function choicesOn({ elements }: PageView): Choice[][] {
  const groups = new Map<unknown, Element[]>();
  for (const element of elements.filter((one) => one.matches('input[type=radio], [role=radio]'))) {
    const key = element.getAttribute('name') ?? parentOf(element);
    groups.set(key, [...(groups.get(key) ?? []), element]);
  }
  const wordsOf = (radio: Element, group: readonly Element[]): Element => {
    if (!radio.matches('input')) return radio;
    const around = parentOf(radio);
    const isAlone = around !== null && group.every((other) => other === radio || !contains(around, other));
    return radio.closest('label') ?? (isAlone ? around : radio);
  };
  return [...groups.values()]
    .filter((group) => group.length > 1)
    .map((group) => group.map((choice) => ({ choice, words: wordsOf(choice, group) })));
}
