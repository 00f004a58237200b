import type { reportMisses } from './misses.ts';
import type { updateStructuredData } from './structured.ts';

/** What dialogs/ is as a module. */
export interface Dialogs {
  readonly open: (pressed: object) => boolean;
  readonly marker: (context: object) => void;
}

/** What later.ts is as a module. */
export interface Later {
  readonly reportMisses: typeof reportMisses;
  readonly updateStructuredData: typeof updateStructuredData;
}
