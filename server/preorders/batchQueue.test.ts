import { describe, expect, it } from 'vitest';
import { BatchQueue } from './batchQueue.ts';

const fulfilled = (value: string) => ({ status: 'fulfilled', value }) as const;
const rejected = (message: string) => ({ status: 'rejected', reason: new Error(message) }) as const;

/** Creates a queue whose batches the test ends by hand. */
function stepwise(limits = { waiting: 100, batch: 3 }) {
  const batches: { items: readonly string[]; end: (error?: Error) => void }[] = [];
  const queue = new BatchQueue<string, string>(limits, (items) => {
    return new Promise((resolve, reject) => {
      const end = (error?: Error) => {
        if (error) reject(error);
        else resolve(items.map((item) => (item === 'bad' ? rejected(item) : fulfilled(item.toUpperCase()))));
      };
      batches.push({ items, end });
    });
  });
  return { queue, batches, started: () => batches.map(({ items }) => items.join('')) };
}
const settled = () => new Promise((resolve) => setImmediate(resolve));

describe('a batch queue', () => {
  it('works through one key in turn, in batches, and through others at once', async () => {
    const { queue, batches, started } = stepwise();
    const results = ['a', 'b', 'c', 'd', 'e'].map((item) => queue.add('fern', item));
    const other = queue.add('moss', 'x');
    expect(started()).toEqual(['a', 'x']);
    batches[0]!.end();
    await settled();
    expect(started()).toEqual(['a', 'x', 'bcd']);
    batches[2]!.end();
    await settled();
    batches[3]!.end();
    batches[1]!.end();
    expect(await Promise.all([...results, other])).toEqual(['A', 'B', 'C', 'D', 'E', 'X']);
    // Nothing is left behind: a new item starts at once.
    void queue.add('fern', 'f');
    expect(started().at(-1)).toBe('f');
  });

  it('tells each item its own failure, and all of them that of their batch', async () => {
    const { queue, batches } = stepwise();
    const first = queue.add('fern', 'a');
    const results = ['bad', 'b'].map((item) => queue.add('fern', item));
    const outcomes = Promise.allSettled([first, ...results]);
    batches[0]!.end(new Error('lost'));
    await settled();
    batches[1]!.end();
    expect(await outcomes).toEqual([rejected('lost'), rejected('bad'), fulfilled('B')]);
  });

  it('refuses what comes when too many wait, and takes more once they are in work', async () => {
    const { queue, batches } = stepwise({ waiting: 2, batch: 3 });
    const taken = ['a', 'b', 'c'].map((item) => queue.add('fern', item));
    expect(taken.every((result) => result !== null)).toBe(true);
    expect(queue.add('fern', 'd')).toBeNull();
    batches[0]!.end();
    await settled();
    expect(queue.add('fern', 'e')).not.toBeNull();
  });
});
