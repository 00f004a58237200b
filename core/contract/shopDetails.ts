import { z } from 'zod';
import { WebHref } from '../texts/hrefSchema.ts';
import { call, NoBody } from './call.ts';

const Code = z.string().min(1).max(200).regex(/\S/, 'a code');
const Name = z.string().trim().min(1).max(100);

/** Names by code. All are distinct, and none is another's code, so that sentences are unambiguous. */
const Names = z.record(Code, Name).superRefine((names, context) => {
  const taken = new Map(Object.keys(names).map((code) => [code.toLowerCase(), code]));
  for (const [code, name] of Object.entries(names)) {
    const other = taken.get(name.toLowerCase());
    if (other !== undefined && other !== code)
      context.addIssue({ code: 'custom', message: `a name that “${other}” does not have`, path: [code], input: name });
    taken.set(name.toLowerCase(), code);
  }
});

const Days = z.int().min(30).max(3650).nullable().default(null);

/** When a variant whose file does not say so counts as tracked. */
export const TRACKING = ['whereCounted', 'always', 'never'] as const;

export const ShopDetails = z
  .strictObject({
    address: z.string().trim().max(500).nullable().default(null).describe('Below every letter; lines as written'),
    signInAt: WebHref.nullable()
      .default(null)
      .describe('Where shoppers sign in, for rules that ask for an account and do not say where'),
    roles: Names.default({}).describe('What roles are called, by their code'),
    dates: Names.default({}).describe(
      'What products’ dates are called, by their name in files: a noun, such as “ship date”',
    ),
    paymentMethods: z
      .array(z.strictObject({ code: Code, name: Name }))
      .max(100)
      .default([])
      .describe('Beside those that the page map found'),
    tracking: z
      .enum(TRACKING)
      .default('whereCounted')
      .describe(
        'Whether stock is tracked of new variants whose file does not say: where it gives a quantity, always or never',
      ),
    outageMinutes: z
      .int()
      .min(0)
      .max(60)
      .default(5)
      .describe('How long pages go on with what is held while the database cannot be asked; meanwhile nothing is sold'),
    keep: z
      .strictObject({
        messages: Days.describe('After these, messages are deleted'),
        requests: Days.describe('After these, who waited, asked or reserved is forgotten, where it is over'),
        record: Days.describe('After these, entries of the record are deleted'),
        counts: Days.describe('After these, what Insights counted is forgotten'),
      })
      .default({ messages: null, requests: null, record: null, counts: null })
      .describe('For how many days things are kept; null for good'),
  })
  .meta({ id: 'ShopDetails' });
export type ShopDetails = z.infer<typeof ShopDetails>;

export const getShopDetails = call({
  method: 'get',
  path: '/api/shop/details',
  summary:
    'The shop’s address, where shoppers sign in, names of roles and dates, payment methods, tracking of stock, and how long things are kept',
  auth: 'read',
  replies: { 200: ShopDetails },
});

export const putShopDetails = call({
  method: 'put',
  path: '/api/shop/details',
  summary: 'Replaces the shop’s details',
  auth: 'settings',
  body: ShopDetails,
  replies: { 204: NoBody },
});
