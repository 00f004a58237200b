/** Exports of fitting/, a separate module. */
export interface Fitting {
  readonly fit: (element: HTMLElement, original: Element) => void;
  readonly showWords: (element: Element, words: string, hadWords: boolean, isOn: boolean) => void;
  readonly hideWords: (element: Element) => void;
}

/** Loads the module that fits stand-ins to the shop's look; until then they have its classes alone. */
export let fitting: Fitting | undefined;

/** Loads it; all goes on where that fails. */
export const loadFitting = (origin: string): Promise<unknown> =>
  (import(`${origin}/fitting.js`) as Promise<Fitting>).then(
    (module) => (fitting = module),
    () => false,
  );
