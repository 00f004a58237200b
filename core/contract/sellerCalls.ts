import { z } from 'zod';
import { QUOTE_SENDING } from '../requests/quoteParts.ts';
import { Rule } from '../rulebook/rulebook.ts';
import { SellerAllowance } from '../rulebook/sellers.ts';
import { call, NoBody } from './call.ts';
import { Invited } from './colleagueCalls.ts';
import { EditionNumber, PagedByPosition } from './scalars.ts';
import { Email } from './sessionCalls.ts';

/** Whether a seller's publications count at once, or after the shop's approval. */
export const PUBLISHING = ['atOnce', 'asked'] as const;
const Publishing = z.enum(PUBLISHING).describe('`atOnce`, or `asked`: when somebody of the shop said yes to it');
export type Publishing = z.infer<typeof Publishing>;

/** Terms of all sellers. */
export const SellerTerms = z
  .strictObject({
    allowed: SellerAllowance,
    publishing: Publishing,
    copies: z.boolean().default(true).describe('Whether the shop is told too of what a seller is asked'),
    quotes: z
      .enum(QUOTE_SENDING)
      .default('together')
      .describe('When a quote over several sellers’ goods is sent: `together`, once all have priced, or `inParts`'),
  })
  .meta({ id: 'SellerTerms' });
export type SellerTerms = z.infer<typeof SellerTerms>;

const Name = z.string().max(200).regex(/\S/, 'a name');
const Names = z.array(Name).min(1).max(50).describe('What the catalog calls them; no two sellers share one');
const ById = z.strictObject({ id: z.string().min(1).max(100) });

/** Settings of a seller that the shop decides. */
const SellerSettings = z.strictObject({
  name: Name.describe('What they are called here'),
  names: Names,
  allowed: SellerAllowance.nullable().describe('What they may decide; null for what the shop says of all'),
  publishing: Publishing.nullable().describe('The same'),
});
export type SellerSettings = z.infer<typeof SellerSettings>;

const Asked = z.strictObject({
  at: z.iso.datetime(),
  by: z.string(),
  rules: z.array(Rule),
});

export const Seller = z
  .strictObject({
    id: z.string(),
    ...SellerSettings.shape,
    products: z.int().describe('How many they sell'),
    rules: z.array(Rule).describe('Those of theirs that are live, as they made them'),
    asked: Asked.nullable().describe('Rules that wait for a yes'),
    people: z.array(
      z.strictObject({
        id: z.int(),
        name: z.string(),
        email: z.string(),
        isInvited: z.boolean().describe('Has not chosen a password yet'),
      }),
    ),
  })
  .meta({ id: 'Seller' });
export type Seller = z.infer<typeof Seller>;

export const listSellers = call({
  method: 'get',
  path: '/api/sellers',
  summary: 'Lists sellers, their allowances and rules',
  auth: 'read',
  replies: {
    200: z.strictObject({
      sellers: z.array(Seller),
      unnamed: z
        .array(z.strictObject({ name: z.string(), products: z.int() }))
        .describe('Names that the catalog has and that are no seller’s'),
      terms: SellerTerms,
    }),
  },
});

export const putSellerTerms = call({
  method: 'put',
  path: '/api/sellers/terms',
  summary: 'Replaces the default terms of sellers',
  auth: 'settings',
  body: SellerTerms,
  replies: { 204: NoBody },
});

export const postSeller = call({
  method: 'post',
  path: '/api/sellers',
  summary: 'Adds a seller',
  auth: 'settings',
  body: z.strictObject({ name: Name, names: Names }),
  replies: { 201: z.strictObject({ id: z.string() }) },
  problems: ['name-taken'],
});

export const putSeller = call({
  method: 'put',
  path: '/api/sellers/{id}',
  summary: 'Changes a seller’s name, catalog names and allowance',
  auth: 'settings',
  params: ById,
  body: SellerSettings,
  replies: { 204: NoBody },
  problems: ['name-taken', 'not-found'],
});

export const deleteSeller = call({
  method: 'delete',
  path: '/api/sellers/{id}',
  summary: 'Removes a seller with their rules, and ends their sessions',
  auth: 'settings',
  params: ById,
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const mergeSeller = call({
  method: 'post',
  path: '/api/sellers/{id}/merge',
  summary: 'Merges a seller into another, whose rules come first',
  auth: 'settings',
  params: ById,
  body: z.strictObject({ into: z.string().min(1).max(100) }),
  replies: { 204: NoBody },
  problems: ['not-found', 'same-seller'],
});

export const inviteToSeller = call({
  method: 'post',
  path: '/api/sellers/{id}/people',
  summary: 'Invites a seller’s colleague by e-mail, with a link that is valid for a week',
  auth: 'settings',
  params: ById,
  body: z.strictObject({ name: Name, email: Email }),
  replies: { 201: Invited },
  problems: ['colleague-there', 'not-found'],
});

export const answerSeller = call({
  method: 'post',
  path: '/api/sellers/{id}/answer',
  summary: 'Approves or declines the rules that a seller asked to publish',
  auth: 'publish',
  params: ById,
  body: z.strictObject({
    publish: z.boolean(),
    askedAt: z.iso.datetime().describe('When they asked: what they asked since is not answered by this'),
    reason: z.string().max(2000).optional().describe('Why not; the seller reads it'),
  }),
  replies: { 204: NoBody },
  problems: ['asked-anew', 'not-found'],
});

export const SellerPublication = z
  .strictObject({
    number: z.int(),
    publishedAt: z.iso.datetime(),
    publishedBy: z.string(),
    allowedBy: z.string().nullable().describe('Who of the shop approved it; null where that was not asked'),
    rules: z.array(Rule),
  })
  .meta({ id: 'SellerPublication' });
export type SellerPublication = z.infer<typeof SellerPublication>;

export const listSellerPublications = call({
  method: 'get',
  path: '/api/sellers/{id}/publications',
  summary: 'Lists the publications of a seller, the newest first',
  auth: 'read',
  params: ById,
  query: z.strictObject(PagedByPosition),
  replies: { 200: z.strictObject({ publications: z.array(SellerPublication), more: z.boolean() }) },
  problems: ['not-found'],
});

export const restoreSellerPublication = call({
  method: 'post',
  path: '/api/sellers/{id}/publications/{number}/restore',
  summary:
    'Makes an earlier publication of a seller live again, as a new one, and notifies the seller; their draft stays',
  auth: 'publish',
  params: z.strictObject({ ...ById.shape, number: EditionNumber }),
  body: z.strictObject({ words: z.string().max(2000).default('').describe('Reason, which the seller reads') }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});
