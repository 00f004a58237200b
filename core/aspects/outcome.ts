import { z } from 'zod';
import { DEFINED, type Aspect } from './aspects.ts';

type Shape = { -readonly [A in Aspect]: z.ZodOptional<(typeof DEFINED)[A]['schema']> };

/** A rule's outcome: a value for each aspect that it decides. */
export const Outcome = z
  .strictObject(
    Object.fromEntries(Object.entries(DEFINED).map(([aspect, { schema }]) => [aspect, schema.optional()])) as Shape,
  )
  .meta({ id: 'Outcome' });

export type Outcome = z.infer<typeof Outcome>;
