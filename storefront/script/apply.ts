import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import { areasIn, type Area, type partsOnPage } from './areas.ts';
import { applyControl, canBePutIn, withForm, type Shown } from './control.ts';
import { SELLS, TAKES_QUANTITY } from './kinds.ts';
import { MARK } from './marks.ts';
import { later } from './modules.ts';
import { notesOf } from './notes.ts';
import { mark, place, restore, stylesOf } from './place.ts';
import { priceStandIn } from './price.ts';
import { closest, findAll } from './roots.ts';
import { leaveFor } from './visit.ts';
import { restoreWords } from './words.ts';

/** Areas whose product cannot be put into the cart. */
const withheld = new WeakSet<Element>();

/** Applies a decision to an area. Idempotent, so it may be repeated at any time. */
export function apply(area: Area, pageMap: PageMap, decision: SharedDecision, shown: Shown): void {
  const { element, surface, parts } = area;
  const { control, express, price, visibility } = decision;
  if (visibility.state === 'blocked' && surface === 'product') {
    leaveFor(visibility.redirectTo);
    return;
  }
  mark(element, surface === 'listing' && visibility.state !== 'shown' ? 'away' : 'shown');
  for (const styled of [element, ...parts(pageMap.title)]) stylesOf(styled, decision.style);
  for (const part of parts(pageMap.control)) applyControl(part, control, shown);
  if (canBePutIn(control)) withheld.delete(element);
  else withheld.add(element);
  for (const part of parts(pageMap.express)) place(part, 'express', express === 'hide' || shown.isShut, null);
  const standIn = priceStandIn(price, decision.reasons.price.length > 0, shown.texts);
  const isPriceAway = !price.show || standIn !== null;
  for (const part of parts(pageMap.price)) place(part, 'price', isPriceAway, standIn);
  for (const part of parts(pageMap.besidePrice)) applyBesidePrice(part, isPriceAway, shown.origin);
  // Stock and quantity mean nothing if the product is not sold.
  const isSold = SELLS.has(control.kind) || control.beside || express === 'show';
  for (const part of parts(pageMap.stock)) mark(part, isSold ? 'shown' : 'away');
  // A box that is the control itself says how many of several products: none is right there.
  for (const box of parts(pageMap.quantity)) {
    if (box.matches(pageMap.control)) continue;
    if (decision.reasons.limits[0] ?? limited.has(box)) limit(box, decision.limits, shown.origin);
    mark(labelOf(box), isSold || TAKES_QUANTITY.has(control.kind) ? 'shown' : 'away');
  }
  notesOf(area, pageMap, withForm(decision, shown));
}

/** Hides further amounts of a price. A choice stays, without the amounts in its text. */
function applyBesidePrice(part: Element, isAway: boolean, origin: string): void {
  const choice = 'option,input,button';
  if (part.matches(choice) || part.querySelector(choice))
    later(origin, (module) => {
      module.hideAmounts(part, isAway);
    });
  else mark(part, isAway ? 'away' : 'shown');
}

/** Boxes of how many that a rule has had a say in. */
const limited = new WeakSet<Element>();

function limit(box: Element, limits: SharedDecision['limits'] | null, origin: string): void {
  limited.add(box);
  later(origin, (module) => {
    module.limit(box, limits);
  });
}

/** A box with the words that name it. */
const labelOf = (box: Element): Element => box.closest('label') ?? box;

/** Leaves a part of the page as the shop made it. */
export function leave(area: Area, pageMap: PageMap, origin: string): void {
  const { parts } = area;
  for (const part of [pageMap.control, pageMap.express, pageMap.price].flatMap(parts)) {
    restoreWords(part);
    restore(part);
  }
  for (const styled of [area.element, ...parts(pageMap.title)]) stylesOf(styled, []);
  for (const part of parts(pageMap.stock)) mark(part, 'shown');
  for (const part of parts(pageMap.besidePrice)) applyBesidePrice(part, false, origin);
  for (const box of parts(pageMap.quantity)) {
    if (limited.has(box)) limit(box, null, origin);
    mark(labelOf(box), 'shown');
  }
  notesOf(area, pageMap, []);
  withheld.delete(area.element);
  mark(area.element, 'shown');
}

/** Holds a part of the page until it is known what stands there: it shows another product now. */
export function holdAgain({ element, parts }: Area, { control, express, price }: PageMap): void {
  if (!element.hasAttribute(MARK)) return;
  for (const part of [element, ...[control, express, price].flatMap(parts)]) mark(part, null);
}

/** Shows what looks like an area and names no product: it is none of ours. */
export function showOthers(areas: readonly Area[], pageMap: PageMap, partsOf: ReturnType<typeof partsOnPage>): void {
  const { control, express, price } = pageMap;
  const ours = new Set(areas.map(({ element }) => element));
  for (const element of findAll(document, `:is(${areasIn(pageMap)}):not([${MARK}])`, pageMap)) {
    if (ours.has(element)) continue;
    for (const shownPart of [control, express, price].flatMap((part) => partsOf(element, part)))
      mark(shownPart, 'shown');
  }
}

/** A button that puts several products in goes when none of them may be put in. */
export function applyTogether(pageMap: PageMap): void {
  for (const button of findAll(document, pageMap.together, pageMap)) {
    const form = button.closest('form') ?? document.body;
    const areas = findAll(form, areasIn(pageMap), pageMap).filter((area) => area !== closest(button, areasIn(pageMap)));
    place(button, 'together', areas.length > 0 && areas.every((area) => withheld.has(area)), null);
  }
}
