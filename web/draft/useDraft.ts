import { createContext, useContext } from 'react';
import type { Change } from '#core/rulebook/changes.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';

/** How the draft stands with the server. */
export type Saving =
  | { readonly state: 'saved' | 'waiting' | 'saving' }
  | { readonly state: 'failed'; readonly error: Error }
  /** Somebody else changed it: theirs, and what both began with, to bring together or to choose from. */
  | { readonly state: 'conflict'; readonly theirs: Rulebook; readonly base: Rulebook };

/** The rules being worked on, shared by every screen. */
export interface Draft {
  /** Undefined until it is there. */
  readonly rulebook: Rulebook | undefined;
  readonly error: Error | null;
  readonly reload: () => void;
  /** What it changes against what is live; undefined until both are there. */
  readonly changes: readonly Change[] | undefined;
  readonly saving: Saving;
  /** Saves what is not saved yet. @returns the entity tag of what is saved then */
  readonly flush: () => Promise<string>;
  /** Changes made under one `stroke` in a row are undone together. */
  readonly change: (next: Rulebook, stroke?: string) => void;
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
  /** Ends a conflict with what is to be the draft now: theirs, mine, or both brought together. */
  readonly settle: (settled: Rulebook) => void;
}

export const DraftContext = createContext<Draft | null>(null);

export function useDraft(): Draft {
  const draft = useContext(DraftContext);
  if (!draft) throw new Error('the draft is only there inside the frame');
  return draft;
}
