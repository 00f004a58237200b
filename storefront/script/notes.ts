import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import type { Area } from './areas.ts';
import { build, standInOf } from './place.ts';

/** A note; a form is filled once it is in the page. */
export type Note = SharedDecision['notes'][number] & { readonly fill?: (element: HTMLElement) => void };
type Place = Note['place'];

const noted = new WeakMap<Element, { made: string; elements: readonly Element[] }>();

/** The notes of an area, each in its place. */
export function notesOf(area: Area, pageMap: PageMap, wanted: readonly Note[]): void {
  const isCart = area.surface === 'cart' || area.surface === 'checkout';
  // A line of the cart has no places to tell notes of the same words apart.
  const once = new Map(wanted.map((note) => [note.html, note]));
  const notes = isCart ? [...once.values()].filter(({ html }) => !isShownIn(html, area.element)) : wanted;
  const before = noted.get(area.element);
  if (!before && notes.length === 0) return;
  const made = JSON.stringify(notes);
  if ((before?.made ?? '[]') === made && (before?.elements ?? []).every((note) => note.isConnected)) return;
  for (const element of before?.elements ?? []) element.remove();
  const last = new Map<Element, Element>();
  const elements = notes.map(({ place, html, fill }) => {
    const element = build({ tag: 'div', html, attributes: { 'data-place': place } }, 'note');
    const [anchor, where] = anchorOf(place, area, pageMap);
    if (where === 'after') {
      (last.get(anchor) ?? anchor).after(element);
      last.set(anchor, element);
    } else anchor[where](element);
    fill?.(element);
    return element;
  });
  noted.set(area.element, { made, elements });
}

/** Whether a cart line has this note already: the shop’s server notes reservations too. */
function isShownIn(html: string, area: Element): boolean {
  const ours = noted.get(area)?.elements ?? [];
  if (ours.some((note) => note.isConnected && note.innerHTML === html)) return false;
  return textOf(area).includes(textOf(build({ tag: 'div', html }, '')));
}

const textOf = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();

/** The part that a note stands by, or the nearest there is. */
function anchorOf(place: Place, area: Area, pageMap: PageMap): [Element, 'before' | 'after' | 'append' | 'prepend'] {
  const first = (selector: string | undefined) => area.parts(selector)[0];
  if (place === 'badge') {
    // Out of the flow, over the picture.
    const picture = first('img');
    return picture ? [picture, 'before'] : [area.element, 'prepend'];
  }
  const control = first(pageMap.control);
  const price = first(pageMap.price);
  const behind = (part: Element | undefined): Element | undefined => {
    const standIn = part && standInOf(part);
    return standIn?.isConnected ? standIn : part;
  };
  const row = control && rowOf(control, area, pageMap);
  const inRow = row === control ? behind(control) : row;
  if (place === 'aboveControl' && row) return [row, 'before'];
  const description = place === 'inDescription' && first(pageMap.description);
  if (description) return [description, 'append'];
  const form = place === 'endOfBuyArea' || place === 'inDescription' ? formOf(control, area, pageMap) : undefined;
  const stock = place === 'belowStock' ? first(pageMap.stock) : undefined;
  const anchor = form ?? stock ?? (place === 'belowPrice' ? behind(price) : inRow);
  const fallback = anchor ?? inRow ?? behind(price);
  if (fallback) return [fallback, 'after'];
  return area.link === area.element ? [area.element, 'append'] : [area.link, 'after'];
}

function formOf(control: Element | undefined, { element, parts }: Area, pageMap: PageMap): Element | undefined {
  const form = parts(pageMap.form)[0] ?? control?.closest('form') ?? undefined;
  return form?.contains(element) ? undefined : form;
}

/** The control and its neighbours, such as express pay; notes surround them all. */
function rowOf(control: Element, { element, parts }: Area, pageMap: PageMap): Element {
  const parent = control.parentElement;
  const express = parts(pageMap.express);
  return parent && parent !== element && express.some((part) => part.parentElement === parent) ? parent : control;
}
