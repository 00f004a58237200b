import type { z } from 'zod';
import type { postEvents } from '#core/contract/countCalls.ts';
import { audienceNamed } from '#core/model/audience.ts';
import { addressesOf } from '#core/model/names.ts';
import type { VisitorFacts } from '#core/model/subject.ts';
import { couldShow } from '#core/engine/couldShow.ts';
import type { Decision } from '#core/engine/decision.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import type { Services } from '../services/services.ts';
import type { Queryable } from '../db/database.ts';
import { readAudiences } from '../visitors/audiences.ts';
import { visitorOf, type VisitorNeeds } from '../visitors/visitor.ts';
import { count, makeCountMonths, type CountedRow } from './countQueries.ts';

const DAY_MS = 86_400_000;
/** Readers of pages that are nobody's customers. */
const ROBOT = /bot\b|crawl|spider|slurp|preview|monitor/i;

/** Whether what a page tells comes from a program, which is nobody's customer. */
export const isRobot = (userAgent: string | undefined): boolean => userAgent === undefined || ROBOT.test(userAgent);

type Needs = Pick<Services, 'live' | 'clock'>;

/** Makes room for the counts of this month and the next, ahead of them. */
export async function makeRoomForCounts({ db, clock }: Pick<Services, 'db' | 'clock'>): Promise<void> {
  await makeCountMonths(db, new Date(clock() - DAY_MS), new Date(clock() + 32 * DAY_MS));
}

/** New rows charged to a network as one more batch. */
const NEW_ROWS_A_BATCH = 25;

/**
 * Counts the events of a page. Ignores robots, and events that no page can have had under the live rules.
 * @returns further batches to charge to the network
 */
export async function countBatch(
  services: Needs & VisitorNeeds & Pick<CatalogServices, 'products'>,
  { id, visitor: token, events }: z.infer<(typeof postEvents)['body']>,
  userAgent: string | undefined,
): Promise<number> {
  const { db, live, products } = services;
  const state = live.current();
  if (isRobot(userAgent)) return 0;
  const at = new Date(services.clock());
  const paths = [...new Set(events.map(({ path }) => path))];
  const found = await products.byKeys({ ids: [], paths });
  const byAddress = new Map(found.map((product) => [product.pathKey, product]));
  const byPath = new Map(paths.map((path) => [path, addressesOf(path).flatMap((one) => byAddress.get(one) ?? [])[0]]));
  const rows = events.flatMap(({ path, ...event }) => {
    const product = byPath.get(path);
    if (!product) return [];
    const { variant, surface, control: kind, rule, ago } = event;
    const moment = at.getTime() - ago * 1000;
    if (!couldShow(state.rulebook, { product, variant, surface, kind, rule, moment })) return [];
    return { ...event, product: product.id };
  });
  if (rows.length === 0) return 0;
  const claims = { token, locale: null, secrets: state.visitorSecrets, moment: at.getTime() };
  const [visitor, audiences] = await Promise.all([visitorOf(services, claims), readAudiences(db)]);
  const { zone } = state.rulebook.shop;
  const added = await count(db, { id, at, zone, audience: audienceNamed(audiences, visitor, at.getTime()), rows });
  return Math.ceil(added / NEW_ROWS_A_BATCH);
}

/** Outcome of a control, with its decision. */
export interface Outcome extends Pick<CountedRow, 'product' | 'variant' | 'surface'> {
  readonly event: 'finished' | 'refused';
  readonly decision: Pick<Decision, 'control' | 'reasons'>;
}

/** An outcome with its visitor. */
export interface VisitorOutcome extends Outcome {
  readonly visitor: VisitorFacts;
}

/** Counts what came of controls, in the transaction that it came about in. */
export async function countOutcomes(
  client: Queryable,
  services: Needs,
  outcomes: readonly VisitorOutcome[],
): Promise<void> {
  if (outcomes.length === 0) return;
  const at = new Date(services.clock());
  const { zone } = services.live.current().rulebook.shop;
  const audiences = await readAudiences(client);
  const byAudience = new Map<string, CountedRow[]>();
  for (const { visitor, decision, ...outcome } of outcomes) {
    const audience = audienceNamed(audiences, visitor, at.getTime());
    const { control, reasons } = decision;
    const row = { ...outcome, control: control.kind, rule: reasons.control[0] ?? null, ago: 0 };
    byAudience.set(audience, [...(byAudience.get(audience) ?? []), row]);
  }
  // In one order, so that two transactions wait for each other, not both at once.
  for (const [audience, rows] of [...byAudience].sort(([a], [b]) => (a < b ? -1 : 1)))
    await count(client, { id: null, at, zone, audience, rows });
}
