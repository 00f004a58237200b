import { z } from 'zod';
import { SURFACES } from '../model/subject.ts';
import { Audience } from './audienceCalls.ts';
import { call, NoBody } from './call.ts';
import { Id, Instant, RowId } from './scalars.ts';
import { DecidedControl } from '../controls/controls.ts';

const KINDS = DecidedControl.options.map(({ shape }) => shape.kind.value);

const Expected = z.strictObject({
  kind: z.enum(KINDS).describe('What stands in the control’s place'),
  label: z.string().max(2000).nullable().describe('Null: whatever its words'),
  priceShown: z.boolean().nullable().describe('Null: either way'),
});

const fields = {
  variant: Id,
  surface: z.enum(SURFACES),
  visitor: Audience,
  at: Instant.nullable().describe('Null: whenever it is asked'),
  expects: Expected,
  blocks: z.boolean().describe('Whether a draft that fails it cannot be published'),
};

/** Outcome that the owner expects a visitor to see. */
export const SpotCheck = z.strictObject(fields).meta({ id: 'SpotCheck' });
export type SpotCheck = z.infer<typeof SpotCheck>;

export const CheckedSpot = z
  .strictObject({
    id: z.int(),
    ...fields,
    title: z.string().nullable().describe('Of the goods; null when they are no longer in the catalog'),
    sentence: z.string(),
    seen: Expected.nullable().describe('What is seen by the rules that it was checked against; null without the goods'),
    passes: z.boolean(),
  })
  .meta({ id: 'CheckedSpot' });
export type CheckedSpot = z.infer<typeof CheckedSpot>;

const ById = z.strictObject({ id: RowId });

export const listSpotChecks = call({
  method: 'get',
  path: '/api/spot-checks',
  summary: 'Lists spot checks, with their results for the draft or the live edition',
  auth: 'read',
  query: z.strictObject({ of: z.enum(['draft', 'live']).default('draft') }),
  replies: { 200: z.strictObject({ checks: z.array(CheckedSpot), failing: z.int(), blocking: z.int() }) },
});

export const postSpotCheck = call({
  method: 'post',
  path: '/api/spot-checks',
  summary: 'Adds a spot check',
  auth: 'draft',
  body: SpotCheck,
  replies: { 201: z.strictObject({ id: z.int() }) },
});

export const putSpotCheck = call({
  method: 'put',
  path: '/api/spot-checks/{id}',
  summary: 'Replaces a spot check',
  auth: 'draft',
  params: ById,
  body: SpotCheck,
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const deleteSpotCheck = call({
  method: 'delete',
  path: '/api/spot-checks/{id}',
  summary: 'Deletes a spot check',
  auth: 'draft',
  params: ById,
  replies: { 204: NoBody },
  problems: ['not-found'],
});
