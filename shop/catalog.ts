import { readFileSync } from 'node:fs';
import { parse } from 'csv-parse/sync';

/** A product of the shop's own catalog. */
export interface Product {
  readonly id: string;
  readonly path: string;
  readonly title: string;
  readonly kind: string;
  readonly seller: string;
  readonly picture: string;
  /** Category paths, each from the root. */
  readonly categories: readonly (readonly string[])[];
  readonly variants: readonly Variant[];
  /** The address of the shop that sells it, when this one does not. */
  readonly soldAt: string | null;
}

export interface Variant {
  readonly id: string;
  readonly title: string;
  /** Cents. */
  readonly price: number;
  readonly priceBefore: number | null;
  /** Null when the shop does not count it. */
  readonly stock: number | null;
}

type Row = Readonly<Record<string, string>>;

export class Catalog {
  readonly products: readonly Product[];
  private readonly byPath: ReadonlyMap<string, Product>;
  private readonly byVariant: ReadonlyMap<string, { product: Product; variant: Variant }>;

  constructor(csv: string) {
    const rows: Row[] = parse(csv, { columns: true, bom: true });
    const groups = new Map<string, Row[]>();
    for (const row of rows) {
      const id = row.product_id ?? '';
      groups.set(id, [...(groups.get(id) ?? []), row]);
    }
    this.products = [...groups.values()].map(productOf);
    this.byPath = new Map(this.products.map((product) => [product.path, product]));
    this.byVariant = new Map(
      this.products.flatMap((product) =>
        product.variants.map((variant) => [variant.id, { product, variant }] as const),
      ),
    );
  }

  static read(file: string): Catalog {
    return new Catalog(readFileSync(file, 'utf8'));
  }

  at(path: string): Product | undefined {
    return this.byPath.get(path);
  }

  variant(id: string): { product: Product; variant: Variant } | undefined {
    return this.byVariant.get(id);
  }

  /** Goods in a category or below it, by its slugs. */
  within(slugs: string): Product[] {
    return this.products.filter(({ categories }) =>
      categories.some((names) => `${slugsOf(names)}/`.startsWith(`${slugs}/`)),
    );
  }

  /** The categories directly below one (the root when empty), each with how many goods are in it. */
  below(slugs: string): { slugs: string; name: string; count: number }[] {
    const depth = slugs === '' ? 0 : slugs.split('/').length;
    const found = new Map<string, string>();
    for (const names of this.products.flatMap(({ categories }) => categories)) {
      const name = names[depth];
      if (name !== undefined && slugsOf(names.slice(0, depth)) === slugs)
        found.set(slugsOf(names.slice(0, depth + 1)), name);
    }
    return [...found].map(([slugs, name]) => ({ slugs, name, count: this.within(slugs).length }));
  }

  /** The names on the way to a category; null when there is none. */
  namesOf(slugs: string): readonly string[] | null {
    const depth = slugs.split('/').length;
    const names = this.products
      .flatMap(({ categories }) => categories)
      .find((names) => slugsOf(names.slice(0, depth)) === slugs);
    return names?.slice(0, depth) ?? null;
  }

  search(words: string): Product[] {
    const wanted = words.trim().toLowerCase();
    return wanted === '' ? [] : this.products.filter(({ title }) => title.toLowerCase().includes(wanted));
  }
}

export const slugsOf = (names: readonly string[]) =>
  names.map((name) => name.toLowerCase().replace(/[^a-z0-9]+/g, '-')).join('/');

function productOf(rows: readonly Row[]): Product {
  const [first] = rows;
  const text = (column: string) => first?.[column] ?? '';
  return {
    id: text('product_id'),
    path: text('path'),
    title: text('title'),
    kind: text('kind'),
    seller: text('seller'),
    picture: text('image'),
    categories: text('categories')
      .split('|')
      .map((path) => path.split('>').map((name) => name.trim())),
    variants: rows.map(variantOf),
    soldAt: /(?:^|\|)sold-at=([^|]+)/.exec(text('attributes'))?.[1] ?? null,
  };
}

function variantOf(row: Row): Variant {
  const cents = (text: string) => Math.round(Number(text) * 100);
  const before = row.price_before ?? '';
  return {
    id: row.variant_id ?? '',
    title: (row.options ?? '')
      .split('|')
      .map((pair) => pair.slice(pair.indexOf('=') + 1))
      .join(', '),
    price: cents(row.price ?? ''),
    priceBefore: before === '' ? null : cents(before),
    stock: row.stock_tracked === 'true' ? Number(row.stock_quantity) : null,
  };
}
