interface Waiting<Item, Result> {
  readonly item: Item;
  readonly resolve: (result: Result) => void;
  readonly reject: (reason: unknown) => void;
}

/** Works through items in batches: one key's in turn, different keys' at once. */
export class BatchQueue<Item, Result> {
  /** Waiting items by key; a key is present while one of its batches runs. */
  private readonly queues = new Map<string, Waiting<Item, Result>[]>();
  private waiting = 0;

  /**
   * @param limits `waiting`: items that may wait, beyond which they are refused at once rather than left to time out;
   *   `batch`: items in one batch
   * @param work returns the outcome of each item, in their order
   */
  constructor(
    private readonly limits: { readonly waiting: number; readonly batch: number },
    private readonly work: (items: readonly Item[]) => Promise<readonly PromiseSettledResult<Result>[]>,
  ) {}

  /** @returns the item's outcome; null when too many wait */
  add(key: string, item: Item): Promise<Result> | null {
    if (this.waiting >= this.limits.waiting) return null;
    this.waiting += 1;
    return new Promise((resolve, reject) => {
      const one = { item, resolve, reject };
      const queue = this.queues.get(key);
      if (queue) {
        queue.push(one);
        return;
      }
      this.queues.set(key, [one]);
      void this.drain(key);
    });
  }

  private async drain(key: string): Promise<void> {
    const queue = this.queues.get(key)!;
    while (queue.length > 0) {
      const batch = queue.splice(0, this.limits.batch);
      this.waiting -= batch.length;
      try {
        const outcomes = await this.work(batch.map(({ item }) => item));
        for (const [index, { resolve, reject }] of batch.entries()) {
          const outcome = outcomes[index]!;
          if (outcome.status === 'fulfilled') resolve(outcome.value);
          else reject(outcome.reason);
        }
      } catch (error) {
        for (const { reject } of batch) reject(error);
      }
    }
    this.queues.delete(key);
  }
}
