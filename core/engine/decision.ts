import { z } from 'zod';
import { ASPECTS, OF_PRODUCT, OF_VISIT, PRODUCT_ASPECTS } from '../aspects/aspects.ts';
import { SURFACES } from '../model/subject.ts';

const Instant = z.iso.datetime({ offset: true });

/** Schemas of the decided aspects. */
const decidedParts = <const Aspects extends Readonly<Record<string, { readonly decided: z.ZodType }>>>(
  aspects: Aspects,
) =>
  Object.fromEntries(Object.entries(aspects).map(([aspect, { decided }]) => [aspect, decided])) as {
    -readonly [A in keyof Aspects]: Aspects[A]['decided'];
  };

const decided = {
  ...decidedParts(OF_PRODUCT),
  availability: z.enum(['InStock', 'PreOrder', 'BackOrder', 'OutOfStock']).describe('schema.org ItemAvailability'),
  reasons: z
    .record(z.enum(PRODUCT_ASPECTS), z.array(z.string()))
    .describe('For every aspect, the ids of the rules that decided it'),
  validUntil: Instant.nullable().describe('The clock alone changes nothing before this instant'),
};

/** A decision as it travels in a compact answer, where several variants may share it. */
export const SharedDecision = z.strictObject(decided).meta({ id: 'SharedDecision' });

/** The outcome for one variant (or, on a listing, for a product), visitor, moment and surface. */
export const Decision = z
  .strictObject({
    productId: z.string(),
    variantId: z.string().nullable().describe('Null when it speaks for a product with several variants on a listing'),
    surface: z.enum(SURFACES),
    ...decided,
  })
  .meta({ id: 'Decision' });

/** The decision for the visit as a whole: cart and checkout. */
export const Visit = z
  .strictObject({
    ...decidedParts(OF_VISIT),
    reasons: z.strictObject({ cart: z.array(z.string()), checkout: z.array(z.string()) }),
  })
  .meta({ id: 'Visit' });

/** Trace of one rule: its result and the reason. */
export const TraceEntry = z
  .strictObject({
    ruleId: z.string(),
    outcome: z.enum(['counts', 'fails', 'off', 'unfinished', 'atCap', 'closed']),
    decided: z.array(z.enum(ASPECTS)),
    lost: z.array(z.enum(ASPECTS)).describe('Aspects it spoke to that a rule above had decided'),
    leaves: z.array(
      z.strictObject({
        pointer: z.string().describe('The condition’s place in the rule, RFC 6901'),
        fact: z.string(),
        op: z.string(),
        expected: z.unknown(),
        actual: z.unknown().describe('Null when the fact is missing'),
        matched: z.boolean(),
      }),
    ),
  })
  .meta({ id: 'TraceEntry' });

export type SharedDecision = z.infer<typeof SharedDecision>;
export type Decision = z.infer<typeof Decision>;
export type Visit = z.infer<typeof Visit>;
export type TraceEntry = z.infer<typeof TraceEntry>;
