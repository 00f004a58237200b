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
  summary: 'Returns the detected progress of a new shop’s first steps',
  auth: 'read',
  replies: { 200: FirstSteps },
});

export const putPeopleSkipped = call({
  method: 'put',
  path: '/api/first-steps/people',
  summary: 'Sets whether the shop works without customers for now',
  auth: 'people',
  body: z.strictObject({ isSkipped: z.boolean() }),
  replies: { 204: NoBody },
});
