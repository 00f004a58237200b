import { z } from 'zod';
import { CONTROL_KINDS } from '../controls/controls.ts';
import { PRODUCT_COLUMN_NAMES } from '../model/productColumns.ts';
import { Condition, hasEmptyGroup, isAboutProducts, MAX_DEPTH, MAX_LEAVES, measure } from '../rulebook/condition.ts';
import { call } from './call.ts';
import { Working } from './rehearsalCalls.ts';
import { Instant } from './scalars.ts';
import { Product } from './shopCalls.ts';

/** A condition of rules that asks about goods alone. */
const ProductCondition = Condition.refine(isAboutProducts, 'conditions about products, variants, stock and their dates')
  .refine((condition) => !hasEmptyGroup(condition), 'a condition in every group')
  .refine(
    (condition) => measure(condition).depth <= MAX_DEPTH && measure(condition).leaves <= MAX_LEAVES,
    `groups at most ${MAX_DEPTH} deep, and at most ${MAX_LEAVES} conditions`,
  );

/** Filter of products: all its parts must match. A product matches if one of its variants does. */
export const GoodsFilter = z
  .strictObject({
    search: z.string().max(200).optional().describe('Part of a title or an id'),
    where: ProductCondition.optional(),
    decidedBy: z.string().max(250).optional().describe('A rule that decides something of them, for any audience'),
    shown: z
      .strictObject({ kind: z.enum(CONTROL_KINDS), audience: z.string().max(200) })
      .optional()
      .describe('What stands in the control’s place on the product’s page, for an audience'),
    source: z.enum(['draft', 'live']).default('draft').describe('Whose rules decide'),
    at: Instant.optional().describe('Now when absent'),
  })
  .meta({ id: 'GoodsFilter' });
export type GoodsFilter = z.infer<typeof GoodsFilter>;

/** Sort orders of products. */
export const PRODUCT_ORDERS = [
  'title',
  'id',
  'price',
  'stock',
  'reserved',
  'waiting',
  ...PRODUCT_COLUMN_NAMES,
] as const;
export type ProductOrder = (typeof PRODUCT_ORDERS)[number];

export const findProducts = call({
  method: 'post',
  path: '/api/products/find',
  summary: 'Finds products by conditions of rules or by decision, sorted',
  auth: 'read',
  isLong: true,
  body: z.strictObject({
    ...GoodsFilter.shape,
    sort: z.enum(PRODUCT_ORDERS).default('title'),
    descending: z.boolean().default(false),
    skip: z.int().min(0).max(10_000_000).default(0),
    limit: z.int().min(0).max(500).default(50),
    settled: z
      .boolean()
      .default(false)
      .describe('Whether every change until now counts; without it, those of the last five seconds may not'),
  }),
  replies: {
    202: Working,
    200: z.strictObject({
      products: z.array(Product),
      total: z.int().describe('Products that fit'),
      variants: z.int().describe('Variants of theirs that fit'),
    }),
  },
  problems: ['not-found'],
});

/** A way to look at the catalog, kept by its name. */
export const CatalogView = z
  .strictObject({
    name: z.string().trim().min(1).max(100).regex(/\S/, 'a name'),
    query: z.string().max(20_000).describe('The query of its address, as `where=…&sort=price`'),
  })
  .meta({ id: 'CatalogView' });
export type CatalogView = z.infer<typeof CatalogView>;

const MOST_VIEWS = 100;

export const getCatalogViews = call({
  method: 'get',
  path: '/api/catalog/views',
  summary: 'Lists the saved views of the catalog, by name',
  auth: 'read',
  replies: { 200: z.array(CatalogView) },
});

export const putCatalogViews = call({
  method: 'put',
  path: '/api/catalog/views',
  summary: 'Replaces the saved views of the catalog',
  auth: 'draft',
  bodyLimit: 2_500_000,
  body: z
    .array(CatalogView)
    .max(MOST_VIEWS)
    .refine((views) => new Set(views.map(({ name }) => name)).size === views.length, 'a name that no other view has'),
  replies: { 200: z.array(CatalogView) },
});
