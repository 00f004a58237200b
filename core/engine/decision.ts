import { z } from 'zod';
import { ASPECTS, PRODUCT_ASPECTS } from '../model/aspects.ts';
import { DecidedControl } from '../controls/controls.ts';
import { NOTE_PLACES } from '../model/notePlaces.ts';
import { SURFACES } from '../model/subject.ts';

const Html = z.string().describe('Safe HTML: Markdown rendered with raw HTML escaped');
const Instant = z.iso.datetime({ offset: true });

const decided = {
  control: DecidedControl,
  express: z.enum(['show', 'hide']),
  price: z.strictObject({
    show: z.boolean(),
    amount: z.int().nullable().describe('Minor units; null when the price is hidden'),
    was: z.int().nullable(),
    from: z.boolean().describe('On a listing: the lowest of several prices'),
    currency: z.string(),
    suffix: z.string().nullable(),
    text: Html.nullable().describe('Safe HTML that stands in the price’s place'),
  }),
  notes: z.array(z.strictObject({ place: z.enum(NOTE_PLACES), html: Html })),
  limits: z.strictObject({ min: z.int(), max: z.int().nullable(), step: z.int() }),
  visibility: z.strictObject({
    state: z.enum(['shown', 'offListings', 'blocked']),
    redirectTo: z.string().nullable(),
  }),
  afterOrder: z.strictObject({ html: Html }).nullable(),
  style: z.array(z.string()),
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

/** What holds for the visit as a whole. */
export const Visit = z
  .strictObject({
    cart: z.strictObject({ open: z.boolean(), redirectTo: z.string().nullable() }),
    checkout: z.strictObject({
      open: z.boolean(),
      redirectTo: z.string().nullable(),
      submitOrder: z.strictObject({ show: z.boolean(), text: Html.nullable() }),
      hideMethods: z.array(z.string()),
    }),
    reasons: z.strictObject({ cart: z.array(z.string()), checkout: z.array(z.string()) }),
  })
  .meta({ id: 'Visit' });

/** What became of one rule, and why. */
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
