/** Exports of fitting/, a separate module. */
export interface Fitting {
  readonly fit: (element: HTMLElement, original: Element) => void;
  readonly showWords: (element: Element, words: string, hadWords: boolean, isOn: boolean) => void;
  readonly hideWords: (element: Element) => void;
}

/** Once it is there, what stands in looks as the shop's own does; until then, and without it, by its classes. */
export let fitting: Fitting | undefined;

/** Loads it; all goes on where that fails. */
export const loadFitting = (origin: string): Promise<unknown> =>
  (import(`${origin}/fitting.js`) as Promise<Fitting>).then(
    (module) => (fitting = module),
    () => false,
  );
