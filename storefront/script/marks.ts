/** Says of an element of the page what we made of it: `shown` as it is, or `away`. */
export const MARK = 'data-understudy';
/** Marks what we put into the page. */
export const STAND_IN = 'data-understudy-stand-in';
/** Marks what hides all that comes after it in its parent, as long as it can still be moved. */
export const FROM = 'data-understudy-from';
/** Marks an area in which nothing is drawn yet. */
export const EMPTY = 'data-understudy-empty';

/** Has an attribute be so; null takes it away. Writing what is there already would be a change that the page can see. */
export function write(element: Element, name: string, value: string | null): void {
  if (element.getAttribute(name) === value) return;
  if (value === null) element.removeAttribute(name);
  else element.setAttribute(name, value);
}
