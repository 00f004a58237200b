import { allOf, contains, parentOf } from './deep.ts';
import type { Part } from './parts.ts';
import type { Draft } from './reading/reading.ts';
import { proposals } from './selectors.ts';

const PRESSABLE = 'button, input, a, select, [role=button]';

/** The element that a press on another means: the button around an icon, the card around a picture. */
export function meant(target: Element, { key }: Part, map: Draft): Element {
  const around = (is: (element: Element) => boolean) => {
    for (let at: Element | null = target; at && !at.matches('body, html'); at = parentOf(at)) if (is(at)) return at;
    return target;
  };
  if (['control', 'express', 'together', 'order', 'cartLinks', 'checkoutLinks', 'cardLink'].includes(key))
    return around((element) => element.matches(PRESSABLE));
  if (key === 'variant' || key === 'quantity')
    return (
      around((element) => element.matches('select, input, button')).querySelector('select, input') ??
      around((element) => element.matches('select, input, button, label'))
    );
  if (key === 'card' || key === 'cartLine') return around((element) => alike(element).length > 1);
  if (key === 'methods') return around((element) => element.querySelector('input') !== null);
  if (key === 'productPage') {
    const control = map.control === undefined ? null : allOf(document, map.control)[0];
    return around((element) => allOf(element, 'h1').length > 0 && (!control || contains(element, control)));
  }
  return target;
}

const LINKS = 'a, [data-href]';

/** Finds repeated siblings of an element, itself included, that lead to products. */
export const alike = (element: Element): Element[] =>
  [...(element.parentNode?.children ?? [])].filter(
    (other) => other.localName === element.localName && (other.matches(LINKS) || allOf(other, LINKS).length > 0),
  );

/** Adds the link of a card that was picked. */
export function withLinks(map: Draft, { key }: Part, element: Element): Draft {
  if (key !== 'card' || !map.card) return map;
  const { area, link } = map.card;
  if (element.matches(link) || allOf(element, link).length > 0) return map;
  const [onlyLink] = element.matches('a[href]') ? [element] : allOf(element, 'a[href]');
  const named = onlyLink && proposals([onlyLink], element)[0]?.selector;
  return named === undefined ? map : { ...map, card: { area, link: `${link}, ${named}` } };
}
