import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { call, NoBody } from './call.ts';

/** Settings of the whole shop. */
export const ShopSettings = z.strictObject({
  name: z.string().max(200).regex(/\S/, 'a name'),
  zone: z.string().max(100).describe('An IANA time zone'),
  locales: z.array(Locale).min(1).max(30).describe('The first is the default'),
  currency: z.string().regex(/^[A-Z]{3}$/, 'a currency code of three letters (ISO 4217)'),
});
export type ShopSettings = z.infer<typeof ShopSettings>;

/** Further effects of changing a shop's settings. */
export const SettingsEffect = z
  .strictObject({
    clock: z
      .strictObject({ before: z.string(), after: z.string() })
      .nullable()
      .describe('What time it is in each zone, by the clock (ISO 8601); null where the zone stays'),
    datedRules: z.array(z.string()).describe('Rules, by name, whose dates and times are those of the new zone then'),
    dates: z.int().describe('Products with dates, which are those of the new zone then'),
    prices: z.int().describe('Variants whose price is in the new currency then, its number as it is; 0 where it stays'),
    quotes: z.int().describe('Quotes that wait for an answer, whose sums are in the new currency then'),
    decimals: z
      .strictObject({ before: z.int(), after: z.int() })
      .nullable()
      .describe('Where the new currency has other decimals, so that it cannot be changed while there are prices'),
    textsLost: z
      .array(z.strictObject({ locale: Locale, rules: z.array(z.string()) }))
      .describe('Languages that go, with the rules, by name, that say something in them'),
    defaultMoves: z.boolean().describe('Another language is the default'),
  })
  .meta({ id: 'SettingsEffect' });
export type SettingsEffect = z.infer<typeof SettingsEffect>;

export const postShopTrial = call({
  method: 'post',
  path: '/api/shop/trial',
  summary: 'Previews the further effects of changing the shop’s settings',
  auth: 'read',
  body: ShopSettings,
  replies: { 200: SettingsEffect },
});

export const putShop = call({
  method: 'put',
  path: '/api/shop',
  summary: 'Changes the shop’s name, time zone, languages and currency',
  auth: 'settings',
  body: ShopSettings,
  replies: { 204: NoBody },
  problems: ['other-decimals'],
});
