import type { ProductFacts } from '../model/subject.ts';
import { asNumber, countSchema, countQuestions } from './comparisons.ts';
import { defineFact, ofProducts } from './fact.ts';
import { numberWords } from './wording.ts';

function totalOf(product: ProductFacts | null): number | null {
  let total: number | null = null;
  for (const { stock } of product?.variants ?? []) if (stock.tracked) total = (total ?? 0) + stock.quantity;
  return total;
}

/** Stock of all tracked variants of a product; missing if none is tracked. */
export const stockProductTotal = defineFact({
  name: 'stock.productTotal',
  schema: countSchema('stock.productTotal'),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  isSupply: true,
  stock: 'product',
  ...asNumber('product', 'total', ({ product }) => totalOf(product)),
  emitProduct: (product, emit) => {
    emit.number('total', totalOf(product));
  },
  phrase: (leaf) => `with ${numberWords(leaf)} left in total`,
  asked: {
    group: 'Stock',
    questions: countQuestions('with total stock', { lte: 0 }),
  },
});
