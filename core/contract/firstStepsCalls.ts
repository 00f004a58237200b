import { z } from 'zod';
import { call, NoBody } from './call.ts';

export const FirstSteps = z
  .strictObject({
    products: z.int(),
    people: z.int(),
    isPeopleSkipped: z.boolean().describe('The shop has no customers to import'),
    lineSeenOn: z.string().nullable().describe('The origin of the first page that asked for our script'),
    isControlFound: z.boolean().describe('A page map that names the control is live'),
    rules: z.int().describe('In the draft'),
    isPublished: z.boolean(),
  })
  .meta({ id: 'FirstSteps' });
export type FirstSteps = z.infer<typeof FirstSteps>;

export const getFirstSteps = call({
  method: 'get',
  path: '/api/first-steps',
  summary: 'How far a new shop is: each step as it was found, none ticked by hand',
  auth: 'read',
  replies: { 200: FirstSteps },
});

export const putPeopleSkipped = call({
  method: 'put',
  path: '/api/first-steps/people',
  summary: 'Says whether the shop does without customers for now',
  auth: 'people',
  body: z.strictObject({ isSkipped: z.boolean() }),
  replies: { 204: NoBody },
});
