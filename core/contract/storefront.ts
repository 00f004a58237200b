import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { SURFACES } from '../model/subject.ts';
import { REFUSAL_CODES } from '../texts/defaultTexts.ts';
import { call } from './call.ts';
import { Id } from './scalars.ts';
import { SharedDecision, Visit } from '../engine/decision.ts';

const Path = z.string().min(1).max(2000);
const Surface = z.enum(SURFACES);
const Token = z.string().max(8000).describe('A visitor’s signed token (JWT, HS256); anything invalid is a guest');

const RequestedProduct = z
  .strictObject({
    id: Id.optional(),
    path: Path.optional(),
    variants: z.array(Id).max(1000).optional().describe('Only these; all when absent'),
    surface: Surface.optional().describe('Where this product is shown, when not on the request’s surface'),
  })
  .refine(({ id, path }) => (id === undefined) !== (path === undefined), 'one of id and path');

const Line = z.strictObject({
  variantId: z.string().max(200),
  quantity: z.number(),
  unitPrice: z.number().optional().describe('Minor units'),
  terms: z
    .string()
    .max(100)
    .optional()
    .describe(
      'The `terms` of the answer that the shopper has seen and agreed to; others are refused as `termsChanged`',
    ),
});

export const AskDecisions = z
  .strictObject({
    surface: Surface,
    page: Path.optional().describe('Path of the page the visitor is on'),
    locale: Locale.optional(),
    products: z.array(RequestedProduct).max(500),
    cart: z.array(Line).max(500).optional(),
    visitor: Token.nullish(),
    invitations: z.array(Token).max(50).optional(),
  })
  .meta({ id: 'AskDecisions' });
export type AskDecisions = z.infer<typeof AskDecisions>;

/** Compact: the distinct decisions once, and for each variant which one. */
export const DecisionsAnswer = z
  .strictObject({
    edition: z.int().describe('The live edition; 0 before the first'),
    at: z.iso
      .datetime({ offset: true })
      .describe('When it was made; the header Understudy-At says when it was sent, by which `validUntil` is counted'),
    locale: z.string(),
    decisions: z.array(SharedDecision),
    products: z.array(
      z.strictObject({
        id: z.string(),
        path: z.string().nullable(),
        surface: Surface,
        decision: z.int().nullable().describe('On a listing, the index of the decision for the product as a whole'),
        variants: z.array(z.strictObject({ id: z.string(), decision: z.int() })),
      }),
    ),
    unknown: z.array(z.string()).describe('Ids and paths that no product has'),
    visit: Visit,
    validUntil: z.iso.datetime({ offset: true }).nullable(),
  })
  .meta({ id: 'DecisionsAnswer' });
export type DecisionsAnswer = z.infer<typeof DecisionsAnswer>;

const severalOf = <T extends z.ZodType>(item: T) =>
  z
    .union([item, z.array(item).max(100)])
    .optional()
    .describe('May be repeated');

export const postDecisions = call({
  method: 'post',
  path: '/v1/decisions',
  summary: 'Decides for products and a visitor, now',
  auth: 'public',
  body: AskDecisions,
  replies: { 200: DecisionsAnswer },
});

export const getDecisions = call({
  method: 'get',
  path: '/v1/decisions',
  summary: 'Decides for a guest, cacheable for a few seconds',
  auth: 'public',
  query: z.strictObject({
    surface: Surface,
    path: severalOf(Path),
    id: severalOf(Id),
    page: Path.optional(),
    locale: Locale.optional(),
  }),
  replies: { 200: DecisionsAnswer },
});

const Via = z.enum(['cart', 'express']);

/** Payment method of an order. */
export const Method = z
  .string()
  .max(200)
  .optional()
  .describe('The code of the payment method; an order by one that a rule hides is refused');

export const OrderLine = z.strictObject({
  ...Line.shape,
  via: Via.optional().describe('The way the line came in, `cart` when absent: it is judged by that'),
});

export const AskGuard = z
  .strictObject({
    via: z
      .enum([...Via.options, 'order'])
      .describe('`order`: whether an order may be placed now, by what the checkout withholds too'),
    lines: z.array(OrderLine).max(500),
    method: Method,
    locale: Locale.optional(),
    visitor: Token.nullish(),
    invitations: z.array(Token).max(50).optional(),
    quote: Token.optional(),
  })
  .meta({ id: 'AskGuard' });

/** Delivery cost of an accepted quote. */
export const Delivery = z.int().nullable().describe('Minor units; null where the quote names none');

/** Why not, as a code and in words for the shopper. */
const Refusal = z.strictObject({ code: z.enum(REFUSAL_CODES), text: z.string() }).meta({ id: 'Refusal' });

export const GuardAnswer = z
  .strictObject({
    ok: z.boolean().describe('Every line passes, and the order where it was asked for'),
    edition: z.int(),
    refusal: Refusal.nullable().describe('Why the order is refused as a whole, asked by `order`: its lines may pass'),
    lines: z.array(
      z.strictObject({
        variantId: z.string(),
        quantity: z.number(),
        ok: z.boolean(),
        code: z.enum(REFUSAL_CODES).nullable(),
        text: z.string().nullable().describe('Why not, in words for the shopper'),
        unitPrice: z
          .int()
          .nullable()
          .describe('The price it may be sold at, minor units; null where the page hides it from this visitor'),
        preorder: z
          .strictObject({
            ships: z.string(),
            notes: z.array(z.string()),
            terms: z.string().describe('Names what is promised: to be sent with the order, as what was agreed to'),
          })
          .nullable()
          .describe('It is reserved, not sold: when it ships in words, and what the rules note about it, safe HTML'),
        afterOrder: z.string().nullable().describe('What to say after the order, safe HTML'),
      }),
    ),
    delivery: Delivery.describe(
      'What the quote asks for delivery, minor units: where one of its goods is a line, else null',
    ),
    cart: Visit.shape.cart,
    checkout: Visit.shape.checkout,
  })
  .meta({ id: 'GuardAnswer' });

export const postGuard = call({
  method: 'post',
  path: '/v1/guard',
  summary: 'Judges whether lines may be sold to a visitor now',
  auth: 'public',
  body: AskGuard,
  replies: { 200: GuardAnswer },
});
