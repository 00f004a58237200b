import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { MOST_NUMBER, perColumn, type ColumnType, type ProductColumnName } from '../model/productColumns.ts';
import { call } from './call.ts';
import { Id, MOST_INT } from './scalars.ts';
import { Product } from './shopCalls.ts';

/** Range of a stock level in the database. */
const Quantity = z.int().min(-MOST_INT).max(MOST_INT);

export const getGoods = call({
  method: 'get',
  path: '/v1/goods',
  summary: 'Lists the variants of a product, for a shopper to choose from',
  auth: 'public',
  query: z.strictObject({ path: z.string().min(1).max(2000), locale: Locale.optional() }),
  replies: {
    200: z.strictObject({
      title: z.string(),
      variants: z.array(z.strictObject({ id: z.string(), title: z.string() })),
    }),
  },
  problems: ['not-found'],
});

export const putStock = call({
  method: 'put',
  path: '/api/stock',
  summary: 'Changes the stock of many variants; others stay',
  auth: 'catalog',
  bodyLimit: 4_000_000,
  body: z
    .array(
      z.strictObject({
        variantId: Id,
        quantity: Quantity.optional(),
        tracked: z.boolean().optional(),
        sellPastZero: z.boolean().optional(),
      }),
    )
    .min(1)
    .max(10_000)
    .describe('Of a variant that comes more than once, the last counts'),
  replies: {
    200: z.strictObject({
      changed: z.int().describe('Variants that are otherwise now'),
      unknown: z.array(z.string()).describe('Variants that are not in the shop'),
    }),
  },
});

const Words = z.string().max(2000);
const COLUMN_SCHEMAS = { name: Words, wholeNumber: z.int().min(0).max(MOST_NUMBER) };
type ColumnSchemas = {
  [Column in ProductColumnName]: z.ZodOptional<z.ZodNullable<(typeof COLUMN_SCHEMAS)[ColumnType<Column>]>>;
};
const Facts = z.strictObject({
  title: Words.min(1).optional(),
  path: Words.nullable().optional(),
  ...perColumn<ColumnSchemas>((_column, type) => COLUMN_SCHEMAS[type].nullable().optional()),
  tags: z.array(Words).max(500).optional(),
  categories: z.array(Words).max(100).optional().describe('Each a path such as Plants > Bulbs > Tulips'),
  attributes: z.record(z.string(), z.string()).optional(),
  dates: z.record(z.string(), z.string()).optional().describe('ISO 8601, local to the shop'),
  image: Words.nullable().optional(),
});

export const patchProduct = call({
  method: 'patch',
  path: '/api/products/{id}',
  summary: 'Changes facts of one product; missing fields stay, null clears',
  auth: 'catalog',
  params: z.strictObject({ id: Id }),
  body: Facts,
  replies: { 200: Product },
  problems: ['not-found'],
});
