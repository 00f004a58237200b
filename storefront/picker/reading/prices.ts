import { contains, parentOf } from '../deep.ts';
import { isPrice, type Amount } from './money.ts';
import type { PageView } from './pageView.ts';
import { ranked, type Scored, type Sign } from './signs.ts';

/** An element that shows an amount of money and little else. */
export interface Box {
  readonly element: Element;
  readonly amount: Amount;
}

/** Most characters beside an amount, such as "from", "each" or "incl. VAT". */
const MOST_BESIDE = 12;
const LONGEST = 64;
/** Elements that are chosen or pressed: an amount in them belongs to the choice. */
const CHOICES = 'button, label, fieldset, option, summary, [role=radio], [role=button]';

/** All that says one amount, each as small as says it whole. */
export function boxesOf(view: PageView): Box[] {
  const boxes: Box[] = [];
  for (const element of view.elements) {
    if (element.matches('option, select, input, textarea, svg *, html, body')) continue;
    const text = view.text(element);
    if (text === '' || text.length > LONGEST) continue;
    const [amount, ...others] = view.money.amountsIn(text);
    if (!amount || others.length > 0) continue;
    if ([...element.children].some((child) => view.amounts(child).length === 1)) continue;
    boxes.push({ element: whole(element, amount), amount });
  }
  return boxes.filter(({ element }, index) => boxes.findIndex((other) => other.element === element) === index);

  function restOf(text: string) {
    const [amount] = view.money.amountsIn(text);
    return amount ? (text.slice(0, amount.from) + text.slice(amount.to)).trim() : text;
  }

  /** Includes ancestors that only add words such as "from" or "incl. VAT". */
  function whole(element: Element, { digits }: Amount): Element {
    const around = parentOf(element);
    if (view.isStruck(element)) return element;
    if (!around || around.matches('a, button, label, li, td, body, main, form, article, section') || around.shadowRoot)
      return element;
    const [amount, ...others] = view.amounts(around);
    if (amount?.digits !== digits || others.length > 0) return element;
    const text = view.text(around);
    const isNamed = ['id', 'class', 'part', 'itemprop'].some((name) => element.hasAttribute(name));
    const isMore = text !== view.text(element) && restOf(text).length <= MOST_BESIDE && !/\p{Nd}/u.test(restOf(text));
    return isMore && !isNamed && around.children.length <= 2 && !around.querySelector('button, input, select, a')
      ? around
      : element;
  }
}

/** Of one of several to choose from: in a choice, or in a row that has one. */
export const isChoice = (element: Element) =>
  element.closest(CHOICES) !== null ||
  (element.closest('tr, li')?.querySelector('input[type=radio], input[type=checkbox]') ?? null) !== null;

/** Known facts of the product in an area. */
export interface PriceContext {
  /** Minor units; none where nothing is known. */
  readonly prices: readonly number[];
  readonly exponent: number;
}

/** The boxes of an area that could be its price, the best first. */
export function rankedPrices(
  boxes: readonly Box[],
  { prices, exponent }: PriceContext,
  view: PageView,
  near: Element | undefined,
): Scored<Box>[] {
  // Digits may be larger than the text beside them.
  const size = ({ element }: Box) =>
    Math.max(
      ...[element, ...element.querySelectorAll('*')].map((part) =>
        Number.parseFloat(view.style(part)?.fontSize ?? '0'),
      ),
    );
  const largest = Math.max(0, ...boxes.map(size));
  const isOpen = ({ element }: Box) => !view.isStruck(element) && !isChoice(element);
  const nearest = near && Math.min(...boxes.filter(isOpen).map(({ element }) => view.distance(element, near)));
  const signs: readonly Sign<Box>[] = [
    {
      weight: 7,
      reason: 'it is the price in the catalog',
      holds: ({ amount }) => prices.some((price) => isPrice(amount, price, exponent)),
    },
    {
      weight: 3,
      reason: 'the page marks it as the price',
      holds: ({ element }) => element.closest('[itemprop=price]') !== null,
    },
    { weight: 2, reason: 'it is the largest amount there', holds: (box) => size(box) === largest },
    {
      weight: 1,
      reason: 'it is the nearest to the control',
      holds: ({ element }) => near !== undefined && view.distance(element, near) === nearest,
    },
    {
      weight: 1,
      holds: ({ element }) => /price|prix|prei?s|prec|prez|cen[ay]|hinta|amount|cost/i.test(namesOf(element)),
    },
    { weight: 1, holds: ({ element }) => view.text(element).length <= 14 },
    { weight: -3, holds: ({ element }) => view.text(element).length > 32 },
    { weight: -9, holds: ({ element }) => view.isStruck(element) },
    {
      weight: -6,
      holds: ({ element }) => isChoice(element),
    },
    { weight: -5, holds: (box) => isSaid(box, boxes, exponent) },
    { weight: -3, holds: ({ amount }) => amount.value === 0 },
    { weight: -2, holds: ({ element }) => /ship|deliver|livr|versand|vat|tax/i.test(namesOf(element)) },
  ];
  return ranked(boxes, signs);
}

const namesOf = (element: Element) =>
  [element, parentOf(element)]
    .map((one) => `${one?.getAttribute('class') ?? ''} ${one?.id ?? ''} ${one?.getAttribute('part') ?? ''}`)
    .join(' ');

/** A saving or an instalment: the difference of two amounts, or a fraction of one. */
function isSaid({ amount, element }: Box, boxes: readonly Box[], exponent: number): boolean {
  const unit = 10 ** -exponent;
  const others = boxes.filter((other) => other.element !== element).map((other) => other.amount.value);
  const isSaving = others.some((a) =>
    others.some((b) => a > b && b > amount.value && Math.abs(a - b - amount.value) < unit / 2),
  );
  const times = element.textContent.match(/\p{Nd}+/gu)?.map(Number) ?? [];
  const isPart = times.some(
    (count) => count > 1 && count <= 60 && others.some((a) => Math.abs(a - count * amount.value) < count * unit),
  );
  return isSaving || isPart;
}

/** px between two lines that belong together. */
const NEAR = 36;

/** Finds elements that say more about a price and are hidden with it. */
export function besideOf(price: Element, boxes: readonly Box[], view: PageView, area: Element): Element[] {
  const others = boxes.filter(
    ({ element }) =>
      !isChoice(element) &&
      element !== price &&
      contains(area, element) &&
      !contains(element, price) &&
      !contains(price, element),
  );
  const beside = new Set<Element>();
  const isBeside = (box: Box) =>
    view.isStruck(box.element) ||
    isSaid(box, boxes, 2) ||
    parentOf(box.element) === parentOf(price) ||
    [price, ...beside].some((one) => view.gap(box.element, one) <= NEAR);
  for (let before = -1; before < beside.size;) {
    before = beside.size;
    for (const box of others) if (isBeside(box)) beside.add(box.element);
  }
  return others.flatMap(({ element }) => (beside.has(element) ? [element] : []));
}
