import type { PageMap } from '#core/contract/shopCalls.ts';
import type { SharedDecision } from '#core/contract/decision.ts';
import { MARK, STAND_IN } from './hold.ts';
import { restoreWords, setWords } from './words.ts';

/** Makes a part of the page say what was decided. Doing it again changes nothing, so it may be done at any time. */
export function apply(area: Element, pageMap: PageMap, { control, express, price }: SharedDecision): void {
  for (const own of partsOf(area, pageMap, pageMap.control)) {
    if (control.kind === 'buy') {
      show(own);
      if (control.label === null) restoreWords(own);
      else setWords(own, control.label);
    } else {
      putInPlace(own, 'control', control.kind === 'nothing' ? null : standInFor(control, own));
    }
  }
  for (const own of partsOf(area, pageMap, pageMap.express)) {
    if (express === 'show') show(own);
    else putInPlace(own, 'express', null);
  }
  for (const own of partsOf(area, pageMap, pageMap.price)) {
    if (price.show) show(own);
    else putInPlace(own, 'price', price.text === null ? null : { tag: 'span', html: price.text });
  }
}

/** Leaves a part of the page as the shop made it. */
export function leave(area: Element, pageMap: PageMap): void {
  for (const selector of [pageMap.control, pageMap.express, pageMap.price]) {
    for (const own of partsOf(area, pageMap, selector)) {
      restoreWords(own);
      show(own);
    }
  }
}

/** The parts of an area that are its own: those of a card inside a product's page are the card's. */
function partsOf(area: Element, { productPage, card }: PageMap, selector: string | undefined): Element[] {
  if (selector === undefined) return [];
  const areas = `:is(${productPage.area}, ${card.area})`;
  return [...area.querySelectorAll(selector)].filter(
    (part) => !part.hasAttribute(STAND_IN) && part.closest(areas) === area,
  );
}

interface StandIn {
  readonly tag: 'a' | 'div' | 'span';
  readonly text?: string;
  readonly html?: string;
  readonly attributes?: Readonly<Record<string, string>>;
}

function standInFor(control: SharedDecision['control'], own: Element): StandIn {
  if (!('href' in control)) return { tag: 'div', html: control.html ?? '', attributes: { role: 'status' } };
  return {
    tag: 'a',
    text: control.label ?? '',
    attributes: {
      href: control.href ?? '',
      // As the shop's own button looks.
      class: own.className,
      ...(control.newTab ? { target: '_blank', rel: 'noopener' } : {}),
    },
  };
}

const standIns = new WeakMap<Element, { element: Element; made: string }>();

function putInPlace(own: Element, part: string, standIn: StandIn | null): void {
  const hadFocus = own === document.activeElement;
  if (own.getAttribute(MARK) !== 'away') own.setAttribute(MARK, 'away');
  // A control out of sight must not answer to the Enter key in its form.
  if (own instanceof HTMLButtonElement || own instanceof HTMLInputElement) disable(own);
  const before = standIns.get(own);
  const made = JSON.stringify(standIn);
  if (before?.made === made && (standIn === null || before.element.previousSibling === own)) return;
  const stoodInFocus = before?.element === document.activeElement;
  before?.element.remove();
  const element = document.createElement(standIn?.tag ?? 'span');
  standIns.set(own, { element, made });
  if (!standIn) return;
  element.setAttribute(STAND_IN, part);
  for (const [name, value] of Object.entries(standIn.attributes ?? {})) element.setAttribute(name, value);
  if (standIn.html === undefined) element.textContent = standIn.text ?? '';
  else element.innerHTML = standIn.html;
  own.after(element);
  if ((hadFocus || stoodInFocus) && element instanceof HTMLAnchorElement) element.focus();
}

function show(own: Element): void {
  const standIn = standIns.get(own)?.element;
  const hadFocus = standIn !== undefined && standIn === document.activeElement;
  standIn?.remove();
  standIns.delete(own);
  if (disabled.delete(own) && (own instanceof HTMLButtonElement || own instanceof HTMLInputElement))
    own.disabled = false;
  if (own.getAttribute(MARK) !== 'shown') own.setAttribute(MARK, 'shown');
  if (hadFocus && own instanceof HTMLElement) own.focus();
}

/** Those that we disabled ourselves. */
const disabled = new WeakSet<Element>();

function disable(own: HTMLButtonElement | HTMLInputElement): void {
  if (own.disabled) return;
  own.disabled = true;
  disabled.add(own);
}
