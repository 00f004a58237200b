import { allOf, contains } from '../deep.ts';
import { leadsTo } from './paths.ts';
import type { Draft } from './reading.ts';

/** Parts that stand in areas: one page may name them otherwise than another. */
const IN_AREAS = [
  'control',
  'express',
  'price',
  'besidePrice',
  'variant',
  'quantity',
  'stock',
  'title',
  'description',
] as const;

/**
 * Joins the draft with the findings of another page: choices stay, and selectors that match nothing here are extended.
 */
export function joined(before: Draft, found: Draft, page: Document): Draft {
  const map: Draft = { ...found, ...before };
  const areasIn = (draft: Draft) =>
    [draft.productPage?.area, draft.card?.area, draft.quickView?.area].flatMap((area) =>
      area === undefined ? [] : allOf(page, area),
    );
  // The first page's findings do not apply to areas that only this page has.
  const areas = areasIn(found);
  const inside = (selector: string) =>
    allOf(page, selector).filter((element) => areas.some((area) => contains(area, element)));
  const beside = (
    was: string | undefined,
    now: string | undefined,
    all: (selector: string) => Element[],
    isSame = (one: Element, other: Element) => one === other,
  ) => {
    if (was === undefined || now === undefined) return was ?? now;
    const known = all(was);
    const isMissed = all(now).some((element) => !known.some((one) => isSame(one, element)));
    return isMissed && !was.split(', ').includes(now) ? `${was}, ${now}` : was;
  };
  const anywhere = (selector: string) => allOf(page, selector);
  // A product's area may be an ancestor or a descendant of the one known.
  const isWithin = (one: Element, other: Element) => contains(one, other) || contains(other, one);
  for (const key of ['card', 'quickView', 'cartLine'] as const) {
    const [was, now] = [before[key], found[key]];
    if (!was || !now) continue;
    // Links of a line of the cart are asked of the whole page: no product is bought there.
    const links = key === 'cartLine' ? anywhere : inside;
    map[key] = {
      area: beside(was.area, now.area, anywhere, isWithin) ?? '',
      link: beside(was.link, now.link, links) ?? '',
    };
  }
  if (before.cart || found.cart) map.cart = { ...found.cart, ...before.cart };
  if (before.checkout || found.checkout) map.checkout = { ...found.checkout, ...before.checkout };
  if (before.productPage && found.productPage)
    map.productPage = {
      ...before.productPage,
      area: beside(before.productPage.area, found.productPage.area, anywhere) ?? '',
    };
  for (const key of IN_AREAS) {
    const selector = beside(before[key], found[key], inside);
    if (selector !== undefined) map[key] = selector;
  }
  if (map.control !== undefined && map.card)
    map.control = withoutLinks(map.control, map.card, inside(map.control), page);
  const hosts = [...new Set([before.shadowHosts, found.shadowHosts].flatMap((list) => list?.split(', ') ?? []))];
  if (hosts.length > 0) map.shadowHosts = hosts.join(', ');
  return map;
}

/** Excludes links to products ("choose a size") that look like controls. */
function withoutLinks(
  control: string,
  card: { area: string; link: string },
  found: readonly Element[],
  page: Document,
) {
  const cards = allOf(page, card.area);
  const isToProduct = (element: Element) => {
    const around = cards.find((one) => contains(one, element));
    const [link] = around ? allOf(around, card.link) : [];
    const own = link ? leadsTo(link)?.href : undefined;
    return own !== undefined && leadsTo(element)?.href === own;
  };
  const links = found.filter((element) => element.matches('a'));
  return links.length > 0 && links.every(isToProduct) && !control.includes('(')
    ? control
        .split(', ')
        .map((one) => `${one}:not(a)`)
        .join(', ')
    : control;
}
