import type { SharedDecision } from '#core/contract/decision.ts';
import { MARK, STAND_IN, write } from './marks.ts';

export interface StandIn {
  readonly tag: 'a' | 'div' | 'span';
  readonly text?: string;
  /** Safe HTML from the core. */
  readonly html?: string;
  /** What is struck through after the text. */
  readonly struck?: string;
  readonly look?: Look;
  readonly attributes?: Readonly<Record<string, string>>;
  /** Instead of following its address. */
  readonly press?: (element: HTMLElement) => void;
}

type Look = SharedDecision['control']['look'];

const standIns = new WeakMap<Element, { element: Element; made: string }>();

/** What stands in a part's place, or beside it. */
export const standInOf = (own: Element): Element | undefined => standIns.get(own)?.element;

/** Shows a part of the page or puts it away, with a stand-in after it where there is one. */
export function place(own: Element, part: string, isAway: boolean, standIn: StandIn | null, look: Look = null): void {
  if (!isAway && standIn === null) {
    restore(own);
    colour(own, look);
    return;
  }
  const hadFocus = own.matches(':focus');
  colour(own, null);
  if (isAway) {
    mark(own, 'away');
    take(own);
  } else reveal(own);
  const before = standIns.get(own);
  const made = JSON.stringify(standIn);
  if (before?.made === made && (standIn === null || before.element.previousSibling === own)) return;
  const stoodInFocus = before?.element.matches(':focus');
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
  const hadFocus = standIn?.matches(':focus');
  standIn?.remove();
  standIns.delete(own);
  reveal(own);
  colour(own, null);
  if (hadFocus && own instanceof HTMLElement) own.focus();
}

/** Says of a part what we made of it; null when nothing is known. */
export const mark = (element: Element, as: 'shown' | 'away' | null): void => {
  write(element, MARK, as);
};

function reveal(own: Element): void {
  giveBack(own);
  mark(own, 'shown');
}

/** Everything that we put into the page. */
export const built = new WeakSet<Node>();

/** Takes away what a page has copied of ours. */
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

/** What we took from controls that are out of sight, to be given back: a control must not answer to the Enter key. */
const taken = new WeakMap<Element, string | true>();

function take(own: Element): void {
  if (taken.has(own)) return;
  const isButton = own.matches('button, input:is([type=submit], [type=button], [type=image])');
  if (own instanceof HTMLInputElement && !isButton) {
    // How many of one of several products: none. It still goes along, since forms may count on its place.
    taken.set(own, own.value);
    own.value = '0';
  } else if (isField(own) && !own.disabled) {
    taken.set(own, true);
    own.disabled = true;
  }
}

function giveBack(own: Element): void {
  // A copy of a control that was away has been disabled by us too.
  const isCopy = own.getAttribute(MARK) === 'away' && own.matches('button');
  const was = taken.get(own) ?? (isCopy || undefined);
  if (was === undefined || !isField(own)) return;
  taken.delete(own);
  if (was === true) own.disabled = false;
  else own.value = was;
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
