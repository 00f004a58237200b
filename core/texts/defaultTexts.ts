import type { VisitorStatus } from '../model/visitorStatus.ts';
import type { ShopFacts } from '../model/subject.ts';
import type { TextKey } from './languages/en.ts';
import { en } from './languages/en.ts';
import { toHtml } from './markdown.ts';
import { dateWords, fillWords, instantWords } from './messages.ts';
import { shopText } from './shopTexts.ts';

/** Why the guard refuses a line. */
export type RefusalCode = TextKey extends infer Key ? (Key extends `refusal.${infer Code}` ? Code : never) : never;
const REFUSAL = 'refusal.';
export const REFUSAL_CODES = Object.keys(en).flatMap((key) =>
  key.startsWith(REFUSAL) ? key.slice(REFUSAL.length) : [],
) as [RefusalCode, ...RefusalCode[]];

/** Describes a visitor's earlier action, as safe HTML in their language. */
export function visitorStatusText(status: VisitorStatus, shop: ShopFacts, locale: string | null): string {
  const isForGood = status.state === 'invited' && status.until === null;
  const text = shopText(`status.${isForGood ? 'invitedForGood' : status.state}`, locale, shop);
  const until = status.state === 'invited' && status.until ? Date.parse(status.until) : null;
  const values = { ...status, until: until === null ? '' : instantWords(until, shop, locale) };
  return toHtml(fillWords(text, values, locale ?? shop.locales[0] ?? 'en'));
}

/** When something ships, in a locale; empty where that is not known. Dates are ISO 8601. */
export function shipsText(
  { from, until }: { readonly from: string | null; readonly until: string | null },
  locale: string | null,
  shop: ShopFacts,
): string {
  if (from === null && until === null) return '';
  const text = shopText(`ships.${from === null ? 'until' : until === null ? 'from' : 'between'}`, locale, shop);
  const day = (date: string | null) => (date === null ? '' : dateWords(date, locale, shop.locales));
  return fillWords(text, { from: day(from), until: day(until) }, 'en');
}
