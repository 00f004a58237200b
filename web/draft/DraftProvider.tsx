import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { getRulebook, putRulebook } from '#core/contract/rulebookCalls.ts';
import { changesBetween } from '#core/rulebook/changes.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { ApiError, send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useLive } from './useEditions.ts';
import { isTyping } from '../shared/isTyping.ts';
import { changed, redone, startHistory, undone, type History } from './history.ts';
import { DraftContext, type Draft, type Saving } from './useDraft.ts';

const PAUSE_MS = 400;
const AGAIN_MS = 5000;

const readDraft = () => send<typeof getRulebook>('get', '/api/rulebook');

/** What browsers still send of a page that is left, in bytes; a larger draft is kept here, and saved when one comes back. */
const SENT_ON_LEAVING = 60_000;
const KEPT = 'understudy-unsaved';

function keepUnsaved(rulebook: Rulebook, etag: string): void {
  try {
    localStorage.setItem(KEPT, JSON.stringify({ rulebook, etag }));
  } catch {
    // There is no room for it.
  }
}

/** The draft as the server has it, with what was not saved of it when the page was left. */
async function readDraftAndUnsaved() {
  const { body, etag } = await readDraft();
  const kept = localStorage.getItem(KEPT);
  localStorage.removeItem(KEPT);
  const left = kept === null ? null : (JSON.parse(kept) as { rulebook: Rulebook; etag: string });
  // Somebody else's draft is not overwritten by what is older.
  return { body, etag, unsaved: left?.etag === etag ? left.rulebook : null };
}

/** Holds the draft in memory, remembers the way back, and saves by itself. */
export function DraftProvider({ children }: { readonly children: ReactNode }) {
  const query = useQuery({ queryKey: keys.draft, queryFn: readDraftAndUnsaved, staleTime: Infinity });
  const live = useLive();
  const [history, setHistory] = useState<History>();
  const [saving, setSaving] = useState<Saving>({ state: 'saved' });
  const [saved, setSaved] = useState<Rulebook>();
  /** What the server has, and under which tag. Only for saving, so nothing is drawn from it. */
  const server = useRef<{ saved: Rulebook; etag: string }>(undefined);
  const queue = useRef<Promise<unknown>>(Promise.resolve());

  // A draft that was read anew (at the start, or after a restore) takes the place of what was here.
  const [taken, setTaken] = useState<typeof query.data>();
  if (query.data && query.data !== taken) {
    setTaken(query.data);
    const { body, unsaved } = query.data;
    setHistory(unsaved ? changed(startHistory(body), unsaved, undefined) : startHistory(body));
    setSaved(query.data.body);
    setSaving({ state: 'saved' });
  }
  useEffect(() => {
    if (query.data) server.current = { saved: query.data.body, etag: query.data.etag };
  }, [query.data]);

  const now = history?.now;
  const put = useCallback(async (rulebook: Rulebook, keepalive: boolean): Promise<string> => {
    const known = server.current;
    if (!known) throw new Error('there is no draft yet');
    if (known.saved === rulebook) return known.etag;
    setSaving({ state: 'saving' });
    try {
      const { etag } = await send<typeof putRulebook>('put', '/api/rulebook', {
        body: rulebook,
        ifMatch: known.etag,
        keepalive,
      });
      server.current = { saved: rulebook, etag };
      setSaved(rulebook);
      setSaving({ state: 'saved' });
      return etag;
    } catch (error) {
      if (error instanceof ApiError && error.status === 412) {
        const theirs = await readDraft();
        server.current = { saved: theirs.body, etag: theirs.etag };
        setSaved(theirs.body);
        setSaving({ state: 'conflict', theirs: theirs.body, base: known.saved });
      } else {
        setSaving({ state: 'failed', error: error instanceof Error ? error : new Error(String(error)) });
      }
      throw error;
    }
  }, []);
  const save = useCallback(
    (rulebook: Rulebook, keepalive = false): Promise<string> => {
      const turn = queue.current.then(
        () => put(rulebook, keepalive),
        () => put(rulebook, keepalive),
      );
      queue.current = turn;
      return turn;
    },
    [put],
  );

  // One save after another, never two at once; what was typed meanwhile is saved next.
  const isBusy = saving.state === 'saving' || saving.state === 'conflict';
  useEffect(() => {
    if (!now || isBusy || now === saved) return;
    const timer = setTimeout(
      () => void save(now).catch(() => undefined),
      saving.state === 'failed' ? AGAIN_MS : PAUSE_MS,
    );
    const onLeave = () => {
      const known = server.current;
      const isLarge = new Blob([JSON.stringify(now)]).size > SENT_ON_LEAVING;
      if (isLarge && known) keepUnsaved(now, known.etag);
      else void save(now, true).catch(() => undefined);
    };
    addEventListener('pagehide', onLeave);
    return () => {
      clearTimeout(timer);
      removeEventListener('pagehide', onLeave);
    };
  }, [now, saved, isBusy, saving.state, save]);

  const step = useCallback((move: (history: History) => History | null) => {
    setHistory((before) => before && (move(before) ?? before));
  }, []);
  const undo = useCallback(() => {
    step(undone);
  }, [step]);
  const redo = useCallback(() => {
    step(redone);
  }, [step]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || isTyping(event) || !/^[zy]$/i.test(event.key)) return;
      event.preventDefault();
      if (event.key.toLowerCase() === 'y' || event.shiftKey) redo();
      else undo();
    };
    addEventListener('keydown', onKey);
    return () => {
      removeEventListener('keydown', onKey);
    };
  }, [undo, redo]);

  const draft = useMemo<Draft>(
    () => ({
      rulebook: now,
      error: query.error,
      reload: () => void query.refetch(),
      changes: now && live.data ? changesBetween(live.data.rulebook, now) : undefined,
      saving: saving.state === 'saved' && now !== saved ? { state: 'waiting' } : saving,
      flush: () => (now ? save(now) : Promise.reject(new Error('there is no draft yet'))),
      change: (next, stroke) => {
        step((before) => changed(before, next, stroke));
      },
      undo: history && history.past.length > 0 ? undo : null,
      redo: history && history.future.length > 0 ? redo : null,
      settle: (settled) => {
        if (settled !== now) step((before) => changed(before, settled, undefined));
        setSaving({ state: 'saved' });
      },
    }),
    [now, saved, history, query, live.data, saving, save, step, undo, redo],
  );
  return <DraftContext value={draft}>{children}</DraftContext>;
}
