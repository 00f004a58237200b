import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { call, NoBody } from './call.ts';

const ByLocale = z.record(Locale, z.string().max(2000));

export const ShopText = z
  .strictObject({
    key: z.string(),
    default: ByLocale.describe('What stands until the owner writes another, in each of the shop’s locales'),
    custom: ByLocale.describe('What the owner wrote'),
    placeholders: z.array(z.string()),
  })
  .meta({ id: 'ShopText' });
export type ShopText = z.infer<typeof ShopText>;

export const listTexts = call({
  method: 'get',
  path: '/api/texts',
  summary:
    'What is said to shoppers where no rule says it: labels, refusals, dialogs, our pages; messages have templates',
  auth: 'read',
  replies: { 200: z.array(ShopText) },
});

export const putText = call({
  method: 'put',
  path: '/api/texts/{key}',
  summary: 'Replaces a text in one or more locales; an empty one restores the default',
  auth: 'publish',
  params: z.strictObject({ key: z.string().max(100) }),
  body: ByLocale,
  replies: { 204: NoBody },
  problems: ['not-found'],
});
