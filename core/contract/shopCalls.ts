import { z } from 'zod';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { Locale } from '../model/localisedText.ts';
import {
  NAME_COLUMNS,
  perColumn,
  type ColumnType,
  type NameColumn,
  type ProductColumnName,
} from '../model/productColumns.ts';
import { Id } from './scalars.ts';
import { call } from './call.ts';
import { PageMap } from './pageMap.ts';

export const ShopFacts = z
  .strictObject({
    name: z.string(),
    zone: z.strictObject({
      name: z.string(),
      transitions: z.array(z.strictObject({ at: z.number(), offset: z.number() })),
    }),
    locales: z.array(Locale).min(1),
    currency: z.string(),
    exponent: z.int(),
    texts: z
      .record(z.string(), z.record(z.string(), z.string()))
      .describe('What decisions say to shoppers, by locale and key, where a rule does not'),
    signInAt: z.string().optional().describe('Where shoppers sign in, where a rule does not say'),
  })
  .meta({ id: 'ShopFacts' });

export const getShop = call({
  method: 'get',
  path: '/api/shop',
  summary: 'Returns facts of the shop as a whole, including its time zone as data',
  auth: 'read',
  replies: { 200: ShopFacts },
});

/** A value of a product's column, by its type. */
const COLUMN_SCHEMAS = { name: z.string(), wholeNumber: z.int() };
type ColumnSchemas = {
  [Column in ProductColumnName]: z.ZodNullable<(typeof COLUMN_SCHEMAS)[ColumnType<Column>]>;
};

export const Product = z
  .strictObject({
    id: z.string(),
    title: LocalisedText,
    path: z.string().nullable(),
    ...perColumn<ColumnSchemas>((_column, type) => COLUMN_SCHEMAS[type].nullable()),
    tags: z.array(z.string()),
    attributes: z.record(z.string(), z.string()),
    categories: z.array(z.string()),
    dates: z.record(z.string(), z.string()),
    waiting: z.int().describe('People on the waitlist of the product as a whole, those invited included'),
    image: z.string().nullable(),
    variants: z.array(
      z.strictObject({
        id: z.string(),
        title: z.string(),
        options: z.record(z.string(), z.string()),
        price: z.int(),
        priceBefore: z.int().nullable(),
        stock: z.strictObject({ tracked: z.boolean(), quantity: z.int(), sellPastZero: z.boolean() }),
        reserved: z.int().describe('Units pre-ordered and not yet fulfilled'),
        waiting: z.int().describe('People on the variant’s own waitlist'),
      }),
    ),
  })
  .meta({ id: 'Product' });
export type Product = z.infer<typeof Product>;

export const listProducts = call({
  method: 'get',
  path: '/api/products',
  summary: 'Lists products with their variants and facts, paged by id',
  auth: 'read',
  query: z.strictObject({
    after: z.string().max(200).optional().describe('Only products with a later id'),
    limit: z.coerce.number().int().min(1).max(500).default(200),
    id: Id.optional().describe('Only this product'),
    search: z.string().max(200).optional().describe('Part of a title or an id'),
    tag: z.string().max(200).optional().describe('Only products with this tag'),
    category: z.string().max(2000).optional().describe('Only products in this category or below it'),
    stock: z.enum(['out', 'in']).optional().describe('Only products with a variant that is out of stock, or in'),
  }),
  replies: { 200: z.strictObject({ products: z.array(Product), total: z.int(), more: z.boolean() }) },
});

const StoredData = z.strictObject({
  code: z.string(),
  from: z.iso.datetime().nullable(),
  until: z.iso.datetime().nullable(),
});

export const Person = z
  .strictObject({
    id: z.string(),
    email: z.string().nullable(),
    name: z.string().nullable(),
    phone: z.string().nullable(),
    roles: z.array(StoredData).describe('Roles, and memberships with the dates between which they are held'),
  })
  .meta({ id: 'Person' });
export type Person = z.infer<typeof Person>;

export const listPeople = call({
  method: 'get',
  path: '/api/people',
  summary: 'Lists customers with their roles, paged by id',
  auth: 'read',
  query: z.strictObject({
    after: z.string().max(200).optional().describe('Only customers with a later id'),
    limit: z.coerce.number().int().min(1).max(500).default(100),
    search: z.string().max(200).optional().describe('Part of a name, an e-mail address or an id'),
    id: Id.optional().describe('Only this customer, also by an id that was merged into theirs'),
    role: z.string().max(200).optional().describe('Only those who have, had or will have this role'),
  }),
  replies: { 200: z.strictObject({ people: z.array(Person), total: z.int(), more: z.boolean() }) },
});

const Counted = z.strictObject({ name: z.string(), count: z.int() });
/** Readable title; null if the code is used. */
const Titled = z.strictObject({ name: z.string(), count: z.int(), title: z.string().nullable() });
const Valued = z.strictObject({ name: z.string(), values: z.array(z.string()) });

const namesCounted = Object.fromEntries(NAME_COLUMNS.map((column) => [`${column}s`, z.array(Counted)])) as Record<
  `${NameColumn}s`,
  z.ZodArray<typeof Counted>
>;

export const Vocabulary = z
  .strictObject({
    tags: z.array(Counted),
    categories: z.array(z.strictObject({ id: z.string(), names: z.array(z.string()), count: z.int() })),
    roles: z.array(Titled),
    dates: z.array(Titled),
    ...namesCounted,
    attributes: z.array(Valued),
    options: z.array(Valued),
    paymentMethods: z.array(z.strictObject({ code: z.string(), name: z.string() })),
  })
  .meta({ id: 'Vocabulary' });
export type Vocabulary = z.infer<typeof Vocabulary>;

export const getVocabulary = call({
  method: 'get',
  path: '/api/vocabulary',
  summary: 'Lists the names that rules can use, with the number of products or people',
  auth: 'read',
  replies: { 200: Vocabulary },
});

export const Connection = z
  .strictObject({
    embedLine: z.string().describe('The line for the head of every page of the shop'),
    visitorSecret: z
      .string()
      .nullable()
      .describe('Signs visitors’ tokens; for the shop’s server only, and told only to who may change settings'),
    oldSecretIsValid: z.boolean().describe('Tokens signed by the secret before this one are still taken'),
    pageMap: PageMap.nullable().describe('The live one'),
  })
  .meta({ id: 'Connection' });
export type Connection = z.infer<typeof Connection>;

export const getConnection = call({
  method: 'get',
  path: '/api/connection',
  summary: 'Returns the connection’s details for the shop’s developer',
  auth: 'read',
  replies: { 200: Connection },
});
