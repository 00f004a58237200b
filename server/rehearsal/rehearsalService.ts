import { rulesIn } from '#core/rulebook/entries.ts';
import type { Analyst } from './analyst.ts';
import type { z } from 'zod';
import { shopPagesOf } from '#core/analysis/ruleFindings.ts';
import type { Source, getCalendar, getFindings, postImpact, postRows } from '#core/contract/rehearsalCalls.ts';
import { visitorOf } from '#core/model/audience.ts';
import { compile } from '#core/engine/compile.ts';
import { decideVisit } from '#core/engine/visit.ts';
import { formatInstant } from '#core/model/zone.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { CallOutError, readPage } from '../http/callOut.ts';
import { settingsOf } from '../messages/outbox.ts';
import { methodsOf, readDetails } from '../shopData/shopDetails.ts';
import { rulesOf } from '../services/rulesOf.ts';
import type { Services } from '../services/services.ts';
import type { Waiting } from './analyst.ts';
import { readAudiences } from '../visitors/audiences.ts';
import { rolesThereAre } from '../shopData/shopQueries.ts';

/** Services that rehearsals need besides the common ones. */
export interface RehearsalServices {
  readonly analyst: Analyst;
}
type Needs = Pick<Services, 'db' | 'live' | 'clock' | 'config'> & RehearsalServices;
type Of<C extends { replies: { 200: z.ZodType } }> = z.infer<C['replies'][200]>;

const MINUTE = 60_000;
/** Goods beyond these are not looked through for findings, and it is said. */
const FINDINGS_WITHIN_MS = 20_000;

/** The current minute, so that answers about now are computed once a minute. */
export const minuteOf = ({ clock }: Pick<Needs, 'clock'>, at: string | undefined) =>
  at === undefined ? Math.floor(clock() / MINUTE) * MINUTE : Date.parse(at);

/** Impact of one rulebook against another, over the whole catalog. */
export async function impact(
  services: Needs,
  { from, to, at, surface, days, group, search, skip, limit }: z.infer<(typeof postImpact)['body']>,
  how: Waiting,
): Promise<Of<typeof postImpact>> {
  const { db, live, analyst } = services;
  const { shop } = live.current().rulebook;
  const [before, after, audiences] = await Promise.all([
    rulesOf(services, from),
    rulesOf(services, to),
    readAudiences(db),
  ]);
  const moment = minuteOf(services, at);
  const page = { group, search, skip, limit };
  const found = await analyst.ask<'impact'>(
    { kind: 'impact', shop, audiences, moment, before, after, surface, days, page },
    { ...how, isNow: at === undefined },
  );
  const nameOf = (visitor: number) => audiences[visitor]?.name ?? '';
  const compiled = [before, after].map((rules) => compile(rules, shop, live.current().sellers));
  return {
    at: formatInstant(shop.zone, moment),
    looked: found.looked,
    moments: found.moments.length,
    changed: found.changed,
    groups: found.groups.map(({ visitors, aspects, ...rest }) => ({
      ...rest,
      aspects: [...aspects],
      audiences: visitors.map(nameOf),
    })),
    changes: found.changes.map(({ visitor, aspects, at: since, ...change }) => ({
      ...change,
      aspects: [...aspects],
      audience: nameOf(visitor),
      at: formatInstant(shop.zone, since),
    })),
    more: found.more,
    visits: audiences.flatMap((audience) => {
      const seen = { visitor: visitorOf(audience), moment, surface: 'cart', page: null } as const;
      const [was, is] = compiled.map((rules) => decideVisit(rules, seen, []).visit);
      const doors = (visit: typeof was) => JSON.stringify([visit?.cart, visit?.checkout]);
      return was && is && doors(was) !== doors(is) ? [{ audience: audience.name, before: was, after: is }] : [];
    }),
  };
}

/** Findings of a rulebook. */
export async function findings(services: Needs, source: Source, how: Waiting): Promise<Of<typeof getFindings>> {
  const { db, live, analyst } = services;
  const { shop } = live.current().rulebook;
  const [rulebook, audiences, stored, settings] = await Promise.all([
    rulesOf(services, source),
    readAudiences(db),
    rolesThereAre(db),
    settingsOf(db),
  ]);
  const methods = methodsOf(live.current().pageMap, await readDetails(db));
  const moment = minuteOf(services, undefined);
  const answer = await analyst.ask<'findings'>(
    {
      kind: 'findings',
      shop,
      audiences,
      moment,
      rulebook,
      roles: [...new Set([...stored, ...audiences.flatMap(({ roles }) => roles)])],
      hasTerms: settings.terms !== null,
      missingPages: await missingPages(services, rulebook),
      // Without known payment methods, any code is accepted.
      methods: methods.length > 0 ? methods.map(({ code }) => code) : null,
      within: FINDINGS_WITHIN_MS,
    },
    { ...how, isNow: true },
  );
  return {
    at: formatInstant(shop.zone, moment),
    looked: answer.looked,
    of: answer.of,
    findings: answer.findings.map(({ example, ...found }) => ({
      ...found,
      example: example && {
        product: example.product,
        variant: example.variant,
        title: example.title,
        audience: audiences[example.visitor]?.name ?? '',
        at: formatInstant(shop.zone, example.moment),
        surface: example.surface,
      },
    })),
  };
}

/** The pages of this shop that rules lead to and that are not there. */
async function missingPages({ live, config }: Needs, rulebook: Rulebook): Promise<string[]> {
  const site = live.current().pageMap?.site;
  if (site === undefined) return [];
  const paths = [...new Set(rulesIn(rulebook).flatMap((rule) => shopPagesOf(rule)))];
  const missing = await Promise.all(
    paths.map((path) =>
      readPage(new URL(path, site), config.privateHosts).then(
        () => false,
        (error: unknown) =>
          error instanceof CallOutError && (error.code === 'status 404' || error.code === 'status 410'),
      ),
    ),
  );
  return paths.filter((_path, index) => missing[index]);
}

/** Scheduled changes of a rulebook. */
export async function calendar(
  services: Needs,
  source: Source,
  days: number,
  how: Waiting = {},
): Promise<Of<typeof getCalendar>> {
  const { db, live, analyst } = services;
  const { shop } = live.current().rulebook;
  const [rulebook, audiences] = await Promise.all([rulesOf(services, source), readAudiences(db)]);
  const moment = minuteOf(services, undefined);
  const found = await analyst.ask<'calendar'>(
    { kind: 'calendar', shop, audiences, moment, rulebook, days },
    { ...how, isNow: true },
  );
  const at = (instant: number) => formatInstant(shop.zone, instant);
  return {
    at: at(moment),
    until: at(moment + days * 24 * 60 * MINUTE),
    instants: found.instants.map(({ groups, opens, closes, ...instant }) => ({
      ...instant,
      at: at(instant.at),
      opens: [...opens],
      closes: [...closes],
      groups: groups.map(({ visitors, aspects, ...group }) => ({
        ...group,
        aspects: [...aspects],
        audiences: visitors.map((visitor) => audiences[visitor]?.name ?? ''),
      })),
    })),
    bars: found.bars.map(({ rule, bars }) => ({
      rule,
      bars: bars.map(({ from, until }) => ({ from: at(from), until: at(until) })),
    })),
  };
}

/** Few variants that show every outcome. */
export async function rows(
  services: Needs,
  { source, at, surfaces }: z.infer<(typeof postRows)['body']>,
  how: Waiting,
): Promise<Of<typeof postRows>> {
  const { db, live, analyst } = services;
  const { shop } = live.current().rulebook;
  const [rulebook, audiences] = await Promise.all([rulesOf(services, source), readAudiences(db)]);
  const moment = minuteOf(services, at);
  const chosen = await analyst.ask<'rows'>(
    { kind: 'rows', shop, audiences, moment, moments: [moment], rulebook, surfaces },
    { ...how, isNow: at === undefined },
  );
  return { at: formatInstant(shop.zone, moment), rows: [...chosen] };
}
