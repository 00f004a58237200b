import { z } from 'zod';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema } from './fact.ts';

/** Every product, said explicitly. */
export const product = defineFact({
  name: 'product',
  schema: leafSchema('product', ['every'], z.literal(true)),
  about: 'products',
  rank: 0,
  dependsOn: () => 'view',
  actual: ({ product }) => product?.id ?? null,
  operators: { every: () => timeless(() => true) },
  predicate: (_leaf, make) => make.always(),
  phrase: () => 'everything',
  asked: {
    group: 'Products',
    questions: [{ label: 'all products', op: 'every', start: true, value: 'none' }],
  },
});
