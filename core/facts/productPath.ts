import { defineFact, ofGoods } from './fact.ts';
import { asPath, pathSchema } from './paths.ts';
import { speech } from './wording.ts';

const WORDS = { equals: 'at', startsWith: 'at addresses that begin with', contains: 'at addresses that contain' };

/** The address of the product's page. */
export const productPath = defineFact({
  name: 'product.path',
  schema: pathSchema('product.path'),
  about: 'goods',
  rank: 1,
  dependsOn: ofGoods,
  ...asPath(({ product }) => product?.path ?? null),
  phrase: ({ op, value }) => `${WORDS[op]} ${speech(value)}`,
});
