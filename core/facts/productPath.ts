import { defineFact, ofProducts } from './fact.ts';
import { asPath, pathSchema } from './paths.ts';
import { speech } from './wording.ts';

const WORDS = { equals: 'at', startsWith: 'at addresses that begin with', contains: 'at addresses that contain' };

/** Path of the product's page. */
export const productPath = defineFact({
  name: 'product.path',
  schema: pathSchema('product.path'),
  about: 'products',
  rank: 1,
  dependsOn: ofProducts,
  ...asPath(({ product }) => product?.path ?? null),
  phrase: ({ op, value }) => `${WORDS[op]} ${speech(value)}`,
  asked: {
    group: 'Addresses',
    questions: [
      { label: 'at the address', op: 'equals', start: null, value: 'path' },
      { label: 'at addresses that begin with', op: 'startsWith', start: null, value: 'path' },
      { label: 'at addresses that contain', op: 'contains', start: null, value: 'pathPart' },
    ],
  },
});
