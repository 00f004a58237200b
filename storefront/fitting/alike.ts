/** Lifetime of a reading that similar controls share, in ms, since themes and window sizes change. */
const KEPT_MS = 1000;

const kept = new Map<string, unknown>();

/** Discards cached readings. */
export const forgetAlike = (): void => {
  kept.clear();
};

/** Computes a value once for similar elements: on long pages measuring each one is slow. */
export function alike<T>(key: string, make: () => T): T {
  if (kept.size === 0)
    setTimeout(() => {
      kept.clear();
    }, KEPT_MS);
  if (!kept.has(key)) kept.set(key, make());
  return kept.get(key) as T;
}

/** Key of an element's look, without measuring it. */
export const shapeOf = (element: Element | null): string =>
  element === null
    ? ''
    : ['class', 'id', 'style', 'type', 'disabled'].reduce(
        (shape, name) => `${shape} ${element.getAttribute(name) ?? '-'}`,
        element.tagName,
      );
