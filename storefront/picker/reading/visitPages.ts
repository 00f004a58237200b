import { CART_NAME, CHECKOUT_NAME } from '../words.ts';
import { contains, parentOf } from '../deep.ts';
import { best } from '../naming.ts';
import { proposals } from '../selectors.ts';
import { cardsAmong, type Cards, type Goods } from './cards.ts';
import { actionOf, formOf, isSubmit } from './controls.ts';
import { countsUp } from './fields.ts';
import { samePath } from './paths.ts';
import type { Draft } from './reading.ts';
import type { Box } from './prices.ts';
import type { PageView } from './pageView.ts';
import { ranked, type Sign } from './signs.ts';

/** What a page of a visit is told by. */
export interface VisitPage {
  readonly boxes: readonly Box[];
  readonly pressables: readonly Element[];
  readonly cards: Cards | undefined;
  readonly goods: Goods;
}

/** Half of the smallest unit that is told apart. */
const SAME = 0.005;
const LEAST_CART = 6;

/** Whether something takes how many of a line there are. */
const isCount = (element: Element) =>
  element.matches('input[type=number], input[inputmode=numeric]') ||
  countsUp(element) ||
  (element.matches('input:not([type]), input[type=text], input[type=tel]') &&
    /^\d{1,3}$/.test(element.getAttribute('value') ?? ''));

/** An address by its path alone, as an expression. */
export const exactly = (path: string): string =>
  `^${path.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\/$/, '')}/?$`;

/**
 * The lines of a cart, told by how many of each can be changed and by amounts that add up to one beside them; and what leads
 * on from there. None where the page is no cart.
 */
export function cartOn(view: PageView, page: VisitPage): { readonly map: Draft; readonly lines: Cards } | undefined {
  const { boxes, cards, goods } = page;
  const counts = view.elements.filter(isCount);
  const shown = (cards?.elements ?? []).filter((card) => counts.some((count) => contains(card, count)));
  const amounts = shown.map((line) => boxes.filter(({ element }) => contains(line, element)));
  const beside = boxes
    .filter(({ element }) => !shown.some((line) => contains(line, element)))
    .map(({ amount }) => amount.value);
  const sum = amounts.reduce((total, line) => total + (line.at(-1)?.amount.value ?? 0), 0);
  const isSum = [0, ...beside].some((more) => beside.some((total) => Math.abs(total - sum - more) < SAME));
  const isNamed = CART_NAME.test(view.url.pathname);
  const score = (isSum && sum > 0 ? 4 : 0) + (shown.length > 0 ? 3 : 0) + (isNamed ? 3 : 0);
  const lines = score >= LEAST_CART ? cardsAmong(shown, goods.links, view.page) : undefined;
  if (!lines) return undefined;
  const here = view.elements.filter(
    (element) => element.matches('a[href]') && samePath(actionOf(element), view.url.pathname),
  );
  const links = best(here, view.page);
  const mark = proposals(lines.elements, view.page).find(({ selector }) => !selector.includes(':has('))?.selector;
  const leads = onlyHere(leadsOn(view, page, lines), view.page, mark);
  const map: Draft = {
    cartLine: { area: lines.area, link: lines.link },
    cart: { path: exactly(view.url.pathname), ...(links === undefined ? {} : { links }) },
    ...(leads === undefined ? {} : { checkout: { links: leads } }),
  };
  return { map, lines };
}

/** What says by itself what it is: an id, an address, the name of a field, an attribute that an author gave. */
const OWN = /#|\[(href|action|formaction|name|data-[\w-]+)(\^?=|\])/;

/**
 * A selector that finds these on pages of this kind alone. The parts of a visit are looked for on every page of the shop, and
 * a class may be that of any button; then the page is told by what only such a page has.
 * @param mark a selector of that
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

/** What leads from a cart to the checkout. */
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

/** Fields by what browsers fill in (HTML, autofill): where goods are sent, and by what they are paid. */
const SENT_TO = /\b(street-address|address-line1|postal-code|cc-number|cc-exp|cc-name)\b/;
const PERSONAL =
  /\b(name|given-name|family-name|email|tel|street-address|address-line1|postal-code|address-level2|cc-[a-z]+)\b/;

const autofill = (field: Element) => field.getAttribute('autocomplete') ?? '';

/** The button that places the order and the ways to pay, where a page asks who buys and where to; else none. */
export function checkoutOn(view: PageView, { boxes, pressables }: VisitPage): Draft | undefined {
  const filled = view.elements.filter((element) => PERSONAL.test(autofill(element)));
  const groups = choicesOn(view);
  const isPaid = boxes.length > 0 || groups.length > 0 || CHECKOUT_NAME.test(view.url.pathname);
  const [first] = filled;
  const sent = filled.find((field) => SENT_TO.test(autofill(field)));
  if (!first || !sent || filled.length < 2) return undefined;
  if (!isPaid && !filled.some((field) => autofill(field).includes('cc-'))) return undefined;
  const mark = `[autocomplete="${autofill(sent)}"]`;
  const order = onlyHere(orderAmong(view, pressables, first), view.page, mark);
  if (order === undefined) return undefined;
  // Delivery costs something, ways to pay do not; they are chosen last.
  const isPriced = (group: readonly Element[]) => group.some((one) => view.amounts(one).length > 0);
  const methods = groups.filter((group) => !isPriced(group)).at(-1) ?? [];
  const named = onlyHere(methods, view.page, mark);
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

/** What is chosen one of several, each with its words, as they come on the page. */
function choicesOn({ elements }: PageView): Element[][] {
  const groups = new Map<unknown, Element[]>();
  for (const element of elements.filter((one) => one.matches('input[type=radio], [role=radio]'))) {
    const key = element.getAttribute('name') ?? parentOf(element);
    groups.set(key, [...(groups.get(key) ?? []), element]);
  }
  const withWords = (radio: Element, group: readonly Element[]): Element => {
    if (!radio.matches('input')) return radio;
    const label = radio.closest('label');
    const around = parentOf(radio);
    const isAlone = around !== null && group.every((other) => other === radio || !contains(around, other));
    return label ?? (isAlone ? around : radio);
  };
  return [...groups.values()]
    .filter((group) => group.length > 1)
    .map((group) => group.map((radio) => withWords(radio, group)));
}
