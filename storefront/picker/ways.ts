import { parentOf } from './deep.ts';
import type { Framed } from './frames.ts';
import { alike } from './meaning.ts';
import { foundOn, pageAt, type Part } from './parts.ts';
import type { Draft } from './reading/reading.ts';
import { proposals, type Proposal } from './selectors.ts';

/** Ways to name a pressed part, or all like it if it is one of several. */
export function waysFor(element: Element, part: Part, map: Draft): Proposal[] {
  const outside = part.within === 'page' ? null : parentOf(element);
  const area = outside && pageAt(document, location.pathname, map).areaAround(outside);
  const wanted = part.key === 'card' || part.key === 'cartLine' ? alike(element) : [element];
  return proposals(wanted, area ?? document);
}

/** Puts ways that match nothing on other pages first, since those have correct names already. */
export function leastStray(
  ways: readonly Proposal[],
  part: Part,
  map: Draft,
  frames: readonly Framed[],
): readonly Proposal[] {
  const pages = frames.flatMap(({ path, page }) => {
    const seen = page();
    return seen ? [{ path, seen }] : [];
  });
  const strays = ({ selector }: Proposal) =>
    pages.reduce((sum, { path, seen }) => sum + foundOn(seen, path, map, part, selector).length, 0);
  return ways
    .map((way) => ({ way, strays: strays(way) }))
    .sort((a, b) => a.strays - b.strays)
    .map(({ way }) => way);
}
