import type { z } from 'zod';
import type { Counts, getEditionEffect } from '#core/contract/insightCalls.ts';
import { effectOf, type Spell } from '#core/insights/effect.ts';
import { toLocal } from '#core/model/zone.ts';
import type { Services } from '../services/services.ts';
import { rulesOf } from '../services/rulesOf.ts';
import { notFound } from '../http/errors.ts';
import type { Waiting } from '../rehearsal/analyst.ts';
import type { RehearsalServices } from '../rehearsal/rehearsalService.ts';
import { readAudiences } from '../visitors/audiences.ts';
import { allOf, dayAt, DAY_MS, daysOf } from './insightService.ts';
import * as queries from './insightQueries.ts';

type Needs = Pick<Services, 'db' | 'live' | 'clock'> & RehearsalServices;
type Effects = z.infer<(typeof getEditionEffect)['replies'][200]>;

/** Counts of each of some days, of what was touched and, in the same order, of the rest. */
interface CountedDays {
  readonly touched: readonly Counts[];
  readonly others: readonly Counts[];
}

/** Share of viewers who acted, by day. */
const ratesOf = ({ touched, others }: CountedDays, event: 'pressed' | 'finished'): Spell => {
  const rate = (day: Counts) => ({ of: day.seen, came: day[event] });
  return { touched: touched.map(rate), others: others.map(rate) };
};

/**
 * Effect of an edition: the same number of full days before and after, for the products that it changes for anybody and
 * for all others.
 */
export async function editionEffect(services: Needs, number: number, asked: number, how: Waiting): Promise<Effects> {
  const { db, live, clock, analyst } = services;
  const { shop } = live.current().rulebook;
  const edition = await queries.editionNumbered(db, number);
  if (!edition) throw notFound(`edition ${number}`);
  const dayOf = (at: number) => Math.floor(toLocal(shop.zone, at) / DAY_MS) * DAY_MS;
  const own = dayOf(edition.publishedAt.getTime());
  const days = Math.max(0, Math.min(asked, (dayOf(clock()) - own) / DAY_MS - 1));
  const before = { from: dayAt(own - days * DAY_MS), until: dayAt(own) };
  const after = { from: dayAt(own + DAY_MS), until: dayAt(own + (days + 1) * DAY_MS) };
  const whole = { from: before.from, until: after.until };
  const [was, is, audiences, editions] = await Promise.all([
    rulesOf(services, { edition: number - 1 }),
    rulesOf(services, { edition: number }),
    readAudiences(db),
    queries.editionsIn(db, whole, shop.zone.name),
  ]);
  const moment = edition.publishedAt.getTime();
  const touched = await analyst.ask<'touched'>(
    { kind: 'touched', shop, audiences, moment, before: was, after: is, surface: 'product', days: asked },
    how,
  );
  const [all, those] = await Promise.all([
    queries.countsByDay(db, whole, {}),
    queries.countsOfProducts(db, whole, touched),
  ]);
  const spell = (period: queries.Days): CountedDays => {
    if (days === 0) return { touched: [], others: [] };
    const [ofAll, ofThose] = [all, those].map((rows) => new Map(rows.map(({ day, ...counts }) => [day, counts])));
    const counted = daysOf(period).map((day) => {
      const [every, ours] = [ofAll?.get(day) ?? queries.NONE, ofThose?.get(day) ?? queries.NONE];
      return { ours, theirs: queries.less(every, ours) };
    });
    return { touched: counted.map(({ ours }) => ours), others: counted.map(({ theirs }) => theirs) };
  };
  const [earlier, later] = [spell(before), spell(after)];
  const mark = ({ publishedAt, ...rest }: queries.PublishedEdition) => ({
    ...rest,
    publishedAt: publishedAt.toISOString(),
  });
  return {
    edition: mark(edition),
    looked: asked,
    touched: touched.length,
    before: { ...before, touched: allOf(earlier.touched), others: allOf(earlier.others) },
    after: { ...after, touched: allOf(later.touched), others: allOf(later.others) },
    effects: {
      pressed: effectOf(ratesOf(earlier, 'pressed'), ratesOf(later, 'pressed')),
      finished: effectOf(ratesOf(earlier, 'finished'), ratesOf(later, 'finished')),
    },
    meanwhile: editions.filter((other) => other.number !== number).map(mark),
  };
}
