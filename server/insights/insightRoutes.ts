import { stringify } from 'csv-stringify/sync';
import {
  exportFunnel,
  getCountSeries,
  getFunnel,
  getRuleProducts,
  postEvents,
  type Counts,
  type FunnelRow,
} from '#core/contract/countCalls.ts';
import { toInstant } from '#core/model/zone.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Services } from '../base/services.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { invalid } from '../http/errors.ts';
import { attachment, reply, route } from '../http/route.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import { limitTo } from '../limits/limit.ts';
import type { VisitorServices } from '../visitors/visitorCache.ts';
import { countBatch } from './countService.ts';
import * as queries from './countQueries.ts';

const BATCHES_A_MINUTE = 120;
const DAY_MS = 86_400_000;
const NONE: Counts = { seen: 0, pressed: 0, finished: 0, refused: 0 };

/** What pages tell of what shoppers saw and did. */
export function eventRoutes(endpoints: Endpoints, services: Services & CatalogServices & VisitorServices): void {
  route(
    endpoints,
    postEvents,
    async ({ body }, { request }) => {
      await countBatch(services, body, request.get('User-Agent'));
      return reply(204, undefined);
    },
    [limitTo(BATCHES_A_MINUTE, services.db, 'events:')],
  );
}

/** Looking back: what was shown, and what came of it. */
export function insightRoutes(endpoints: Endpoints, { db, live }: Services): void {
  /** The days that are asked for, and as many before them. */
  const spansOf = ({ from, until }: { from: string; until: string }) => {
    const { zone } = live.current().rulebook.shop;
    const [first, last] = [Date.parse(from), Date.parse(until)];
    if (last <= first)
      throw invalid('The query', [{ pointer: '/until', found: until, allowed: `a day after ${from}` }]);
    const span = (a: number, b: number) => ({
      from: new Date(toInstant(zone, a)),
      until: new Date(toInstant(zone, b)),
    });
    return { now: span(first, last), before: span(2 * first - last, first) };
  };
  const funnel = async (period: { from: string; until: string }): Promise<FunnelRow[]> => {
    const { now, before } = spansOf(period);
    const [rows, earlier] = await Promise.all([queries.countsByRule(db, now), queries.countsByRule(db, before)]);
    const key = ({ rule, control }: { rule: string; control: string }) => JSON.stringify([rule, control]);
    const byKey = new Map(earlier.map((row) => [key(row), row]));
    const all = [
      ...rows,
      ...earlier.filter((row) => !rows.some((one) => key(one) === key(row))).map((row) => ({ ...row, ...NONE })),
    ];
    return all
      .map(({ rule, control, ...counts }) => {
        const {
          rule: _rule,
          control: _control,
          ...were
        } = byKey.get(key({ rule, control })) ?? { rule, control, ...NONE };
        return { rule: rule === '' ? null : rule, control: control as FunnelRow['control'], ...counts, before: were };
      })
      .sort((a, b) => b.finished - a.finished || b.pressed - a.pressed || b.seen - a.seen);
  };

  route(endpoints, getFunnel, async ({ query }) => reply(200, { rows: await funnel(query) }));

  route(endpoints, exportFunnel, async ({ query }) => {
    const lines = (await funnel(query)).map(({ before, ...row }) => ({
      ...row,
      seenBefore: before.seen,
      pressedBefore: before.pressed,
      finishedBefore: before.finished,
      refusedBefore: before.refused,
    }));
    const csv = stringify(lines, { header: true, columns: CSV_COLUMNS, escape_formulas: true, bom: true });
    return reply(200, csv, attachment(`stand-ins-${query.from}-${query.until}.csv`));
  });

  route(endpoints, getRuleProducts, async ({ query: { limit, rule, control, ...period } }) => {
    const { locales } = live.current().rulebook.shop;
    const { rows, total } = await queries.countsByProduct(db, spansOf(period).now, { rule, control }, limit);
    return reply(200, { products: rows.map((row) => ({ ...row, title: wordsIn(row.title, null, locales) })), total });
  });

  route(endpoints, getCountSeries, async ({ query: { rule, control, ...period } }) => {
    const { now } = spansOf(period);
    const { zone } = live.current().rulebook.shop;
    const [found, editions] = await Promise.all([
      queries.countsByDay(db, now, { rule, control }, zone.name),
      queries.editionsIn(db, now),
    ]);
    const byDay = new Map(found.map((row) => [row.day, row]));
    const days = Array.from(
      { length: Math.round((Date.parse(period.until) - Date.parse(period.from)) / DAY_MS) },
      (_, index) => {
        const day = new Date(Date.parse(period.from) + index * DAY_MS).toISOString().slice(0, 10);
        return byDay.get(day) ?? { day, ...NONE };
      },
    );
    return reply(200, {
      days,
      editions: editions.map(({ publishedAt, ...edition }) => ({ ...edition, publishedAt: publishedAt.toISOString() })),
    });
  });
}

const CSV_COLUMNS = [
  'rule',
  'control',
  'seen',
  'pressed',
  'finished',
  'refused',
  'seenBefore',
  'pressedBefore',
  'finishedBefore',
  'refusedBefore',
];
