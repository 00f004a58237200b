import type { z } from 'zod';
import type { Counts, FunnelRow, getCountSeries, getFunnel, getRuleProducts } from '#core/contract/insightCalls.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Services } from '../services/services.ts';
import { invalid } from '../http/errors.ts';
import * as queries from './insightQueries.ts';

type Needs = Pick<Services, 'db' | 'live'>;
type Of<C extends { replies: { 200: z.ZodType } }> = z.infer<C['replies'][200]>;
type Asked<C extends { query: z.ZodType }> = z.infer<C['query']>;
export type PeriodAsked = queries.Days;

export const DAY_MS = 86_400_000;
/** A longer period is a mistake: nobody has counts of so many years. */
const MOST_DAYS = 3660;

/** The day (`YYYY-MM-DD`) of a local time. */
export const dayAt = (ms: number) => new Date(ms).toISOString().slice(0, 10);

/** The days that are asked for. @throws {ProblemError} 422 where they are none, or too many */
export function daysOf({ from, until }: queries.Days): string[] {
  const first = Date.parse(from);
  const days = Math.round((Date.parse(until) - first) / DAY_MS);
  if (days < 1 || days > MOST_DAYS)
    throw invalid('The query', [
      { pointer: '/until', found: until, allowed: `a day after ${from}, at most ten years` },
    ]);
  return Array.from({ length: days }, (_, index) => dayAt(first + index * DAY_MS));
}

/** The same number of days before. */
function before(days: queries.Days): queries.Days {
  return { from: dayAt(Date.parse(days.from) - daysOf(days).length * DAY_MS), until: days.from };
}

/** All counts together. */
export const allOf = (all: readonly Counts[]): Counts => all.reduce(queries.more, queries.NONE);

/** Funnel of each rule's stand-in, the most effective first. */
export async function funnel(
  { db }: Needs,
  { audience, ...days }: Asked<typeof getFunnel>,
): Promise<Of<typeof getFunnel>> {
  const [now, earlier, audiences] = await Promise.all([
    queries.countsByRule(db, days, audience),
    queries.countsByRule(db, before(days), audience),
    queries.audiencesCounted(db, days),
  ]);
  const rows = new Map<string, FunnelRow>();
  const put = (found: typeof now, place: (row: FunnelRow, counts: Counts) => FunnelRow) => {
    for (const { rule, control, ...counts } of found) {
      const key = JSON.stringify([rule, control]);
      const none = {
        rule: rule === '' ? null : rule,
        control: control as FunnelRow['control'],
        ...queries.NONE,
        before: queries.NONE,
      };
      rows.set(key, place(rows.get(key) ?? none, counts));
    }
  };
  put(now, (row, counts) => ({ ...row, ...counts }));
  put(earlier, (row, counts) => ({ ...row, before: counts }));
  return {
    rows: [...rows.values()].sort((a, b) => b.finished - a.finished || b.pressed - a.pressed || b.seen - a.seen),
    audiences,
  };
}

export async function behindRow(
  { db, live }: Needs,
  { limit, rule, control, ...days }: Asked<typeof getRuleProducts>,
): Promise<Of<typeof getRuleProducts>> {
  daysOf(days);
  const { locales } = live.current().rulebook.shop;
  const { rows, more } = await queries.countsByProduct(db, days, { rule, control }, limit);
  return { products: rows.map((row) => ({ ...row, title: wordsIn(row.title, null, locales) })), more };
}

/** Day by day; those on which nothing was counted are there too. */
export async function series(
  { db, live }: Needs,
  { rule, control, audience, ...period }: Asked<typeof getCountSeries>,
): Promise<Of<typeof getCountSeries>> {
  const days = daysOf(period);
  const [found, editions] = await Promise.all([
    queries.countsByDay(db, period, { rule, control, audience }),
    queries.editionsIn(db, period, live.current().rulebook.shop.zone.name),
  ]);
  const byDay = new Map(found.map((row) => [row.day, row]));
  return {
    days: days.map((day) => byDay.get(day) ?? { day, ...queries.NONE }),
    editions: editions.map(({ publishedAt, ...edition }) => ({ ...edition, publishedAt: publishedAt.toISOString() })),
  };
}
