import { stockStatuses, type ProductFacts, type VariantFacts } from '../model/subject.ts';

/** Hears that a fact has a value; `isCertain` is false where it may yet not have it. */
export type EmitValue = (fact: string, value: string | null | undefined, isCertain?: boolean) => void;
/** Hears a fact that is a number; null where it is missing. */
export type EmitNumber = (fact: string, value: number | null) => void;

/** Facts whose values are compared as people would tell them apart. */
export const NAMED = /^(tag|brand|kind|seller|attribute .*|option .*)$/s;

/** Tells the facts of a product that atoms ask for. */
export function emitProductFacts(product: ProductFacts, has: EmitValue, number: EmitNumber): void {
  has('id', product.id);
  for (const tag of product.tags) has('tag', tag);
  for (const category of product.categories) {
    has('category', category);
    for (let end = category.length; end > 0; end = category.lastIndexOf('/', end - 1)) {
      has('within', category.slice(0, end));
    }
  }
  has('brand', product.brand);
  has('kind', product.kind);
  has('seller', product.seller);
  for (const name of Object.keys(product.attributes)) has(`attribute ${name}`, product.attributes[name]);
  let total: number | null = null;
  for (const { stock } of product.variants) if (stock.tracked) total = (total ?? 0) + stock.quantity;
  number('total', total);
}

/** Tells the facts of a variant that atoms ask for. */
export function emitVariantFacts(
  product: ProductFacts,
  variant: VariantFacts,
  has: EmitValue,
  number: EmitNumber,
): void {
  has('id', variant.id);
  for (const name of Object.keys(variant.options)) has(`option ${name}`, variant.options[name]);
  for (const status of stockStatuses(variant.stock)) has('status', status);
  number('price', variant.price);
  number('quantity', variant.stock.tracked ? variant.stock.quantity : null);
  number('reserved', variant.reserved);
  number('waiting', product.waiting + variant.waiting);
}
