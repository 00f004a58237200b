import { contains, hostOf, parentOf } from '../deep.ts';
import type { Cards } from './cards.ts';
import type { PageView } from './pageView.ts';

const letters = (text: string) =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/** Finds the element that names the page's product. */
export function titleOf(
  view: PageView,
  titles: readonly string[],
  isInCard: (element: Element) => boolean,
): Element | undefined {
  const known = titles.map(letters).filter((title) => title !== '');
  const candidates = view.elements.filter(
    (element) =>
      element.matches('h1, h2, [role=heading], [itemprop=name], [class*=title], [class*=name]') &&
      !isInCard(element) &&
      element.closest('nav, footer') === null,
  );
  const lettersOf = (element: Element) => letters(view.text(element));
  return (
    candidates.find(
      (element) => known.some((title) => lettersOf(element).includes(title)) && lettersOf(element).length < 120,
    ) ?? candidates.find((element) => element.matches('h1, [aria-level="1"]'))
  );
}

/** The smallest element around all of them, with the title too as long as that is not the whole page. */
export function areaAround(
  parts: readonly Element[],
  title: Element | undefined,
  cards: Cards | undefined,
  view: PageView,
): Element {
  const around = (elements: readonly Element[]) => {
    for (let at: Element | null = elements[0] ?? null; at; at = parentOf(at)) {
      const outer = at;
      if (elements.every((element) => outer !== element && contains(outer, element))) return lightOf(outer);
    }
    return view.page.body;
  };
  const isTooMuch = (element: Element) =>
    element.matches('body, html') || (cards?.elements.some((card) => contains(card, element)) ?? false);
  const withTitle = title ? around([...parts, title]) : undefined;
  if (withTitle && !isTooMuch(withTitle)) return withTitle;
  const withoutTitle = around(parts);
  if (!isTooMuch(withoutTitle)) return withoutTitle;
  // If the parts have no common container, the page is the area; parts of cards remain theirs.
  return parts.length > 1 ? view.page.body : around(parts);
}

/** The host of an element's shadow root, or the element. */
function lightOf(element: Element): Element {
  let light = element;
  for (let host = hostOf(light); host; host = hostOf(light)) light = host;
  return light;
}
