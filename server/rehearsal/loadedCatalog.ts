import { sameName } from '#core/model/names.ts';
import type { ProductFacts } from '#core/model/subject.ts';
import { productsByRows, productStamps } from '../catalog/catalogQueries.ts';
import type { Queryable } from '../db/database.ts';
import type { Watch } from '../db/watch.ts';
import { catalogOf, type Catalog } from './analyses.ts';
import { productInterner } from './internProduct.ts';

const AT_ONCE = 1000;
/** Number of changed products above which all are read again. */
const MOST_NAMED = 5000;
const EVERYTHING = '*';

interface Held {
  /** Another one whenever anything that decisions look at has changed; null where that was not asked. */
  readonly stamp: string | null;
  readonly facts: ProductFacts;
}

/** The whole catalog as it was read. */
export interface LoadedCatalog {
  readonly catalog: Catalog;
  /** `performance.now()` when it was known to be so. */
  readonly asOf: number;
}

/** Holds the catalog and rereads only products that the database announces as changed. */
export class CatalogHolder<Loaded extends LoadedCatalog> {
  private held = new Map<string, Held>();
  private loaded: Loaded | null = null;
  private readonly changed = new Set<string>();
  private readonly intern = productInterner();

  private constructor(
    private readonly watch: Pick<Watch, 'guard' | 'caughtUp' | 'confirmedAt'>,
    private readonly made: (catalog: LoadedCatalog) => Loaded,
  ) {}

  /** @param made derived data, kept while the catalog stays the same */
  static async start<Loaded extends LoadedCatalog>(
    watch: Pick<Watch, 'listen' | 'guard' | 'caughtUp' | 'confirmedAt'>,
    made: (catalog: LoadedCatalog) => Loaded,
  ): Promise<CatalogHolder<Loaded>> {
    const holder = new CatalogHolder(watch, made);
    await watch.listen('products', {
      notified: (keys) => {
        for (const key of keys.split(',')) holder.changed.add(key);
      },
      // Changes announced while disconnected were missed.
      connected: () => {
        holder.changed.add(EVERYTHING);
        return Promise.resolve();
      },
    });
    return holder;
  }

  /** The catalog, unless it is older than this many ms; null if it must be read. */
  recent(ms: number): Loaded | null {
    return this.loaded && performance.now() - this.loaded.asOf <= ms ? this.loaded : null;
  }

  /**
   * Returns the current catalog.
   * @param bulk returns a database with everything that was committed before the call
   * @param progress receives the progress of reading, from 0 to 1
   */
  async read(bulk: () => Promise<Queryable>, progress: (part: number) => void): Promise<Loaded> {
    const asOf = performance.now();
    await this.watch.guard(() => this.watch.caughtUp());
    // A line that is lost announces nothing.
    if (this.watch.confirmedAt() === -Infinity) this.changed.add(EVERYTHING);
    const names = [...this.changed];
    this.changed.clear();
    try {
      const database = await bulk();
      const isNamed = this.loaded !== null && names.length <= MOST_NAMED && !names.includes(EVERYTHING);
      const isChanged = isNamed
        ? await this.readNamed(database, names)
        : await this.readStamped(database, progress, this.loaded === null);
      const catalog = isChanged || !this.loaded ? catalogOf(inOrder(this.held)) : this.loaded.catalog;
      this.loaded = catalog === this.loaded?.catalog ? { ...this.loaded, asOf } : this.made({ catalog, asOf });
      return this.loaded;
    } catch (error) {
      for (const name of names) this.changed.add(name);
      throw error;
    }
  }

  private async readNamed(database: Queryable, names: readonly string[]): Promise<boolean> {
    if (names.length === 0) return false;
    const rows = new Map((await productsByRows(database, names)).map((row) => [row.key, row]));
    let isChanged = false;
    for (const name of names) {
      const row = rows.get(name);
      const facts = row && this.intern(row);
      if (JSON.stringify(facts) === JSON.stringify(this.held.get(name)?.facts)) continue;
      isChanged = true;
      if (facts) this.held.set(name, { stamp: null, facts });
      else this.held.delete(name);
    }
    return isChanged;
  }

  private async readStamped(database: Queryable, progress: (part: number) => void, isFirst: boolean): Promise<boolean> {
    const stamps = await productStamps(database);
    const changed = stamps.filter(({ key, stamp }) => this.held.get(key)?.stamp !== stamp);
    if (!isFirst && changed.length === 0 && stamps.length === this.held.size) return false;
    const read = new Map<string, ProductFacts>();
    for (let from = 0; from < changed.length; from += AT_ONCE) {
      const keys = changed.slice(from, from + AT_ONCE).map(({ key }) => key);
      for (const row of await productsByRows(database, keys)) read.set(row.key, this.intern(row));
      progress((from + keys.length) / changed.length);
    }
    this.held = new Map(
      stamps.flatMap(({ key, stamp }) => {
        const facts = read.get(key) ?? this.held.get(key)?.facts;
        return facts ? [[key, { stamp, facts }] as const] : [];
      }),
    );
    return true;
  }
}

/** The same goods in the same order, however they were read: those of a seller side by side. */
function inOrder(held: ReadonlyMap<string, Held>): ProductFacts[] {
  const sellerOf = ({ seller }: ProductFacts) => (seller === null ? '' : sameName(seller));
  return [...held.values()]
    .map(({ facts }) => ({ facts, seller: sellerOf(facts) }))
    .sort((a, b) => (a.seller < b.seller ? -1 : a.seller > b.seller ? 1 : a.facts.id < b.facts.id ? -1 : 1))
    .map(({ facts }) => facts);
}
