import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { ApiError, send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { isTyping } from '../shared/isTyping.ts';
import { DraftStore, type Effects, type Stored } from './draftStore.ts';
import { DraftContext } from './useDraft.ts';
import { useSeller } from '../goods/whose.ts';

const KEPT = 'understudy-unsaved';

type Path = '/api/rulebook' | '/api/seller/rulebook';

async function read(path: Path): Promise<Stored> {
  const { body, etag } = await send(`GET ${path}`);
  return { rulebook: body, etag };
}

const effectsOf = (path: Path): Effects => ({
  write: async (rulebook, etag, isLeaving) => {
    try {
      const sending = { body: rulebook, ifMatch: etag, keepalive: isLeaving };
      return (await send(`PUT ${path}`, sending)).etag;
    } catch (error) {
      if (error instanceof ApiError && error.status === 412) return read(path);
      throw error;
    }
  },
  later: (work, ms) => {
    const timer = setTimeout(work, ms);
    return () => {
      clearTimeout(timer);
    };
  },
  keep: (unsaved) => {
    try {
      localStorage.setItem(KEPT, JSON.stringify(unsaved));
    } catch {
      // The browser's storage is full.
    }
  },
});

/** The server's draft, with changes that were unsaved when the page was left. */
async function readWithUnsaved(path: Path): Promise<{ stored: Stored; unsaved: Rulebook | null }> {
  const stored = await read(path);
  const kept = localStorage.getItem(KEPT);
  localStorage.removeItem(KEPT);
  const left = kept === null ? null : (JSON.parse(kept) as Stored);
  // Older changes do not overwrite somebody else's draft.
  return { stored, unsaved: left?.etag === stored.etag ? left.rulebook : null };
}

/** Holds the draft for every screen, and listens to the keys that undo. */
export function DraftProvider({ children }: { readonly children: ReactNode }) {
  const path = useSeller() ? '/api/seller/rulebook' : '/api/rulebook';
  const [store] = useState(() => new DraftStore(effectsOf(path)));
  const { data, error, refetch } = useQuery({
    queryKey: keys.draft,
    queryFn: () => readWithUnsaved(path),
    staleTime: Infinity,
  });

  // A refetched draft (at the start, or after a restore) replaces the local one.
  useEffect(() => {
    if (data) store.take(data.stored, data.unsaved);
  }, [store, data]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || isTyping(event) || !/^[zy]$/i.test(event.key)) return;
      event.preventDefault();
      if (event.key.toLowerCase() === 'y' || event.shiftKey) store.redo();
      else store.undo();
    };
    addEventListener('keydown', onKey);
    addEventListener('pagehide', store.leave);
    return () => {
      removeEventListener('keydown', onKey);
      removeEventListener('pagehide', store.leave);
    };
  }, [store]);

  const source = useMemo(() => ({ store, error, reload: () => void refetch() }), [store, error, refetch]);
  return <DraftContext value={source}>{children}</DraftContext>;
}
