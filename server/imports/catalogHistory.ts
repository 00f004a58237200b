import type { Queryable } from '../db/database.ts';
import {
  archiveLeftOut,
  archiveMade,
  bumpRevisions,
  leftOut,
  pathOwners,
  productStates,
  upsertProducts,
  upsertVariants,
  variantStates,
  type ProductState,
  type VariantState,
} from './catalogImportQueries.ts';
import { lockImports, rememberBefore, takeChanges, type Change, type ImportTarget } from './importTarget.ts';

/** Rows archived or restored in one transaction. */
const AT_ONCE = 500;

/** Archives some of the variants that an import does not list. */
export const archiveOthers: ImportTarget['archiveOthers'] = async (client, { importId, order }, at) => {
  await lockImports(client);
  const listing = { importId, order, limit: AT_ONCE };
  const others = await leftOut(client, listing);
  const products = await productStates(client, [...new Set(others.map(({ product }) => product))]);
  const variants = await variantStates(
    client,
    others.map(({ variant }) => variant),
  );
  await rememberStates(client, importId, { products, variants });
  return archiveLeftOut(client, listing, at);
};

/** Reverts a batch of an import: created rows first, then variants, then products. */
export const undo: ImportTarget['undo'] = async (client, { undoes, itsOrder, order }, at) => {
  await lockImports(client);
  const made = await archiveMade(client, { importId: undoes, by: itsOrder, order, at, limit: AT_ONCE });
  if (made > 0) return made;
  const variants = (await takeChanges(client, undoes, 'variant', AT_ONCE)) as Change<VariantState>[];
  if (variants.length > 0) {
    const now = await variantStates(
      client,
      variants.map(({ key }) => key),
    );
    const back = now.flatMap((variant) => {
      const before = variants.find(({ key }) => key === variant.variantId)?.before;
      return before ? [{ ...variantBack(before, variant, itsOrder), written: order, stockWritten: order }] : [];
    });
    await upsertVariants(client, back);
    await bumpRevisions(client, [...new Set(back.map(({ productId }) => productId))]);
    return variants.length;
  }
  const products = (await takeChanges(client, undoes, 'product', AT_ONCE)) as Change<ProductState>[];
  const now = await productStates(client, products.map(({ key }) => key).sort());
  const owners = await pathOwners(
    client,
    products.flatMap(({ before }) => before.pathKey ?? []),
  );
  const back = now.flatMap((product) => {
    const before = products.find(({ key }) => key === product.productId)?.before;
    if (!before || product.written !== itsOrder) return [];
    const owner = before.pathKey === null ? undefined : owners.get(before.pathKey);
    const isTaken = owner !== undefined && owner !== product.productId;
    return [{ ...before, ...(isTaken ? { path: product.path, pathKey: product.pathKey } : {}), written: order }];
  });
  await upsertProducts(client, back);
  return products.length;
};

/** A variant before the import, apart from newer changes. */
const variantBack = (before: VariantState, now: VariantState, itsOrder: number): VariantState => {
  const { stockTracked, stockQuantity, sellPastZero } = now.stockWritten > itsOrder ? now : before;
  return { ...(now.written > itsOrder ? now : before), stockTracked, stockQuantity, sellPastZero };
};

/** Keeps products and variants as they were before an import. */
export async function rememberStates(
  client: Queryable,
  importId: string,
  states: { readonly products: readonly ProductState[]; readonly variants: readonly VariantState[] },
): Promise<void> {
  const kept = <State extends object>(key: string, before: State) => ({ key, before });
  await rememberBefore(
    client,
    importId,
    'product',
    states.products.map((product) => kept(product.productId, product)),
  );
  await rememberBefore(
    client,
    importId,
    'variant',
    states.variants.map((variant) => kept(variant.variantId, variant)),
  );
}
