/** So long what was read of one counts for those that are like it: themes may change, and windows. */
const KEPT_MS = 1000;

const kept = new Map<string, unknown>();

/** What was read counts no longer. */
export const forgetAlike = (): void => {
  kept.clear();
};

/** What is made of the first of those that are alike, for the others too: on long pages it is slow to look at each. */
export function alike<T>(key: string, make: () => T): T {
  if (kept.size === 0)
    setTimeout(() => {
      kept.clear();
    }, KEPT_MS);
  if (!kept.has(key)) kept.set(key, make());
  return kept.get(key) as T;
}

/** What an element's look hangs on, as far as it can be said without looking at it. */
export const shapeOf = (element: Element | null): string =>
  element === null
    ? ''
    : ['class', 'id', 'style', 'type', 'disabled'].reduce(
        (shape, name) => `${shape} ${element.getAttribute(name) ?? '-'}`,
        element.tagName,
      );
