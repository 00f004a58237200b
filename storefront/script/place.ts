import type { SharedDecision } from '#core/engine/decision.ts';
import { MARK, STAND_IN, write } from './marks.ts';
import { fitting } from './fitting.ts';

export interface StandIn {
  readonly tag: 'a' | 'div' | 'span';
  readonly text?: string;
  /** Safe HTML from the core. */
  readonly html?: string;
  /** Text struck through after the main text. */
  readonly struck?: string;
  readonly look?: Look;
  readonly attributes?: Readonly<Record<string, string>>;
  /** Instead of following its address. */
  readonly press?: (element: HTMLElement) => void;
}

type Look = SharedDecision['control']['look'];

const standIns = new WeakMap<Element, { element: Element; made: string }>();

/** The stand-in for a part, or beside it. */
export const standInOf = (element: Element): Element | undefined => standIns.get(element)?.element;

/** Shows a part of the page or puts it away, with a stand-in after it where there is one. */
export function place(
  original: Element,
  part: string,
  isAway: boolean,
  standIn: StandIn | null,
  look: Look = null,
): void {
  if (!isAway && standIn === null) {
    restore(original);
    colour(original, look);
    return;
  }
  const hadFocus = original.matches(':focus');
  colour(original, null);
  if (isAway) {
    mark(original, 'away');
    take(original);
  } else reveal(original);
  const before = standIns.get(original);
  const made = JSON.stringify(standIn);
  if (before?.made === made && (standIn === null || before.element.previousSibling === original)) return;
  const stoodInFocus = before?.element.matches(':focus');
  before?.element.remove();
  const element = standIn ? build(standIn, part) : document.createElement('span');
  standIns.set(original, { element, made });
  if (!standIn) return;
  original.after(element);
  if (standIn.tag !== 'div') fitting?.fit(element, original);
  colour(element, standIn.look ?? null);
  if (((isAway && hadFocus) || stoodInFocus) && element instanceof HTMLAnchorElement) element.focus();
}

/** Shows a part of the page as the shop made it. */
export function restore(element: Element): void {
  const standIn = standIns.get(element)?.element;
  const hadFocus = standIn?.matches(':focus');
  standIn?.remove();
  standIns.delete(element);
  reveal(element);
  colour(element, null);
  if (hadFocus && element instanceof HTMLElement) element.focus();
}

/** Marks a part with its state; null for unknown. */
export const mark = (element: Element, as: 'shown' | 'away' | null): void => {
  write(element, MARK, as);
};

function reveal(element: Element): void {
  giveBack(element);
  mark(element, 'shown');
}

/** Everything that we put into the page. */
export const built = new WeakSet<Node>();

/** Removes copies that a page made of our elements. */
export function clearCopies(found: readonly Element[]): void {
  for (const element of found) if (!built.has(element)) element.remove();
}

export function build(standIn: StandIn, part: string): HTMLElement {
  const element = document.createElement(standIn.tag);
  built.add(element);
  element.setAttribute(STAND_IN, part);
  // A shop's words may be written the other way than its page.
  element.dir = 'auto';
  if (standIn.press)
    element.onclick = (event) => {
      event.preventDefault();
      standIn.press!(element);
    };
  for (const [name, value] of Object.entries(standIn.attributes ?? {})) element.setAttribute(name, value);
  if (standIn.html === undefined) element.textContent = standIn.text ?? '';
  else element.innerHTML = standIn.html;
  if (standIn.struck !== undefined) {
    const struck = document.createElement('s');
    struck.textContent = standIn.struck;
    element.append(' ', struck);
  }
  return element;
}

/** Elements whose colours we set. */
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

/** Attributes removed from hidden controls, to be restored: a hidden control must not react to the Enter key. */
const taken = new WeakMap<Element, string | true>();

function take(element: Element): void {
  if (taken.has(element)) return;
  const isButton = element.matches('button, input:is([type=submit], [type=button], [type=image])');
  if (element instanceof HTMLInputElement && !isButton) {
    // Sets the quantity of one of several products to none; the field is still sent, since forms may rely on its position.
    taken.set(element, element.value);
    element.value = '0';
  } else if (isField(element) && !element.disabled) {
    taken.set(element, true);
    element.disabled = true;
  }
}

function giveBack(element: Element): void {
  // A copy of a control that was away has been disabled by us too.
  const isCopy = element.getAttribute(MARK) === 'away' && element.matches('button');
  const was = taken.get(element) ?? (isCopy || undefined);
  if (was === undefined || !isField(element)) return;
  taken.delete(element);
  if (was === true) element.disabled = false;
  else element.value = was;
}

type Field = HTMLButtonElement | HTMLInputElement | HTMLSelectElement;
const isField = (element: Element): element is Field => element.matches('button, input, select');

const styled = new WeakMap<Element, readonly string[]>();

/** The style hooks of an element, and none that were there before. */
export function stylesOf(element: Element, names: readonly string[]): void {
  const before = styled.get(element) ?? [];
  if (before.length === 0 && names.length === 0) return;
  if (before.join() === names.join() && names.every((name) => element.classList.contains(name))) return;
  element.classList.remove(...before);
  element.classList.add(...names);
  styled.set(element, names);
  classed.set(element, element.className);
}
const classed = new WeakMap<Element, string>();

/** Whether an element's classes are as we left them. */
export const isClassed = (element: Element) => classed.get(element) === element.className;
