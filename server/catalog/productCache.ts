import type { ProductVariant } from '#core/engine/visit.ts';
import { addressesOf } from '#core/model/names.ts';
import type { Queryable } from '../db/database.ts';
import { HeldRows, type NamedRows } from '../db/heldRows.ts';
import type { Watch } from '../db/watch.ts';
import {
  productVariants,
  productsByKeys,
  productsByVariants,
  variantsIn,
  type ProductKeys,
  type ProductRow,
} from './catalogQueries.ts';

/** Reads the facts of products. */
export interface ProductReader {
  /** Finds products by id or by any spelling of their path; leaves out unknown ones. */
  byKeys(keys: ProductKeys): Promise<ProductRow[]>;
  /** Finds the variants of a cart's lines; leaves out unknown ones. */
  byVariants(lines: readonly { readonly variantId: string }[]): Promise<Map<string, ProductVariant>>;
}

export interface CatalogServices {
  /** Held in memory. */
  readonly products: ProductReader;
  /** For pages: keeps answering for a while during an outage. */
  readonly shownProducts: ProductReader;
}

/** Reads each time from the database, as a transaction must. */
export const productReader = (db: Queryable): ProductReader => ({
  byKeys: (keys) => productsByKeys(db, keys),
  byVariants: (lines) => productVariants(db, lines),
});

/** About 2 kB each. */
const MOST = 20_000;

/** Cache keys of a product, distinguished by their first letter. */
const idName = (id: string) => `i${id}`;
const pathName = (pathKey: string) => `p${pathKey}`;
const variantName = (id: string) => `v${id}`;
const namesOf = ({ id, pathKey, variants }: ProductRow) => [
  idName(id),
  ...(pathKey === null ? [] : [pathName(pathKey)]),
  ...variants.map((variant) => variantName(variant.id)),
];

/** Holds products in memory: the same product is the same object until it changes. */
export async function heldProducts(
  db: Queryable,
  watch: Pick<Watch, 'listen' | 'confirmedAt'>,
  isKeptInOutage: () => boolean,
): Promise<CatalogServices> {
  const held = await HeldRows.start<ProductRow>(watch, { channel: 'products', most: MOST, namesOf, isKeptInOutage });
  const readerOf = (named: NamedRows<ProductRow>): ProductReader => ({
    byKeys: ({ ids, paths }) =>
      named([...ids.map(idName), ...paths.flatMap(addressesOf).map(pathName)], (names) =>
        productsByKeys(db, { ids: namedBy('i', names), paths: namedBy('p', names) }),
      ),
    async byVariants(lines) {
      const names = lines.map(({ variantId }) => variantName(variantId));
      return variantsIn(await named(names, (missing) => productsByVariants(db, namedBy('v', missing))), lines);
    },
  });
  return { products: readerOf(held.named), shownProducts: readerOf(held.namedInOutage) };
}

const namedBy = (letter: string, names: readonly string[]) =>
  names.filter((name) => name.startsWith(letter)).map((name) => name.slice(1));
