import { z } from 'zod';
import { parseLocal } from '../model/calendar.ts';
import { Rulebook } from '../rulebook/rulebook.ts';
import { call } from './call.ts';
import { GoodsFilter } from './findCalls.ts';
import { ImpactGroup, Working } from './rehearsalCalls.ts';
import { RULEBOOK_LIMIT } from './rulebookCalls.ts';
import { Id, RowId } from './scalars.ts';

const FactName = z.string().trim().min(1).max(200);
const TagName = z
  .string()
  .trim()
  .min(1)
  .max(200)
  .regex(/^[^|]*$/, 'a tag without |');
const Tags = z.array(TagName).max(100);
const Names = z.array(FactName).max(100);
const LocalDate = z
  .string()
  .max(40)
  .refine((text) => parseLocal(text) !== null, 'a date or date-time local to the shop (ISO 8601)');

export const OwnFacts = z.strictObject({
  addTags: z.array(z.string()),
  removeTags: z.array(z.string()),
  attributes: z.record(z.string(), z.string().nullable()),
  dates: z.record(z.string(), z.string().nullable()),
});

/** Changes to products' facts in Understudy, over the shop's file. */
export const OwnChanges = z
  .strictObject({
    addTags: Tags.optional(),
    removeTags: Tags.optional(),
    attributes: z.record(FactName, z.string().trim().min(1).max(2000).nullable()).optional(),
    dates: z.record(FactName, LocalDate.nullable()).optional(),
    asFile: z
      .strictObject({ tags: Names.optional(), attributes: Names.optional(), dates: Names.optional() })
      .optional()
      .describe('Of these, what the file says counts again'),
  })
  .refine((changes) => Object.values(changes).some((one) => Object.keys(one ?? {}).length > 0), 'something to change')
  .meta({ id: 'OwnChanges' });
export type OwnChanges = z.infer<typeof OwnChanges>;

/** Selection of products: by id, or by a filter with exceptions. */
export const GoodsChoice = z
  .union([
    z.strictObject({ ids: z.array(Id).min(1).max(10_000) }),
    z.strictObject({ filter: GoodsFilter, except: z.array(Id).max(10_000).default([]) }),
  ])
  .meta({ id: 'GoodsChoice' });
export type GoodsChoice = z.infer<typeof GoodsChoice>;

/** A change of many products, with its progress. */
export const FactChange = z
  .strictObject({
    id: z.int(),
    madeAt: z.iso.datetime(),
    madeBy: z.string(),
    changes: OwnChanges,
    products: z.int(),
    done: z.int().describe('Of how many products it is done; while it is being taken back, of how many it is still so'),
    isUndoing: z.boolean().describe('Whether it is, or is being, taken back'),
  })
  .meta({ id: 'FactChange' });
export type FactChange = z.infer<typeof FactChange>;

export const postFactChange = call({
  method: 'post',
  path: '/api/products/fact-changes',
  summary: 'Changes tags, dates and attributes of many products, over the shop’s file, in the background',
  auth: 'catalog',
  bodyLimit: 4_000_000,
  body: z.strictObject({ goods: GoodsChoice, changes: OwnChanges }),
  replies: { 202: FactChange },
  problems: ['not-found'],
});

export const listFactChanges = call({
  method: 'get',
  path: '/api/products/fact-changes',
  summary: 'Lists bulk changes of the last thirty days, the newest first',
  auth: 'read',
  replies: { 200: z.array(FactChange) },
});

export const undoFactChange = call({
  method: 'post',
  path: '/api/products/fact-changes/{id}/undoing',
  summary: 'Undoes a bulk change, except products changed again since',
  auth: 'catalog',
  params: z.strictObject({ id: RowId }),
  replies: { 202: FactChange },
  problems: ['not-found'],
});

export const postFactImpact = call({
  method: 'post',
  path: '/api/products/fact-changes/impact',
  summary: 'Returns the impact on shoppers of other product facts, or of another draft',
  auth: 'read',
  isLong: true,
  bodyLimit: RULEBOOK_LIMIT,
  body: z.strictObject({
    goods: GoodsChoice,
    changes: OwnChanges.optional(),
    rulebook: Rulebook.optional().describe('What would be the draft; without it, the live rules decide as they are'),
  }),
  replies: {
    202: Working,
    200: z.strictObject({
      products: z.int().describe('Products that are meant'),
      changed: z.int().describe('Variants that somebody is shown otherwise'),
      groups: z.array(ImpactGroup),
    }),
  },
  problems: ['not-found'],
});

export const getProductFacts = call({
  method: 'get',
  path: '/api/products/{id}/facts',
  summary: 'Returns a product’s facts from the shop’s file, and those edited in Understudy',
  auth: 'read',
  params: z.strictObject({ id: Id }),
  replies: {
    200: z.strictObject({
      file: z.strictObject({
        tags: z.array(z.string()),
        attributes: z.record(z.string(), z.string()),
        dates: z.record(z.string(), z.string()),
      }),
      own: OwnFacts.nullable(),
    }),
  },
  problems: ['not-found'],
});

export const exportProducts = call({
  method: 'post',
  path: '/api/products/export',
  summary: 'Exports products with their effective facts, as a file that can be imported',
  auth: 'read',
  bodyLimit: 4_000_000,
  produces: 'text/csv',
  body: z.strictObject({ goods: GoodsChoice }),
  replies: { 200: z.string() },
  problems: ['not-found'],
});
