import { LRUCache } from 'lru-cache';
import type { ProductVariant } from '#core/engine/visit.ts';
import { samePath } from '#core/model/names.ts';
import type { Queryable } from '../db/database.ts';
import type { Watch } from '../db/watch.ts';
import {
  goodsByVariants,
  productsByKeys,
  productsByVariants,
  variantsIn,
  type ProductKeys,
  type ProductRow,
} from './catalogQueries.ts';

/** Reads the facts of products. */
export interface ProductReader {
  /** By id or path, any spelling of it; what is not in the shop is left out. */
  byKeys(keys: ProductKeys): Promise<ProductRow[]>;
  /** Of a cart's lines, by variant; what is not in the shop is left out. */
  byVariants(lines: readonly { readonly variantId: string }[]): Promise<Map<string, ProductVariant>>;
}

export interface CatalogServices {
  /** For what shoppers are shown, held in memory. */
  readonly products: ProductReader;
}

/** Reads each time from the database, as a transaction must. */
export const productReader = (db: Queryable): ProductReader => ({
  byKeys: (keys) => productsByKeys(db, keys),
  byVariants: (lines) => goodsByVariants(db, lines),
});

/** From an id, a path in its one spelling or a variant's id to the product's key. */
type Index = Map<string, string>;

interface Lookup {
  readonly index: Index;
  readonly value: string;
}

const CHANNEL = 'products';
const EVERYTHING = '*';
/** About 2 kB each. */
const MOST = 20_000;
/** What is held is never older, in ms. */
const OLDEST_MS = 1000;

/**
 * Products held in memory, let go of when the database announces that they changed, whoever changed them. Nothing held is
 * older than a second: when the connection that hears announcements has not shown for so long that it does, all is read.
 */
export class ProductCache implements ProductReader {
  private readonly held = new LRUCache<string, ProductRow>({
    max: MOST,
    dispose: (row) => {
      this.unlink(row);
    },
  });
  private readonly byId: Index = new Map();
  private readonly byPath: Index = new Map();
  private readonly byVariant: Index = new Map();
  /** For each reading that is under way, what changed since it began. */
  private readonly changedSince = new Set<Set<string>>();

  constructor(
    private readonly db: Queryable,
    private readonly watch: Pick<Watch, 'confirmedAt'>,
  ) {}

  /** Begins to hear what changes. */
  static async start(db: Queryable, watch: Watch): Promise<ProductCache> {
    const cache = new ProductCache(db, watch);
    await watch.listen(CHANNEL, {
      notified: (keys) => {
        cache.forget(keys);
      },
      // What was announced meanwhile was missed.
      connected: () => {
        cache.forget(EVERYTHING);
        return Promise.resolve();
      },
    });
    return cache;
  }

  async byKeys({ ids, paths }: ProductKeys): Promise<ProductRow[]> {
    const lookups = [
      ...ids.map((id) => ({ index: this.byId, value: id })),
      ...paths.map((path) => ({ index: this.byPath, value: samePath(path) })),
    ];
    return this.rowsFor(lookups, (missing) => {
      const of = (index: Index) => missing.filter((one) => one.index === index).map(({ value }) => value);
      return productsByKeys(this.db, { ids: of(this.byId), paths: of(this.byPath) });
    });
  }

  async byVariants(lines: readonly { readonly variantId: string }[]): Promise<Map<string, ProductVariant>> {
    const lookups = lines.map(({ variantId }) => ({ index: this.byVariant, value: variantId }));
    const rows = await this.rowsFor(lookups, (missing) =>
      productsByVariants(
        this.db,
        missing.map(({ value }) => value),
      ),
    );
    return variantsIn(rows, lines);
  }

  private async rowsFor(
    lookups: readonly Lookup[],
    read: (missing: readonly Lookup[]) => Promise<ProductRow[]>,
  ): Promise<ProductRow[]> {
    const isFresh = performance.now() - this.watch.confirmedAt() < OLDEST_MS;
    const found = new Map<string, ProductRow>();
    const missing = lookups.filter(({ index, value }) => {
      const row = isFresh ? this.held.get(index.get(value) ?? '') : undefined;
      if (row) found.set(row.key, row);
      return !row;
    });
    if (missing.length > 0) for (const row of await this.readAndHold(() => read(missing))) found.set(row.key, row);
    return [...found.values()];
  }

  /** What changes while it is read may have been read before it changed, and is not held. */
  private async readAndHold(read: () => Promise<ProductRow[]>): Promise<ProductRow[]> {
    const changed = new Set<string>();
    this.changedSince.add(changed);
    try {
      const rows = await read();
      for (const row of rows) if (!changed.has(row.key) && !changed.has(EVERYTHING)) this.hold(row);
      return rows;
    } finally {
      this.changedSince.delete(changed);
    }
  }

  private hold(row: ProductRow): void {
    this.held.delete(row.key);
    this.held.set(row.key, row);
    this.byId.set(row.id, row.key);
    if (row.pathKey !== null) this.byPath.set(row.pathKey, row.key);
    for (const { id } of row.variants) this.byVariant.set(id, row.key);
  }

  private unlink(row: ProductRow): void {
    const links: readonly [Index, string | null][] = [
      [this.byId, row.id],
      [this.byPath, row.pathKey],
      ...row.variants.map(({ id }): [Index, string] => [this.byVariant, id]),
    ];
    for (const [index, value] of links) if (value !== null && index.get(value) === row.key) index.delete(value);
  }

  private forget(keys: string): void {
    for (const key of keys.split(',')) {
      for (const changed of this.changedSince) changed.add(key);
      if (key === EVERYTHING) this.held.clear();
      else this.held.delete(key);
    }
  }
}
