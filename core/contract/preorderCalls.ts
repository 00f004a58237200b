import { z } from 'zod';
import { MOST_UNITS } from '../model/units.ts';
import { Locale } from '../model/localisedText.ts';
import { PREORDER_STATES } from '../requests/preorder.ts';
import { call } from './call.ts';
import { Day, Email, Id, PagedByPosition, RowId } from './scalars.ts';
import { AskGuard, GuardAnswer } from './storefront.ts';

const AnsweredLine = GuardAnswer.shape.lines.element;

/** Takes an order of the shop. */
export const postPreorders = call({
  method: 'post',
  path: '/v1/preorders',
  summary:
    'Takes an order: asks the guard once more, by `order`, and in the same moment reserves what is pre-ordered and uses up invitations. All of it or nothing; the same order sent again is answered as before, and the same number with something else is a conflict',
  auth: 'shop',
  body: z.strictObject({
    order: z
      .string()
      .min(1)
      .max(100)
      .describe('The shop’s own number of the order; it makes sending it again harmless'),
    lines: AskGuard.shape.lines.min(1),
    method: AskGuard.shape.method,
    email: Email.optional(),
    name: z.string().trim().max(200).optional(),
    locale: Locale.optional(),
    visitor: AskGuard.shape.visitor,
    invitations: AskGuard.shape.invitations,
    quote: AskGuard.shape.quote,
  }),
  replies: {
    200: z.strictObject({
      ok: z.boolean().describe('The order may be taken'),
      refusal: GuardAnswer.shape.refusal,
      delivery: GuardAnswer.shape.delivery,
      lines: z.array(z.strictObject({ ...AnsweredLine.shape, reserved: z.int().describe('Units that are reserved') })),
    }),
  },
  problems: ['busy', 'key-in-use'],
});

const ShipDates = z.strictObject({ from: z.iso.date().nullable(), until: z.iso.date().nullable() });

export const PreorderGoods = z
  .strictObject({
    product: z.string(),
    variant: z.string(),
    title: z.string(),
    reserved: z.int().describe('Units that wait for stock'),
    allocated: z.int().describe('Units set aside and not sent'),
    people: z.int().describe('Reservations that wait'),
    cap: z.int().nullable().describe('Of the rule that stands now; null without one'),
    stock: z.int().nullable(),
    free: z.int().describe('Units in stock that can be set aside'),
    ships: ShipDates,
    promise: z
      .strictObject({
        rule: z.string().nullable().describe('The rule that names the dates; null for the product’s own date'),
        ...ShipDates.shape,
      })
      .nullable()
      .describe('What new customers are promised; null while it cannot be pre-ordered'),
  })
  .meta({ id: 'PreorderGoods' });
export type PreorderGoods = z.infer<typeof PreorderGoods>;

export const listPreorderGoods = call({
  method: 'get',
  path: '/api/preorders/goods',
  summary: 'Lists pre-ordered variants, the soonest to ship first',
  auth: 'readRequests',
  query: z.strictObject({
    search: z.string().max(200).optional().describe('Words in the title of the product or variant'),
    product: Id.optional(),
    variant: Id.optional(),
    ...PagedByPosition,
  }),
  replies: {
    200: z.strictObject({
      goods: z.array(PreorderGoods),
      total: z.int().describe('Variants found'),
      reserved: z.int().describe('Units reserved of all variants found'),
      more: z.boolean(),
    }),
  },
});

export const Preorder = z
  .strictObject({
    id: z.string(),
    order: z.string().nullable(),
    customer: z.string().nullable(),
    name: z.string().nullable(),
    email: z.string().nullable(),
    units: z.int(),
    unitPrice: z.int().nullable(),
    state: z.enum(PREORDER_STATES),
    ships: ShipDates,
    createdAt: z.iso.datetime(),
    changedAt: z.iso.datetime(),
  })
  .meta({ id: 'Preorder' });
export type Preorder = z.infer<typeof Preorder>;

const filters = {
  variant: Id,
  state: z.enum(PREORDER_STATES).optional(),
  search: z.string().max(200).optional(),
};

export const listPreorders = call({
  method: 'get',
  path: '/api/preorders',
  summary: 'Lists the reservations of a variant, the oldest first',
  auth: 'readRequests',
  query: z.strictObject({
    ...filters,
    after: RowId.optional(),
    limit: z.coerce.number().int().min(1).max(500).default(100),
  }),
  replies: { 200: z.strictObject({ preorders: z.array(Preorder), total: z.int(), more: z.boolean() }) },
  problems: ['not-found'],
});

export const exportPreorders = call({
  method: 'get',
  path: '/api/preorders.csv',
  summary: 'Exports the reservations as CSV',
  auth: 'readRequests',
  query: z.strictObject(filters),
  produces: 'text/csv',
  replies: { 200: z.string() },
  problems: ['not-found'],
});

export const allocatePreorders = call({
  method: 'post',
  path: '/api/preorders/allocation',
  summary: 'Allocates stock to reservations, first come, first served, or previews that',
  auth: 'requests',
  body: z.strictObject({
    variant: Id,
    units: z.int().min(0).max(MOST_UNITS),
    first: z.array(z.string()).max(1000).default([]).describe('Before all others, by hand'),
    preview: z.boolean().default(false),
  }),
  replies: { 200: z.strictObject({ served: z.array(z.string()), left: z.int() }) },
  problems: ['not-found'],
});

export const movePreorders = call({
  method: 'post',
  path: '/api/preorders/states',
  summary: 'Marks reservations as sent, cancelled or reserved',
  auth: 'requests',
  body: z.strictObject({
    preorders: z
      .array(z.string().regex(/^\d{1,15}$/, 'the id of a pre-order'))
      .min(1)
      .max(1000),
    to: z.enum(PREORDER_STATES),
    notify: z.boolean().default(true),
  }),
  replies: { 200: z.strictObject({ moved: z.int() }) },
});

export const putShipDate = call({
  method: 'put',
  path: '/api/preorders/dates',
  summary: 'Moves the ship date of a variant’s open reservations, and notifies the customers',
  auth: 'requests',
  body: z.strictObject({
    variant: Id,
    from: Day.nullable(),
    until: Day.nullable(),
    words: z.string().max(2000).default(''),
  }),
  replies: { 200: z.strictObject({ notified: z.int() }) },
  problems: ['not-found'],
});
