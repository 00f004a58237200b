import { createContext, useContext, useMemo, useSyncExternalStore } from 'react';
import { changesBetween, type Change } from '#core/rulebook/changes.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import type { DraftState, DraftStore, Saving } from './draftStore.ts';
import { useMayDraft } from '../session/useMay.ts';
import { useLive } from '../live/useEditions.ts';

export interface DraftSource {
  readonly store: DraftStore;
  readonly error: Error | null;
  readonly reload: () => void;
}
export const DraftContext = createContext<DraftSource | null>(null);

function useSource(): DraftSource {
  const source = useContext(DraftContext);
  if (!source) throw new Error('the draft is only there inside the frame');
  return source;
}

/** The rules being worked on, shared by every screen. */
export interface Draft {
  /** Undefined until it is there. */
  readonly rulebook: Rulebook | undefined;
  readonly error: Error | null;
  readonly reload: () => void;
  readonly saving: Saving;
  /** Saves unsaved changes. @returns the entity tag afterwards */
  readonly flush: () => Promise<string>;
  /** Changes made under one `stroke` in a row are undone together. */
  readonly change: (next: Rulebook, stroke?: string) => void;
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
  /** Resolves a conflict with their draft, mine, or both merged. */
  readonly settle: (settled: Rulebook) => void;
}

/** A part of the draft; only its changes cause a render. `part` must return an existing object. */
export function useDraftPart<T>(part: (state: DraftState) => T): T {
  const { store } = useSource();
  return useSyncExternalStore(store.subscribe, () => part(store.snapshot()));
}

/** Ignores changes by users without permission. */
const unchanged = () => undefined;

export function useDraft(): Draft {
  const { store, error, reload } = useSource();
  const mayChange = useMayDraft();
  const { history, saving } = useSyncExternalStore(store.subscribe, store.snapshot);
  return useMemo(
    () => ({
      rulebook: history?.now,
      error,
      reload,
      saving,
      flush: store.flush,
      change: mayChange ? store.change : unchanged,
      undo: history && history.past.length > 0 ? store.undo : null,
      redo: history && history.future.length > 0 ? store.redo : null,
      settle: store.settle,
    }),
    [store, mayChange, history, saving, error, reload],
  );
}

/** Changes of the draft against the live edition; undefined until both are loaded. */
export function useChanges(): readonly Change[] | undefined {
  const now = useDraftPart(({ history }) => history?.now);
  const live = useLive().data?.rulebook;
  return useMemo(() => (now && live ? changesBetween(live, now) : undefined), [now, live]);
}
