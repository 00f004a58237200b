import type { z } from 'zod';
import type { postEvents } from '#core/contract/countCalls.ts';
import { audienceNamed } from '#core/model/audience.ts';
import { addressesOf } from '#core/model/names.ts';
import type { VisitorFacts } from '#core/model/subject.ts';
import { sellerOfRule } from '#core/rulebook/entries.ts';
import type { Decision } from '#core/engine/decision.ts';
import type { LiveState } from '../base/live.ts';
import type { Services } from '../base/services.ts';
import type { Queryable } from '../db/database.ts';
import { readAudiences } from '../visitors/audiences.ts';
import { visitorOf, type VisitorNeeds } from '../visitors/visitor.ts';
import { count, makeCountMonths, productsAt, type CountedRow } from './countQueries.ts';

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

/** Whether a rule is one of those that are live: nothing else is counted under its name. */
function isKnown({ rulebook, sellers }: LiveState, id: string): boolean {
  const ofSeller = sellerOfRule(id);
  if (!ofSeller) return rulebook.rules.some(({ rule }) => rule.id === id);
  return (
    sellers.find((seller) => seller.id === ofSeller.seller)?.rules.some(({ id: own }) => own === ofSeller.rule) ?? false
  );
}

/** Counts what a page tells, but what a robot read. */
export async function countBatch(
  services: Needs & VisitorNeeds,
  { id, visitor: token, events }: z.infer<(typeof postEvents)['body']>,
  userAgent: string | undefined,
): Promise<void> {
  const { db, live } = services;
  const state = live.current();
  if (isRobot(userAgent)) return;
  const told = events.filter(({ rule }) => rule === null || isKnown(state, rule));
  const addresses = new Map(told.map(({ path }) => [path, addressesOf(path)]));
  const byAddress = await productsAt(db, [...new Set([...addresses.values()].flat())]);
  const rows = told.flatMap(({ path, ...event }) => {
    const product = addresses.get(path)?.flatMap((address) => byAddress.get(address) ?? [])[0];
    return product === undefined ? [] : { ...event, product };
  });
  if (rows.length === 0) return;
  const at = new Date(services.clock());
  const claims = { token, locale: null, secrets: state.visitorSecrets, moment: at.getTime() };
  const [visitor, audiences] = await Promise.all([visitorOf(services, claims), readAudiences(db)]);
  const { zone } = state.rulebook.shop;
  await count(db, { id, at, zone, audience: audienceNamed(audiences, visitor, at.getTime()), rows });
}

/** What came of a control, by the decision that put it there. */
export interface Outcome extends Pick<CountedRow, 'product' | 'variant' | 'surface'> {
  readonly event: 'finished' | 'refused';
  readonly decision: Pick<Decision, 'control' | 'reasons'>;
}

/** An outcome, and whose it is. */
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
