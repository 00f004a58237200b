import { z } from 'zod';
import { Decision } from '../engine/decision.ts';
import { Rule, Rulebook } from '../rulebook/rulebook.ts';
import { SellerAllowance } from '../rulebook/sellers.ts';
import { ResolvedAudience } from './audienceCalls.ts';
import { RequestCounts } from './attentionCalls.ts';
import { call, NoBody } from './call.ts';
import { RULEBOOK_LIMIT } from './rulebookCalls.ts';
import { Instant } from './scalars.ts';
import { PUBLISHING } from './sellerCalls.ts';
import { Product, ShopFacts, Vocabulary } from './shopCalls.ts';

/** What a seller sees and does: their own products, and rules about them alone. */

export const getSelling = call({
  method: 'get',
  path: '/api/seller',
  summary: 'For whom whoever is signed in decides, what they may decide, and what became of it',
  auth: 'readOwn',
  replies: {
    200: z
      .strictObject({
        id: z.string(),
        name: z.string(),
        allowed: SellerAllowance,
        publishing: z.enum(PUBLISHING),
        isRead: z.boolean().describe('Whether the shop lets sellers decide now'),
        rules: z.array(Rule).describe('Those that are live'),
        asked: z
          .strictObject({
            at: z.iso.datetime(),
            by: z.string(),
            isDraft: z.boolean().describe('Whether that is what the draft still is'),
          })
          .nullable()
          .describe('What waits for a yes'),
        waits: RequestCounts.describe('What waits for them'),
        refusal: z.string().nullable().describe('What the shop said to what was asked last, where it was no'),
        editions: z.array(
          z.strictObject({
            number: z.int(),
            publishedAt: z.iso.datetime(),
            publishedBy: z.string(),
            allowedBy: z.string().nullable(),
            rules: z.int(),
          }),
        ),
      })
      .meta({ id: 'Selling' }),
  },
});

export const getSellerRulebook = call({
  method: 'get',
  path: '/api/seller/rulebook',
  summary: 'The draft of a seller’s own rules, with its ETag',
  auth: 'readOwn',
  replies: { 200: Rulebook },
});

export const putSellerRulebook = call({
  method: 'put',
  path: '/api/seller/rulebook',
  summary: 'Replaces it, if it is still the one that If-Match names',
  auth: 'sell',
  body: Rulebook,
  bodyLimit: RULEBOOK_LIMIT,
  ifMatch: 'required',
  replies: { 204: NoBody },
  problems: [412, 428],
});

export const postSellerEdition = call({
  method: 'post',
  path: '/api/seller/editions',
  summary: 'Publishes the draft of a seller’s rules: at once (201), or when somebody of the shop says yes (202)',
  auth: 'sell',
  replies: { 201: z.strictObject({ number: z.int() }), 202: z.strictObject({ askedAt: z.iso.datetime() }) },
});

export const deleteSellerAsked = call({
  method: 'delete',
  path: '/api/seller/asked',
  summary: 'Takes back what waits for a yes',
  auth: 'sell',
  replies: { 204: NoBody },
});

export const getSellerGoods = call({
  method: 'get',
  path: '/api/seller/goods',
  summary:
    'What a seller’s rules are made and proved with: the shop, their products, their names, and whom to look through',
  auth: 'readOwn',
  replies: {
    200: z.strictObject({
      shop: ShopFacts,
      products: z.array(Product).describe('The first 500 of theirs'),
      total: z.int(),
      vocabulary: Vocabulary,
      audiences: z.array(ResolvedAudience),
    }),
  },
});

/** What stands for one variant and audience. */
const ProofCell = z.strictObject({
  draft: Decision,
  live: Decision,
});

export const postSellerProof = call({
  method: 'post',
  path: '/api/seller/proof',
  summary: 'What shoppers are shown of some of a seller’s products, by their draft and by what is live',
  auth: 'readOwn',
  body: z.strictObject({
    products: z.array(z.string().max(200)).min(1).max(50),
    surface: z.enum(['product', 'listing']).default('product'),
    at: Instant.optional().describe('Now when absent'),
  }),
  replies: {
    200: z.strictObject({
      rows: z.array(
        z.strictObject({
          product: z.string(),
          variant: z.string(),
          cells: z.array(ProofCell).describe('One for each audience, in their order'),
        }),
      ),
    }),
  },
});
