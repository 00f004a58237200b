import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { changed, redone, startHistory, undone, type History } from './history.ts';

/** Saving state of the draft. */
export type Saving =
  | { readonly state: 'saved' | 'waiting' | 'saving' }
  | { readonly state: 'failed'; readonly error: Error }
  /** Somebody else changed it: theirs, and what both began with, to bring together or to choose from. */
  | { readonly state: 'conflict'; readonly theirs: Rulebook; readonly base: Rulebook };

/** A draft on the server, with its entity tag. */
export interface Stored {
  readonly rulebook: Rulebook;
  readonly etag: string;
}

/** Side effects of the store. */
export interface Effects {
  /**
   * Writes the draft over the one with that tag, also when the page is being left.
   * @returns the new tag, or the draft that somebody else wrote meanwhile
   */
  readonly write: (rulebook: Rulebook, etag: string, isLeaving: boolean) => Promise<string | Stored>;
  /** Schedules work. @returns a function that cancels it */
  readonly later: (work: () => void, ms: number) => () => void;
  /** Keeps a draft too large for a request on leaving, to be saved on return. */
  readonly keep: (unsaved: Stored) => void;
}

/** A pause in typing after which it is saved, and how soon a save that failed is tried again. */
export const PAUSE_MS = 400;
export const AGAIN_MS = 5000;
/** Bytes that browsers still send when a page is left. */
const SENT_ON_LEAVING = 60_000;

export interface DraftState {
  readonly history: History | undefined;
  readonly saving: Saving;
}

/** Whether something is unsaved, judged by the draft itself: an undone change leaves nothing. */
function savingOf(saving: Saving, isSaved: boolean): Saving {
  if (saving.state === 'saving' || saving.state === 'conflict') return saving;
  if (isSaved) return { state: 'saved' };
  return saving.state === 'saved' ? { state: 'waiting' } : saving;
}

/** The draft in memory: the way back from each change, and its saving, one request after another. Knows no React. */
export class DraftStore {
  private state: DraftState = { history: undefined, saving: { state: 'saved' } };
  /** Version on the server. */
  private stored: Stored | undefined;
  private queue: Promise<unknown> = Promise.resolve();
  private callOff: () => void = () => undefined;
  private readonly listeners = new Set<() => void>();

  constructor(private readonly effects: Effects) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): DraftState => this.state;

  /** Replaces the local draft by a fetched one; `unsaved` is a change of it that was not saved. */
  take(stored: Stored, unsaved: Rulebook | null = null): void {
    this.stored = stored;
    const history = startHistory(stored.rulebook);
    this.set({ history: unsaved ? changed(history, unsaved, undefined) : history, saving: { state: 'saved' } });
  }

  /** Changes made under one `stroke` in a row are undone together. */
  readonly change = (next: Rulebook, stroke?: string): void => {
    this.step((history) => changed(history, next, stroke));
  };

  readonly undo = (): void => {
    this.step(undone);
  };

  readonly redo = (): void => {
    this.step(redone);
  };

  /** Resolves a conflict with the given draft. */
  readonly settle = (settled: Rulebook): void => {
    const { history } = this.state;
    if (!history) return;
    this.set({
      history: settled === history.now ? history : changed(history, settled, undefined),
      saving: { state: 'saved' },
    });
  };

  /** Saves unsaved changes. @returns the entity tag afterwards */
  readonly flush = (): Promise<string> => {
    const { history } = this.state;
    return history ? this.save(history.now) : Promise.reject(new Error('there is no draft yet'));
  };

  /** Saves as much as possible on leaving the page, and keeps the rest locally. */
  readonly leave = (): void => {
    const { history, saving } = this.state;
    const { stored } = this;
    if (!history || !stored || history.now === stored.rulebook || saving.state === 'conflict') return;
    const isLarge = new Blob([JSON.stringify(history.now)]).size > SENT_ON_LEAVING;
    if (isLarge) this.effects.keep({ rulebook: history.now, etag: stored.etag });
    else void this.save(history.now, true).catch(() => undefined);
  };

  private step(move: (history: History) => History | null): void {
    const { history } = this.state;
    const next = history && move(history);
    if (next) this.set({ ...this.state, history: next });
  }

  /** Saves changes after a pause, and retries after failures. */
  private set(state: DraftState): void {
    const { history } = state;
    const isSaved = history?.now === this.stored?.rulebook;
    const saving = savingOf(state.saving, isSaved);
    this.state = { history, saving };
    this.callOff();
    if (history && !isSaved && saving.state !== 'saving' && saving.state !== 'conflict') {
      const { now } = history;
      const pause = saving.state === 'failed' ? AGAIN_MS : PAUSE_MS;
      this.callOff = this.effects.later(() => void this.save(now).catch(() => undefined), pause);
    }
    for (const listener of this.listeners) listener();
  }

  /** Saves one after the other, never two at once; later changes are saved next. */
  private save(rulebook: Rulebook, isLeaving = false): Promise<string> {
    const put = () => this.put(rulebook, isLeaving);
    const turn = this.queue.then(put, put);
    this.queue = turn;
    return turn;
  }

  private async put(rulebook: Rulebook, isLeaving: boolean): Promise<string> {
    const { stored } = this;
    if (!stored) throw new Error('there is no draft yet');
    if (stored.rulebook === rulebook) return stored.etag;
    this.set({ ...this.state, saving: { state: 'saving' } });
    try {
      const written = await this.effects.write(rulebook, stored.etag, isLeaving);
      if (typeof written === 'string') {
        this.stored = { rulebook, etag: written };
        this.set({ ...this.state, saving: { state: 'saved' } });
        return written;
      }
      this.stored = written;
      this.set({ ...this.state, saving: { state: 'conflict', theirs: written.rulebook, base: stored.rulebook } });
    } catch (error) {
      const failure = error instanceof Error ? error : new Error(String(error));
      this.set({ ...this.state, saving: { state: 'failed', error: failure } });
      throw failure;
    }
    throw new Error('somebody else changed the draft');
  }
}
