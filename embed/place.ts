import type { PageMap } from '#core/contract/shopCalls.ts';
import type { SharedDecision } from '#core/contract/decision.ts';
import { MARK, STAND_IN } from './hold.ts';

export interface StandIn {
  readonly tag: 'a' | 'div' | 'span';
  readonly text?: string;
  /** Safe HTML from the core. */
  readonly html?: string;
  /** What is struck through after the text. */
  readonly struck?: string;
  readonly look?: Look;
  readonly attributes?: Readonly<Record<string, string>>;
}

type Look = SharedDecision['control']['look'];

/** The parts of an area that are its own: those of a card inside a product's page are the card's. */
export function partsOf(area: Element, { productPage, card }: PageMap, selector: string | undefined): Element[] {
  if (selector === undefined) return [];
  const areas = `:is(${productPage.area}, ${card.area})`;
  return [...area.querySelectorAll(selector)].filter(
    (part) => !part.hasAttribute(STAND_IN) && part.closest(areas) === area,
  );
}

const standIns = new WeakMap<Element, { element: Element; made: string }>();

/** Shows a part of the page or puts it away, with a stand-in after it where there is one. */
export function place(own: Element, part: string, isAway: boolean, standIn: StandIn | null, look: Look = null): void {
  const hadFocus = own === document.activeElement;
  if (!isAway && standIn === null) {
    restore(own);
    colour(own, look);
    return;
  }
  colour(own, null);
  if (isAway) {
    if (own.getAttribute(MARK) !== 'away') own.setAttribute(MARK, 'away');
    // A control out of sight must not answer to the Enter key in its form.
    if (isField(own)) disable(own);
  } else reveal(own);
  const before = standIns.get(own);
  const made = JSON.stringify(standIn);
  if (before?.made === made && (standIn === null || before.element.previousSibling === own)) return;
  const stoodInFocus = before?.element === document.activeElement;
  before?.element.remove();
  const element = standIn ? build(standIn, part) : document.createElement('span');
  standIns.set(own, { element, made });
  if (!standIn) return;
  own.after(element);
  if (((isAway && hadFocus) || stoodInFocus) && element instanceof HTMLAnchorElement) element.focus();
}

/** Shows a part of the page as the shop made it. */
export function restore(own: Element): void {
  const standIn = standIns.get(own)?.element;
  const hadFocus = standIn !== undefined && standIn === document.activeElement;
  standIn?.remove();
  standIns.delete(own);
  reveal(own);
  colour(own, null);
  if (hadFocus && own instanceof HTMLElement) own.focus();
}

function reveal(own: Element): void {
  if (disabled.delete(own) && isField(own)) own.disabled = false;
  if (own.getAttribute(MARK) !== 'shown') own.setAttribute(MARK, 'shown');
}

function build(standIn: StandIn, part: string): HTMLElement {
  const element = document.createElement(standIn.tag);
  element.setAttribute(STAND_IN, part);
  for (const [name, value] of Object.entries(standIn.attributes ?? {})) element.setAttribute(name, value);
  if (standIn.html === undefined) element.textContent = standIn.text ?? '';
  else element.innerHTML = standIn.html;
  if (standIn.struck !== undefined) {
    const struck = document.createElement('s');
    struck.textContent = standIn.struck;
    element.append(' ', struck);
  }
  colour(element, standIn.look ?? null);
  return element;
}

/** Those whose colours we set ourselves. */
const coloured = new WeakMap<Element, string>();

function colour(element: Element, look: Look): void {
  if (!(element instanceof HTMLElement)) return;
  const made = look === null ? '' : JSON.stringify(look);
  if ((coloured.get(element) ?? '') === made) return;
  coloured.set(element, made);
  element.style.background = look?.fill ?? '';
  element.style.borderColor = look?.fill ?? '';
  element.style.color = look?.ink ?? '';
}

type Field = HTMLButtonElement | HTMLInputElement;
const isField = (element: Element): element is Field =>
  element instanceof HTMLButtonElement || element instanceof HTMLInputElement;

/** Those that we disabled ourselves. */
const disabled = new WeakSet<Element>();

function disable(own: Field): void {
  if (own.disabled) return;
  own.disabled = true;
  disabled.add(own);
}

const styled = new WeakMap<Element, readonly string[]>();

/** The style hooks of an area, and none that were there before. */
export function stylesOf(area: Element, names: readonly string[]): void {
  const before = styled.get(area) ?? [];
  if (before.join() === names.join() && names.every((name) => area.classList.contains(name))) return;
  area.classList.remove(...before);
  area.classList.add(...names);
  styled.set(area, names);
}

type Note = SharedDecision['notes'][number];
const noted = new WeakMap<Element, { made: string; elements: readonly Element[] }>();

/** The notes of an area, each in its place. */
export function besides(area: Element, pageMap: PageMap, notes: readonly Note[]): void {
  const made = JSON.stringify(notes);
  const before = noted.get(area);
  if ((before?.made ?? '[]') === made && (before?.elements ?? []).every((element) => area.contains(element))) return;
  for (const element of before?.elements ?? []) element.remove();
  const last = new Map<Element, Element>();
  const elements = notes.flatMap((note) => {
    const anchor = anchorOf(note.place, area, pageMap);
    if (!anchor) return [];
    const element = build({ tag: 'div', html: note.html, attributes: { 'data-place': note.place } }, 'note');
    if (note.place === 'aboveControl') anchor.before(element);
    else if (note.place === 'badge') area.prepend(element);
    else (last.get(anchor) ?? anchor).after(element);
    if (note.place !== 'aboveControl' && note.place !== 'badge') last.set(anchor, element);
    return [element];
  });
  noted.set(area, { made, elements });
}

/** The part that a note stands by. */
function anchorOf(place: Note['place'], area: Element, pageMap: PageMap): Element | undefined {
  const [control] = partsOf(area, pageMap, pageMap.control);
  const [price] = partsOf(area, pageMap, pageMap.price);
  const by = place === 'belowPrice' ? (price ?? control) : (control ?? price);
  if (by === undefined) return undefined;
  const row = by === control ? rowOf(control, area, pageMap) : by;
  const standIn = standIns.get(row)?.element;
  return standIn?.isConnected && place !== 'aboveControl' ? standIn : row;
}

/** The control with what stands beside it, express pay say: notes go around them all. */
function rowOf(control: Element, area: Element, pageMap: PageMap): Element {
  const parent = control.parentElement;
  const express = partsOf(area, pageMap, pageMap.express);
  return parent && parent !== area && express.some((part) => part.parentElement === parent) ? parent : control;
}
