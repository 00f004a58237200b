import type { z } from 'zod';
import type { postSearch } from '#core/contract/countCalls.ts';
import type { getAnswers, getDemand, getWords } from '#core/contract/demandCalls.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Services } from '../services/services.ts';
import { isRobot } from './countService.ts';
import * as queries from './demandQueries.ts';
import { daysOf } from './insightService.ts';

type Needs = Pick<Services, 'db' | 'live'>;
type Of<C extends { replies: { 200: z.ZodType } }> = z.infer<C['replies'][200]>;
type Asked<C extends { query: z.ZodType }> = z.infer<C['query']>;

/** Unmet demand by product, tag or category. */
export async function demand(
  { db, live }: Needs,
  { from, until, ...how }: Asked<typeof getDemand>,
): Promise<Of<typeof getDemand>> {
  const days = { from, until };
  daysOf(days);
  const { locales } = live.current().rulebook.shop;
  const { rows, total, all } = await queries.demand(db, days, { ...how, search: how.search });
  return { rows: rows.map((row) => ({ ...row, title: wordsIn(row.title, null, locales) })), total, all };
}

export async function answers({ db, live }: Needs, days: Asked<typeof getAnswers>): Promise<Of<typeof getAnswers>> {
  daysOf(days);
  return queries.answersIn(db, days, live.current().rulebook.shop.zone.name);
}

/** Search terms and enquiry words, the most frequent first. */
export async function wordsAsked(
  { db, live }: Needs,
  { limit, ...days }: Asked<typeof getWords>,
): Promise<Of<typeof getWords>> {
  daysOf(days);
  const { zone, locales } = live.current().rulebook.shop;
  const [searched, asked] = await Promise.all([
    queries.mostSearched(db, days, limit),
    queries.mostAsked(db, days, { zone: zone.name, limit, locale: locales[0] ?? 'en' }),
  ]);
  return { searched, asked };
}

/** An address, or a number long enough to reach or to name somebody. */
const PERSONAL = /@|(?:\d[^\p{L}]*){6}/u;

/** Counts what was searched for; not what a robot sent, nor what looks like somebody's address or number. */
export async function countSearch(
  { db, live, clock }: Pick<Services, 'db' | 'live' | 'clock'>,
  { id, words, found }: z.infer<(typeof postSearch)['body']>,
  userAgent: string | undefined,
): Promise<void> {
  if (isRobot(userAgent) || PERSONAL.test(words)) return;
  const { zone } = live.current().rulebook.shop;
  const same = words.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ');
  await queries.countSearch(db, { id, at: new Date(clock()), zone: zone.name, words: same, found });
}
