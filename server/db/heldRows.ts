import { LRUCache } from 'lru-cache';
import { isDatabaseAway } from './databaseErrors.ts';
import type { Watch } from './watch.ts';

/** A row as it was read, by its key in the database, which announcements name. */
export interface Keyed {
  readonly key: string;
}

export interface Holding<Row> {
  /** Channel on which the database announces changed rows, by comma-separated keys; `*` for all. */
  readonly channel: string;
  /** Maximum number of cached rows. */
  readonly most: number;
  /** Cache keys of a row, each unique to it. */
  readonly namesOf: (row: Row) => readonly string[];
  /** Whether rows that the database cannot confirm may still be shown. */
  readonly isKeptInOutage: () => boolean;
}

const EVERYTHING = '*';
/** Maximum age of a cached row, in ms. */
const OLDEST_MS = 1000;

/** Reads rows by their names: each once; a name that no row has is left out. */
export type NamedRows<Row> = (
  names: readonly string[],
  read: (names: readonly string[]) => Promise<Row[]>,
) => Promise<Row[]>;

/**
 * Cache of rows, invalidated when the database announces a change, by any server. Cached rows are at most a second old: if
 * the connection for announcements has not been confirmed for a second, rows are read anew. A row is the same object until
 * it is invalidated.
 */
export class HeldRows<Row extends Keyed> {
  private readonly held: LRUCache<string, Row>;
  private readonly keys = new Map<string, string>();
  /** Names that no row has. */
  private readonly absent: LRUCache<string, true>;
  /** For each read under way, the keys that changed since it began. */
  private readonly changedSince = new Set<Set<string>>();

  private constructor(
    private readonly watch: Pick<Watch, 'confirmedAt'>,
    private readonly holding: Holding<Row>,
  ) {
    // Use sizes instead of `max`, for which the cache allocates its full length at once.
    const limit = { maxSize: holding.most, sizeCalculation: () => 1 };
    this.absent = new LRUCache(limit);
    this.held = new LRUCache({
      ...limit,
      dispose: (row) => {
        for (const name of holding.namesOf(row)) if (this.keys.get(name) === row.key) this.keys.delete(name);
      },
    });
  }

  /** Starts to listen for changes. */
  static async start<Row extends Keyed>(
    watch: Pick<Watch, 'listen' | 'confirmedAt'>,
    holding: Holding<Row>,
  ): Promise<HeldRows<Row>> {
    const rows = new HeldRows<Row>(watch, holding);
    await watch.listen(holding.channel, {
      notified: (keys) => {
        rows.forget(keys);
      },
      // Changes announced while disconnected were missed.
      connected: () => {
        rows.forget(EVERYTHING);
        return Promise.resolve();
      },
    });
    return rows;
  }

  /** @param read reads the rows of names that are not held */
  readonly named: NamedRows<Row> = async (names, read) => {
    const isFresh = performance.now() - this.watch.confirmedAt() < OLDEST_MS;
    const found = new Map<string, Row>();
    const missing = names.filter((name) => {
      const row = isFresh ? this.held.get(this.keys.get(name) ?? '') : undefined;
      if (row) found.set(row.key, row);
      return !row && !(isFresh && this.absent.has(name));
    });
    if (missing.length > 0) for (const row of await this.readAndHold(missing, read)) found.set(row.key, row);
    return [...found.values()];
  };

  /** Like `named`, but returns the last known rows during an outage, provided all of them are held. */
  readonly namedInOutage: NamedRows<Row> = async (names, read) => {
    try {
      return await this.named(names, read);
    } catch (error) {
      if (!isDatabaseAway(error) || !this.holding.isKeptInOutage()) throw error;
      const rows = names.map((name) => this.held.get(this.keys.get(name) ?? ''));
      if (names.some((name, index) => !rows[index] && !this.absent.has(name))) throw error;
      return [...new Set(rows.filter((row) => row !== undefined))];
    }
  };

  /** Rows that change while being read may be stale, and are not cached. */
  private async readAndHold(
    names: readonly string[],
    read: (names: readonly string[]) => Promise<Row[]>,
  ): Promise<Row[]> {
    const changed = new Set<string>();
    this.changedSince.add(changed);
    try {
      const rows = await read(names);
      for (const row of rows) if (!changed.has(row.key) && !changed.has(EVERYTHING)) this.hold(row);
      if (changed.size === 0) {
        const has = new Set(rows.flatMap(this.holding.namesOf));
        for (const name of names) if (!has.has(name)) this.absent.set(name, true);
      }
      return rows;
    } finally {
      this.changedSince.delete(changed);
    }
  }

  private hold(row: Row): void {
    this.held.delete(row.key);
    this.held.set(row.key, row);
    for (const name of this.holding.namesOf(row)) this.keys.set(name, row.key);
  }

  /** Lets go of all. */
  clear(): void {
    this.forget(EVERYTHING);
  }

  private forget(keys: string): void {
    // Any row may have got any name.
    this.absent.clear();
    for (const key of keys.split(',')) {
      for (const changed of this.changedSince) changed.add(key);
      if (key === EVERYTHING) this.held.clear();
      else this.held.delete(key);
    }
  }
}
