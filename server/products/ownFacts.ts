import type { z } from 'zod';
import { sameName } from '#core/model/names.ts';
import type { FactChange, GoodsChoice, OwnChanges, postFactImpact } from '#core/contract/ownFactsCalls.ts';
import { rulesOf } from '../services/rulesOf.ts';
import type { Services } from '../services/services.ts';
import { minuteOf } from '../rehearsal/rehearsalService.ts';
import { readAudiences } from '../visitors/audiences.ts';
import { firstSpellings } from '../catalog/spellings.ts';
import type { Queryable } from '../db/database.ts';
import type { Jobs } from '../db/jobs.ts';
import { notFound } from '../http/errors.ts';
import type { Waiting } from '../rehearsal/analyst.ts';
import { findProductIds, type FindServices } from './findProducts.ts';
import { beginUndoing, doSome, factChanges, insertFactChange } from './ownFactsQueries.ts';

const QUEUE = 'fact-changes';
/** Products changed in one transaction, so that shoppers do not wait. */
const AT_ONCE = 500;
const RETRIES = { retryLimit: 6, retryDelay: 5, retryBackoff: true };
const ALL = { sort: 'id', descending: false, skip: 0, limit: Number.MAX_SAFE_INTEGER, settled: true } as const;

/** The ids of the products that are meant. */
export async function chosenIds(
  services: FindServices,
  goods: GoodsChoice,
  how: Waiting = {},
): Promise<readonly string[]> {
  if ('ids' in goods) return goods.ids;
  const left = new Set(goods.except);
  const { ids } = await findProductIds(services, goods.filter, ALL, how);
  return ids.filter((id) => !left.has(id));
}

/** Has facts of many products changed, bit by bit, on whichever copy of the server is free. */
export async function changeFacts(
  services: FindServices & Pick<Services, 'jobs'>,
  { goods, changes, by }: { readonly goods: GoodsChoice; readonly changes: OwnChanges; readonly by: string },
): Promise<FactChange> {
  const { db, jobs, clock } = services;
  const ids = await chosenIds(services, goods);
  const id = await db.transaction(async (client) => {
    const spelt = await asFirstSpelt(client, changes);
    const made = await insertFactChange(client, { at: new Date(clock()), by, changes: spelt, ids });
    await jobs.add(client, QUEUE, { data: { id: made }, ...RETRIES });
    return made;
  });
  return begun(db, id);
}

/** A change after its first step, which is all of it where the products are few. */
async function begun(db: Services['db'], id: number): Promise<FactChange> {
  await db.transaction((client) => doSome(client, id, AT_ONCE));
  const [change] = await factChanges(db, id);
  if (!change) throw notFound(`change ${id}`);
  return change;
}

/** Tags that are equal are one tag, shown as first spelt. */
async function asFirstSpelt(client: Queryable, changes: OwnChanges): Promise<OwnChanges> {
  const { addTags = [], removeTags = [] } = changes;
  const spellings = await firstSpellings(
    client,
    new Map([...addTags, ...removeTags].map((tag) => [sameName(tag), tag])),
  );
  const spelt = (tags: readonly string[]) => [...new Set(tags.map((tag) => spellings.get(sameName(tag)) ?? tag))];
  return {
    ...changes,
    ...(changes.addTags ? { addTags: spelt(addTags) } : {}),
    ...(changes.removeTags ? { removeTags: spelt(removeTags) } : {}),
  };
}

/** Impact of a change on shoppers: under the live rules, or under another draft. */
export async function factImpact(
  services: FindServices,
  { goods, changes, rulebook }: z.infer<(typeof postFactImpact)['body']>,
  how: Waiting,
): Promise<z.infer<(typeof postFactImpact)['replies'][200]>> {
  const { db, live, analyst } = services;
  const [ids, before, audiences] = await Promise.all([
    chosenIds(services, goods, how),
    rulesOf(services, rulebook ? 'draft' : 'live'),
    readAudiences(db),
  ]);
  const { shop } = live.current().rulebook;
  const moment = minuteOf(services, undefined);
  const found = await analyst.ask<'factImpact'>(
    { kind: 'factImpact', shop, before, after: rulebook ?? before, audiences, moment, ids, changes: changes ?? null },
    { ...how, isNow: true },
  );
  return {
    products: found.products,
    changed: found.changed,
    groups: found.groups.map(({ visitors, aspects, ...group }) => ({
      ...group,
      aspects: [...aspects],
      audiences: visitors.map((visitor) => audiences[visitor]?.name ?? ''),
    })),
  };
}

/** @throws {ProblemError} 404 */
export async function takeBackFacts({ db, jobs }: Pick<Services, 'db' | 'jobs'>, id: number): Promise<FactChange> {
  await db.transaction(async (client) => {
    if (!(await beginUndoing(client, id))) throw notFound(`change ${id}`);
    await jobs.add(client, QUEUE, { data: { id }, ...RETRIES });
  });
  return begun(db, id);
}

export async function workFactChanges(jobs: Jobs, { db }: Pick<Services, 'db'>): Promise<void> {
  await jobs.work<{ id: number }>(QUEUE, {}, async ({ data: { id } }) => {
    while ((await db.transaction((client) => doSome(client, id, AT_ONCE))) > 0);
  });
}
