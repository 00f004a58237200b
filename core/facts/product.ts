import { z } from 'zod';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema } from './fact.ts';

/** Everything, on purpose. */
export const product = defineFact({
  name: 'product',
  schema: leafSchema('product', ['every'], z.literal(true)),
  about: 'goods',
  rank: 0,
  dependsOn: () => 'view',
  actual: ({ product }) => product?.id ?? null,
  operators: { every: () => timeless(() => true) },
  predicate: (_leaf, make) => make.always(),
  phrase: () => 'everything',
});
