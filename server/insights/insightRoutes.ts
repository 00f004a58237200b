import { postEvents, postSearch } from '#core/contract/countCalls.ts';
import {
  exportAnswers,
  exportDemand,
  exportWords,
  getAnswers,
  getDemand,
  getWords,
} from '#core/contract/demandCalls.ts';
import {
  deleteCounts,
  exportCountSeries,
  exportEditionCounts,
  exportFunnel,
  exportRuleProducts,
  getCountSeries,
  getEditionEffect,
  getFunnel,
  getRuleProducts,
} from '#core/contract/insightCalls.ts';
import type { Services } from '../services/services.ts';
import { csvFile } from '../http/csvFile.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { attachment, reply, route } from '../http/route.ts';
import { countMore, limitTo } from '../limits/limit.ts';
import { answered } from '../rehearsal/answered.ts';
import type { RehearsalServices } from '../rehearsal/rehearsalService.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import type { VisitorServices } from '../visitors/visitorCache.ts';
import { record } from '../db/record.ts';
import { whoIs } from '../http/identity.ts';
import { forgetCounts } from './countQueries.ts';
import { countBatch } from './countService.ts';
import * as demand from './demandService.ts';
import { editionEffect } from './editionEffect.ts';
import * as insights from './insightService.ts';

const BATCHES_A_MINUTE = 120;
const EVENTS = 'events:';

/** Calls that report what shoppers saw and did. */
export function eventRoutes(endpoints: Endpoints, services: Services & CatalogServices & VisitorServices): void {
  route(
    endpoints,
    postEvents,
    async ({ body }, { request }) => {
      const more = await countBatch(services, body, request.get('User-Agent'));
      await countMore(services.db, EVENTS, request, more);
      return reply(204, undefined);
    },
    [limitTo(BATCHES_A_MINUTE, services.db, EVENTS)],
  );
  route(
    endpoints,
    postSearch,
    async ({ body }, { request }) => {
      await demand.countSearch(services, body, request.get('User-Agent'));
      return reply(204, undefined);
    },
    [limitTo(BATCHES_A_MINUTE, services.db, 'searches:')],
  );
}

/** A table as a file that spreadsheets read: with a mark of its encoding, and no formulas. */
function tableFile(name: string, { from, until }: insights.PeriodAsked, rows: readonly object[]) {
  const flat = rows.map((row) => Object.fromEntries(flattened(row)));
  const columns = [...new Set(flat.flatMap((row) => Object.keys(row)))];
  const csv = csvFile(flat, columns);
  return reply(200, csv, attachment(`${name}-${from}-${until}.csv`));
}

/** `{before: {seen: 1}}` as `before.seen`. */
const flattened = (row: object, under = ''): [string, unknown][] =>
  Object.entries(row).flatMap(([key, value]: [string, unknown]) =>
    typeof value === 'object' && value !== null ? flattened(value, `${under}${key}.`) : [[under + key, value]],
  );

/** Looking back: what was shown, and what came of it. */
export function insightRoutes(endpoints: Endpoints, services: Services & RehearsalServices): void {
  route(endpoints, deleteCounts, async ({ query }, { request }) => {
    await services.db.transaction(async (client) => {
      await forgetCounts(client, query);
      const did = `${deleteCounts.method} ${deleteCounts.path}`;
      await record(client, new Date(services.clock()), whoIs(request), did, query);
    });
    return reply(204, undefined);
  });
  route(endpoints, getFunnel, async ({ query }) => reply(200, await insights.funnel(services, query)));
  route(endpoints, exportFunnel, async ({ query }) =>
    tableFile('stand-ins', query, (await insights.funnel(services, query)).rows),
  );
  route(endpoints, getRuleProducts, async ({ query }) => reply(200, await insights.behindRow(services, query)));
  route(endpoints, exportRuleProducts, async ({ query }) =>
    tableFile('products', query, (await insights.behindRow(services, query)).products),
  );
  route(endpoints, getCountSeries, async ({ query }) => reply(200, await insights.series(services, query)));
  route(endpoints, exportCountSeries, async ({ query }) =>
    tableFile('days', query, (await insights.series(services, query)).days),
  );
  route(endpoints, getEditionEffect, ({ params, query }, context) =>
    answered(context, (how) => editionEffect(services, params.number, query.days, how)),
  );

  route(endpoints, exportEditionCounts, async ({ params, query }) => {
    const { before, after } = await editionEffect(services, params.number, query.days, {});
    const rows = Object.entries({ before, after }).flatMap(([when, { from, until, touched, others }]) => [
      { when, from, until, products: 'touched', ...touched },
      { when, from, until, products: 'others', ...others },
    ]);
    return tableFile(`edition-${params.number}`, { from: before.from, until: after.until }, rows);
  });

  route(endpoints, getDemand, async ({ query }) => reply(200, await demand.demand(services, query)));
  route(endpoints, exportDemand, async ({ query }) =>
    tableFile(`demand-by-${query.by}`, query, (await demand.demand(services, query)).rows),
  );
  route(endpoints, getAnswers, async ({ query }) => reply(200, await demand.answers(services, query)));
  route(endpoints, exportAnswers, async ({ query }) =>
    tableFile('answers', query, [await demand.answers(services, query)]),
  );
  route(endpoints, getWords, async ({ query }) => reply(200, await demand.wordsAsked(services, query)));
  route(endpoints, exportWords, async ({ query }) => {
    const { searched, asked } = await demand.wordsAsked(services, query);
    return tableFile('words', query, [
      ...searched.map((row) => ({ from: 'searches', ...row, enquiries: null })),
      ...asked.map(({ word, enquiries }) => ({
        from: 'enquiries',
        words: word,
        times: null,
        foundNone: null,
        enquiries,
      })),
    ]);
  });
}
