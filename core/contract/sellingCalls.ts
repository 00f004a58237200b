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

/** Calls for sellers, about their own products and rules. */

export const getSelling = call({
  method: 'get',
  path: '/api/seller',
  summary: 'Returns the signed-in seller, their allowance and publishing status',
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
  summary: 'Returns the draft of a seller’s rules, with its ETag',
  auth: 'readOwn',
  replies: { 200: Rulebook },
});

export const putSellerRulebook = call({
  method: 'put',
  path: '/api/seller/rulebook',
  summary: 'Replaces a seller’s draft if it still has the ETag in If-Match',
  auth: 'sell',
  body: Rulebook,
  bodyLimit: RULEBOOK_LIMIT,
  ifMatch: 'required',
  replies: { 204: NoBody },
});

export const postSellerEdition = call({
  method: 'post',
  path: '/api/seller/editions',
  summary: 'Publishes a seller’s draft: at once (201), or after approval by the shop (202)',
  auth: 'sell',
  replies: { 201: z.strictObject({ number: z.int() }), 202: z.strictObject({ askedAt: z.iso.datetime() }) },
  problems: ['draft-changed', 'not-allowed-to-sellers'],
});

export const deleteSellerAsked = call({
  method: 'delete',
  path: '/api/seller/asked',
  summary: 'Withdraws a request for approval',
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

/** Decision for one variant and audience. */
const ProofCell = z.strictObject({
  draft: Decision,
  live: Decision,
});

export const postSellerProof = call({
  method: 'post',
  path: '/api/seller/proof',
  summary: 'Decides for a seller’s products, by their draft and by the live rules',
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
