import { z } from 'zod';
import { WebHref } from '../texts/hrefSchema.ts';
import { QUOTE_PART_STATES } from '../requests/quoteParts.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { Locale } from '../model/localisedText.ts';
import { ENQUIRY_STATES } from '../requests/enquiry.ts';
import { QUOTE_STATES } from '../requests/quote.ts';
import { call, NoBody } from './call.ts';
import { Email, Id, Price, RowId, Units } from './scalars.ts';
import { AskGuard, Delivery } from './storefront.ts';

const Words = z.string().trim().min(1).max(5000);
const Answers = z.record(z.string().max(100), z.string().max(5000));

export const FIELD_KINDS = ['text', 'longText', 'number', 'choice', 'date'] as const;

/** One thing that a form asks for. */
export const FormField = z
  .strictObject({
    name: z
      .string()
      .min(1)
      .max(100)
      .regex(/^[\w-]+$/, 'letters, digits, _ and -'),
    kind: z.enum(FIELD_KINDS),
    required: z.boolean(),
    label: LocalisedText,
    choices: z.array(z.string().min(1).max(200)).min(1).max(100).optional(),
  })
  .meta({ id: 'FormField' });
export type FormField = z.infer<typeof FormField>;

/** Fields of a form in their order, and the texts around it. */
export const Form = z
  .strictObject({
    fields: z
      .array(FormField)
      .max(50)
      .refine((fields) => new Set(fields.map(({ name }) => name)).size === fields.length, 'a name of its own for each'),
    sentText: LocalisedText.nullable().default(null).describe('Markdown, said once it is sent; ours when null'),
    emptyText: LocalisedText.nullable().default(null).describe('Markdown, said of a quote sheet with nothing on it'),
    goTo: WebHref.nullable().default(null).describe('The page to go on to once it is sent'),
  })
  .meta({ id: 'Form' });
export type Form = z.infer<typeof Form>;

const FormCode = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[\w-]+$/, 'letters, digits, _ and -');

export const getForm = call({
  method: 'get',
  path: '/v1/forms/{code}',
  summary: 'Returns the fields of a form, in the visitor’s language',
  auth: 'public',
  params: z.strictObject({ code: FormCode }),
  query: z.strictObject({ locale: Locale.optional() }),
  replies: {
    200: z.strictObject({
      fields: z.array(z.strictObject({ ...FormField.shape, label: z.string() })),
      empty: z.string().nullable().describe('For a quote sheet with nothing on it, safe HTML'),
    }),
  },
  problems: ['not-found'],
});

export const listForms = call({
  method: 'get',
  path: '/api/forms',
  summary: 'Lists the shop’s forms, with the rules that use them (not for sellers)',
  auth: 'readRequests',
  replies: {
    200: z.array(
      z.strictObject({ ...Form.shape, code: z.string(), rules: z.array(z.string()).describe('Names, in the draft') }),
    ),
  },
});

export const putForm = call({
  method: 'put',
  path: '/api/forms/{code}',
  summary: 'Replaces a form’s fields and texts',
  auth: 'publish',
  params: z.strictObject({ code: FormCode }),
  body: Form,
  replies: { 204: NoBody },
});

export const deleteForm = call({
  method: 'delete',
  path: '/api/forms/{code}',
  summary: 'Deletes a form that no rule uses',
  auth: 'publish',
  params: z.strictObject({ code: FormCode }),
  replies: { 204: NoBody },
  problems: ['form-in-use', 'not-found'],
});

const person = {
  email: Email.optional().describe('Whom to answer; not needed of a customer whose address is known'),
  name: z.string().trim().max(200).optional(),
  answers: Answers.default({}),
  visitor: AskGuard.shape.visitor,
  locale: Locale.optional(),
};
const Sent = z.strictObject({
  html: z.string().describe('What to say, safe HTML'),
  goTo: z.string().nullable().describe('The page to go on to; null to stay'),
});

export const postEnquiry = call({
  method: 'post',
  path: '/v1/enquiries',
  summary: 'Sends an enquiry about a product, with one of the owner’s forms',
  auth: 'public',
  body: z.strictObject({ ...person, path: z.string().min(1).max(2000), variantId: Id.optional() }),
  replies: { 201: Sent },
  problems: ['no-form', 'not-found', 'not-offered', 'too-many'],
});

export const postQuote = call({
  method: 'post',
  path: '/v1/quotes',
  summary: 'Requests a price for the items of a quote sheet',
  auth: 'public',
  body: z.strictObject({
    ...person,
    lines: z
      .array(z.strictObject({ variantId: Id, quantity: Units, note: z.string().trim().max(500).optional() }))
      .min(1)
      .max(200),
    key: z.string().min(8).max(100).describe('Made up by the sender; the same again is the same request'),
  }),
  replies: { 201: Sent },
  problems: ['key-in-use', 'not-offered', 'too-many'],
});

export const getQuoteCart = call({
  method: 'get',
  path: '/v1/quote',
  summary: 'Returns the lines of an accepted quote, for the shop’s cart, and its delivery cost',
  auth: 'public',
  query: z.strictObject({ quote: z.string().max(8000) }),
  replies: {
    200: z.strictObject({
      lines: z.array(z.strictObject({ variantId: z.string(), quantity: z.int(), unitPrice: z.int() })),
      delivery: Delivery,
    }),
  },
  problems: ['not-found'],
});

const ThreadMessage = z.strictObject({
  byOwner: z.boolean().describe('Whether the shop, or a seller of its, wrote it'),
  seller: z.string().nullable().describe('What the seller is called who wrote it'),
  words: z.string(),
  at: z.iso.datetime(),
});
const asker = {
  customer: z.string().nullable(),
  name: z.string().nullable(),
  email: z.string(),
  locale: z.string().nullable(),
  answers: z.array(z.strictObject({ label: z.string(), value: z.string() })),
  messages: z.array(ThreadMessage),
  createdAt: z.iso.datetime(),
  changedAt: z.iso.datetime(),
};

export const Enquiry = z
  .strictObject({
    id: z.string(),
    state: z.enum(ENQUIRY_STATES),
    product: z.string().nullable(),
    title: z.string().nullable(),
    path: z.string().nullable().describe('The product’s own page'),
    ...asker,
  })
  .meta({ id: 'Enquiry' });
export type Enquiry = z.infer<typeof Enquiry>;

const listed = {
  search: z.string().max(200).optional(),
  after: RowId.optional().describe('Only those before this one'),
  limit: z.coerce.number().int().min(1).max(200).default(60),
};

/** Number of requests about a product. */
const AskedAbout = z.strictObject({ product: z.string(), title: z.string(), count: z.int() });

export const listEnquiries = call({
  method: 'get',
  path: '/api/enquiries',
  summary: 'Lists enquiries, the newest first, with the number about each product',
  auth: 'readRequests',
  query: z.strictObject({ ...listed, state: z.enum(ENQUIRY_STATES).optional(), product: Id.optional() }),
  replies: {
    200: z.strictObject({
      enquiries: z.array(Enquiry),
      total: z.int(),
      more: z.boolean(),
      products: z.array(AskedAbout),
    }),
  },
});

export const answerEnquiry = call({
  method: 'post',
  path: '/api/enquiries/{id}/answers',
  summary: 'Answers an enquiry by e-mail',
  auth: 'requests',
  params: z.strictObject({ id: RowId }),
  body: z.strictObject({ words: Words }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const moveEnquiry = call({
  method: 'patch',
  path: '/api/enquiries/{id}',
  summary: 'Closes or reopens an enquiry',
  auth: 'requests',
  params: z.strictObject({ id: RowId }),
  body: z.strictObject({ state: z.enum(ENQUIRY_STATES) }),
  replies: { 204: NoBody },
  problems: ['not-found', 'not-answered'],
});

export const Quote = z
  .strictObject({
    id: z.string(),
    state: z.enum(QUOTE_STATES),
    lines: z.array(
      z.strictObject({
        product: z.string(),
        variant: z.string(),
        title: z.string(),
        units: z.int(),
        note: z.string().nullable(),
        unitPrice: z.int().nullable().describe('What the owner quoted, minor units'),
        today: z.int().describe('What one costs today, minor units'),
        stock: z.int().nullable(),
        seller: z.string().nullable().describe('The id of whoever prices it; null for the shop'),
      }),
    ),
    parts: z
      .array(
        z.strictObject({
          seller: z.strictObject({ id: z.string(), name: z.string() }).nullable().describe('Null for the shop'),
          state: z.enum(QUOTE_PART_STATES),
          delivery: z.int().nullable(),
          validUntil: z.iso.datetime().nullable(),
          words: z.string().describe('What goes to the customer with it, until it has gone'),
        }),
      )
      .describe('One for each who prices some of its lines; a seller sees their own'),
    isShared: z.boolean().describe('Whether several price it'),
    delivery: z.int().nullable().describe('Of all parts that are priced'),
    total: z.int().describe('At the quoted prices, else at today’s; delivery included; without what was turned down'),
    validUntil: z.iso.datetime().nullable().describe('Null until it was sent'),
    repliedAt: z.iso.datetime().nullable().describe('When the customer replied, until it is sent again or declined'),
    order: z.string().nullable(),
    ...asker,
  })
  .meta({ id: 'Quote' });
export type Quote = z.infer<typeof Quote>;

export const listQuotes = call({
  method: 'get',
  path: '/api/quotes',
  summary: 'Lists quotes, the newest first, with the number about each product',
  auth: 'readRequests',
  query: z.strictObject({ ...listed, state: z.enum(QUOTE_STATES).optional(), product: Id.optional() }),
  replies: {
    200: z.strictObject({
      quotes: z.array(Quote),
      total: z.int(),
      more: z.boolean(),
      products: z.array(AskedAbout),
    }),
  },
});

const PartOf = z
  .string()
  .max(100)
  .nullable()
  .optional()
  .describe('Whose lines: a seller’s id, or null for the shop; one’s own, or the only ones there are, when absent');

export const priceQuote = call({
  method: 'put',
  path: '/api/quotes/{id}/price',
  summary:
    'Prices a quote, or one part of it, line by line; it is sent when all of it is priced, or at once, as the shop says',
  auth: 'requests',
  params: z.strictObject({ id: RowId }),
  body: z.strictObject({
    lines: z
      .array(z.strictObject({ variant: Id, units: Units, unitPrice: Price }))
      .min(1)
      .max(200),
    delivery: Price.nullable(),
    days: z.int().min(1).max(365).describe('For so long it is good'),
    seller: PartOf,
    words: z.string().trim().max(5000).default(''),
  }),
  replies: { 204: NoBody },
  problems: ['in-another-part', 'not-found', 'quote-over'],
});

export const turnDownQuote = call({
  method: 'post',
  path: '/api/quotes/{id}/refusal',
  summary: 'Declines a quote request, or one part of it, with a message',
  auth: 'requests',
  params: z.strictObject({ id: RowId }),
  body: z.strictObject({ words: Words, seller: PartOf }),
  replies: { 204: NoBody },
  problems: ['in-another-part', 'not-found', 'quote-over'],
});
