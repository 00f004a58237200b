import { beforeEach, describe, expect, it } from 'vitest';
import { EMPTY_RULEBOOK, type Rulebook } from '#core/rulebook/rulebook.ts';
import { AGAIN_MS, DraftStore, PAUSE_MS, type Stored } from './draftStore.ts';

/** A rulebook that is told apart by the name of its one rule. */
const book = (name: string) => ({
  ...EMPTY_RULEBOOK,
  rules: [
    {
      id: 'r',
      name,
      on: true,
      when: { fact: 'product' as const, op: 'every' as const, value: true } as const,
      then: { express: 'hide' as const },
    },
  ],
});
const FIRST = book('first');

/** Recorded effects of the store, with a server played by the test. */
let writes: { rulebook: Rulebook; etag: string; isLeaving: boolean; answer: (is: string | Stored | Error) => void }[];
let kept: Stored[];
let timer: { work: () => void; ms: number } | null;
let store: DraftStore;

beforeEach(() => {
  [writes, kept, timer] = [[], [], null];
  store = new DraftStore({
    write: (rulebook, etag, isLeaving) =>
      new Promise((resolve, reject) => {
        const answer = (is: string | Stored | Error) => {
          if (is instanceof Error) reject(is);
          else resolve(is);
        };
        writes.push({ rulebook, etag, isLeaving, answer });
      }),
    later: (work, ms) => {
      const mine = { work, ms };
      timer = mine;
      return () => {
        if (timer === mine) timer = null;
      };
    },
    keep: (unsaved) => kept.push(unsaved),
  });
  store.take({ rulebook: FIRST, etag: '1' });
});

const settled = () => new Promise((resolve) => setImmediate(resolve));
const pause = async () => {
  timer?.work();
  await settled();
};
const answer = async (is: string | Stored | Error) => {
  writes.at(-1)?.answer(is);
  await settled();
};
const nameIn = ({ rules: [first] }: Rulebook) => first && 'name' in first && first.name;
const now = () => nameIn(store.snapshot().history?.now ?? EMPTY_RULEBOOK);
const saving = () => store.snapshot().saving.state;

describe('saving', () => {
  it('waits for a pause in typing, and sends the last of it once', async () => {
    store.change(book('a'), 'name');
    store.change(book('ab'), 'name');
    expect([saving(), timer?.ms, writes.length]).toEqual(['waiting', PAUSE_MS, 0]);
    await pause();
    expect(saving()).toBe('saving');
    await answer('2');
    expect(writes.map(({ rulebook, etag }) => [nameIn(rulebook), etag])).toEqual([['ab', '1']]);
    expect([saving(), timer]).toEqual(['saved', null]);
  });

  it('goes one request after another: what is typed meanwhile is saved next, over what was saved before', async () => {
    store.change(book('a'));
    await pause();
    store.change(book('b'));
    expect(timer).toBeNull();
    await answer('2');
    expect(saving()).toBe('waiting');
    await pause();
    await answer('3');
    expect(writes.map(({ etag }) => etag)).toEqual(['1', '2']);
    expect(saving()).toBe('saved');
  });

  it('is tried again by itself when it failed, and says so until then', async () => {
    store.change(book('a'));
    await pause();
    await answer(new Error('away'));
    expect(store.snapshot().saving).toMatchObject({ state: 'failed', error: { message: 'away' } });
    expect(timer?.ms).toBe(AGAIN_MS);
    await pause();
    await answer('2');
    expect(saving()).toBe('saved');
  });

  it('is done before anything that needs what is saved, and is then known by its tag', async () => {
    store.change(book('a'));
    const tag = store.flush();
    await settled();
    await answer('2');
    expect(await tag).toBe('2');
    // Nothing is left to be saved.
    expect(await store.flush()).toBe('2');
    expect(writes).toHaveLength(1);
  });
});

describe('somebody else’s change', () => {
  const theirs = { rulebook: book('theirs'), etag: '7' };

  it('is not overwritten: it is shown with what both began with, and nothing is saved until it is settled', async () => {
    store.change(book('mine'));
    await pause();
    await answer(theirs);
    expect(store.snapshot().saving).toEqual({ state: 'conflict', theirs: theirs.rulebook, base: FIRST });
    store.change(book('mine too'));
    expect(timer).toBeNull();
    store.settle(book('both'));
    await pause();
    expect(writes.at(-1)).toMatchObject({ etag: '7', rulebook: book('both') });
  });

  it('can be taken as it is, and one’s own is a step back', async () => {
    store.change(book('mine'));
    await pause();
    await answer(theirs);
    store.settle(theirs.rulebook);
    expect([now(), saving(), timer]).toEqual(['theirs', 'saved', null]);
    store.undo();
    expect(now()).toBe('mine');
  });
});

describe('the way back', () => {
  it('takes keystrokes of one field together, and is saved like any change', async () => {
    store.change(book('a'), 'name');
    store.change(book('ab'), 'name');
    store.change(book('other'));
    store.undo();
    expect(now()).toBe('ab');
    store.undo();
    expect(now()).toBe('first');
    store.redo();
    expect(now()).toBe('ab');
    await pause();
    expect(writes[0]?.rulebook).toEqual(book('ab'));
  });
});

describe('a change that is taken back before it was saved', () => {
  it('leaves nothing to save, also where a save had failed', async () => {
    store.change(book('a'));
    store.undo();
    expect([now(), saving(), timer]).toEqual(['first', 'saved', null]);
    store.redo();
    await pause();
    await answer(new Error('away'));
    store.undo();
    expect([saving(), timer, writes.length]).toEqual(['saved', null, 1]);
  });
});

describe('leaving the page', () => {
  it('sends what is not saved with a request that outlives it', async () => {
    store.change(book('a'));
    store.leave();
    await settled();
    expect(writes[0]).toMatchObject({ isLeaving: true, etag: '1' });
  });

  it('keeps here what no such request carries, for the next time', () => {
    const large = book('x'.repeat(70_000));
    store.change(large);
    store.leave();
    expect([kept, writes]).toEqual([[{ rulebook: large, etag: '1' }], []]);
    store.take({ rulebook: FIRST, etag: '1' }, large);
    expect([now(), saving()]).toEqual([large.rules[0]?.name, 'waiting']);
  });

  it('does nothing where all is saved', () => {
    store.leave();
    expect([kept, writes]).toEqual([[], []]);
  });
});
