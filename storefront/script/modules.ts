import type { limit } from './limits.ts';
import type { reportMisses } from './misses.ts';
import type { updateStructuredData } from './structured.ts';

/** What dialogs/ is as a module. */
export interface Dialogs {
  readonly open: (pressed: object) => boolean;
  readonly marker: (context: object) => void;
}

/** What later.ts is as a module. */
export interface Later {
  readonly limit: typeof limit;
  readonly reportMisses: typeof reportMisses;
  readonly updateStructuredData: typeof updateStructuredData;
}

/** What fitting/ is as a module. */
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

/** Does something by what is loaded only where it is needed; nothing where that fails. */
export function later(origin: string, work: (module: Later) => void): void {
  (import(`${origin}/later.js`) as Promise<Later>).then(work).catch(() => false);
}
