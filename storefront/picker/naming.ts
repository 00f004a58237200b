import { allOf, contains, parentOf, wordsOf } from './deep.ts';
import { proposals } from './selectors.ts';

/** The likeliest selector that finds just these. */
export function best(wanted: readonly Element[], tree: Document | Element): string | undefined {
  const found = proposals(wanted, tree);
  return (found.find(({ found }) => found === wanted.length) ?? found[0])?.selector;
}

/** One selector that finds one thing in each area. */
export function bestInEach(wanted: readonly Element[], areas: readonly Element[]): string | undefined {
  const [first] = wanted;
  const area = first && areas.find((candidate) => contains(candidate, first));
  if (!first || !area) return undefined;
  const candidates = proposals([first], area);
  const hits = (selector: string) =>
    areas.filter((candidate) => wanted.some((element) => contains(candidate, element) && element.matches(selector)))
      .length;
  return candidates.map(({ selector }) => ({ selector, hits: hits(selector) })).sort((a, b) => b.hits - a.hits)[0]
    ?.selector;
}

/** A list of selectors that finds the chosen element in every area. */
export function together(
  first: readonly Element[],
  wanted: readonly Element[],
  areas: readonly Element[],
): string | undefined {
  const left = new Set([...first, ...wanted]);
  const selectors: string[] = [];
  while (left.size > 0 && selectors.length < 4) {
    const [element] = left;
    const area = element && areas.findLast((candidate) => contains(candidate, element));
    if (!element || !area) break;
    // Picks the selector that covers most remaining elements and no unwanted one.
    const [next] = [element, ...saidBy(element, area)]
      .flatMap((one) => proposals([one], area))
      .map(({ selector, found }, rank) => {
        const all = foundIn(areas, selector);
        const right = [...left].filter((candidate) => all.some((other) => hasSameText(other, candidate))).length;
        const isWanted = (candidate: Element) => [...first, ...wanted].some((other) => hasSameText(other, candidate));
        // Skips matches inside other matches.
        const isNested = (candidate: Element) => all.some((other) => other !== candidate && contains(candidate, other));
        const wrong = new Set(all.filter((candidate) => !isWanted(candidate) || isNested(candidate))).size;
        return { selector, score: right * 2 - wrong * 10 - rank * 0.5 - found };
      })
      .sort((a, b) => b.score - a.score);
    if (!next) break;
    selectors.push(next.selector);
    const reached = foundIn(areas, next.selector);
    for (const candidate of [...left])
      if (reached.some((other) => hasSameText(other, candidate))) left.delete(candidate);
    left.delete(element);
  }
  return selectors.length > 0 ? selectors.join(', ') : undefined;
}

/** Finds ancestors within the area that have the same text: other names of the same element. */
function saidBy(element: Element, area: Element): Element[] {
  const around = parentOf(element);
  return around && around !== area && contains(area, around) && hasSameText(around, element)
    ? [around, ...saidBy(around, area)]
    : [];
}

/** All that a selector finds in areas, and these themselves where it names them. */
const foundIn = ([area, ...others]: readonly Element[], selector: string): Element[] =>
  area
    ? allOf(area.ownerDocument, selector).filter((element) => [area, ...others].some((one) => contains(one, element)))
    : [];

/** The same thing, or one around the other that says no more. */
const hasSameText = (a: Element, b: Element) =>
  a === b || ((contains(a, b) || contains(b, a)) && wordsOf(a) !== '' && wordsOf(a) === wordsOf(b));
