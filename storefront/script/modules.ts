import type { hideAmounts } from './amounts.ts';
import type { limit } from './limits.ts';
import type { onIdle } from './idle.ts';
import type { updateStructuredData } from './structured.ts';

/** Exports of later.ts, a separate module. */
export interface Later {
  readonly hideAmounts: typeof hideAmounts;
  readonly limit: typeof limit;
  readonly onIdle: typeof onIdle;
  readonly updateStructuredData: typeof updateStructuredData;
}

/** Does something by what is loaded only where it is needed; nothing where that fails. */
export function later(origin: string, work: (module: Later) => void): void {
  (import(`${origin}/later.js`) as Promise<Later>).then(work).catch(() => false);
}
