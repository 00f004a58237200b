import { z } from 'zod';
import { DEFINED, type Aspect } from './aspects.ts';

type Shape = { -readonly [A in Aspect]: z.ZodOptional<(typeof DEFINED)[A]['schema']> };

/** What a rule says of each aspect that it speaks to. */
export const Outcome = z
  .strictObject(
    Object.fromEntries(Object.entries(DEFINED).map(([aspect, { schema }]) => [aspect, schema.optional()])) as Shape,
  )
  .meta({ id: 'Outcome' });

export type Outcome = z.infer<typeof Outcome>;
