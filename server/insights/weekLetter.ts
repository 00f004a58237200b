import { choiceOf } from '#core/contract/channelCalls.ts';
import { toLocal } from '#core/model/zone.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { instantWords, type Values } from '#core/texts/messages.ts';
import type { JobServices } from '../services/services.ts';
import { WHOLE_SHOP } from '../scope/scope.ts';
import { hooksFor } from '../messages/hookQueries.ts';
import { enqueueNotifications, settingsOf } from '../messages/outbox.ts';
import { calendar, type RehearsalServices } from '../rehearsal/rehearsalService.ts';
import { requestCounts } from '../requests/requestCounts.ts';
import { demand } from './demandQueries.ts';
import { countsByRule, countsByDay, type Days } from './insightQueries.ts';
import { allOf, dayAt, DAY_MS } from './insightService.ts';

type Needs = JobServices & RehearsalServices;

const HOUR_MS = 3_600_000;
/** On Monday at seven; a server that was down then catches up until Tuesday evening. */
const [FROM_HOUR, UNTIL_HOUR] = [7, 43];
/** A letter names no more. */
const MOST_NAMED = 6;
const NOTHING = '–';

/** Writes the letter about the week that is over, once, to those who want it, when it is time. */
export async function sendWeekLetter(services: Needs): Promise<void> {
  const { db, live, clock } = services;
  const { shop } = live.current().rulebook;
  const local = toLocal(shop.zone, clock());
  const today = Math.floor(local / DAY_MS) * DAY_MS;
  const monday = today - ((new Date(today).getUTCDay() + 6) % 7) * DAY_MS;
  const hours = (local - monday) / HOUR_MS;
  if (hours < FROM_HOUR || hours >= UNTIL_HOUR) return;
  if ((await wasSent(db, dayAt(monday))) || !(await isWanted(services))) return;
  const values = await valuesOf(services, monday);
  await db.transaction(async (client) => {
    const once = 'INSERT INTO week_letters (week, at) VALUES ($1, $2) ON CONFLICT DO NOTHING';
    const { rowCount } = await client.query(once, [dayAt(monday), new Date(clock())]);
    if (rowCount === 1)
      await enqueueNotifications(client, services, shop, [{ event: 'insights.week', locale: null, values }]);
  });
}

const wasSent = async (db: Needs['db'], week: string): Promise<boolean> =>
  (await db.query('SELECT FROM week_letters WHERE week = $1', [week])).rowCount === 1;

async function isWanted({ db }: Pick<Needs, 'db'>): Promise<boolean> {
  const { channels } = choiceOf(await settingsOf(db), 'insights.week');
  return channels.length > 0 || (await hooksFor(db, 'insights.week')).length > 0;
}

/** @param monday on which the week began that is now, as a local time */
async function valuesOf(services: Needs, monday: number): Promise<Values> {
  const { db, live, config } = services;
  const { rulebook, sellers } = live.current();
  const { shop, rules } = rulebook;
  const week: Days = { from: dayAt(monday - 7 * DAY_MS), until: dayAt(monday) };
  const earlier: Days = { from: dayAt(monday - 14 * DAY_MS), until: week.from };
  const [byRule, days, daysBefore, { all: wanted }, waits, coming] = await Promise.all([
    countsByRule(db, week, undefined),
    countsByDay(db, week, {}),
    countsByDay(db, earlier, {}),
    demand(db, week, { by: 'product', sort: 'worth', search: undefined, limit: 1 }),
    requestCounts(db, WHOLE_SHOP),
    calendar(services, 'live', 7),
  ]);
  const nameOf = ruleNames(
    rules.map(({ rule }) => rule),
    {},
    sellers,
  );
  const [now, before] = [allOf(days), allOf(daysBefore)];
  const shown = byRule
    .filter(({ rule, finished }) => rule !== '' && finished > 0)
    .sort((a, b) => b.finished - a.finished || (a.rule < b.rule ? -1 : 1))
    .slice(0, MOST_NAMED)
    .map(({ rule, finished }) => `${nameOf(rule)} (${finished})`);
  const changes = coming.instants.slice(0, MOST_NAMED).map(({ at, opens, closes }) => {
    const names = [...new Set([...opens, ...closes])].map(nameOf).join(', ');
    return `${instantWords(Date.parse(at), shop, null)}: ${names === '' ? NOTHING : names}`;
  });
  return {
    seen: now.seen,
    pressed: now.pressed,
    pressedBefore: before.pressed,
    finished: now.finished,
    finishedBefore: before.finished,
    shown: shown.join('; ') || NOTHING,
    waiting: wanted.waiting.units,
    reserved: wanted.reserved.units,
    quotes: waits.quotes,
    enquiries: waits.enquiries,
    changes: changes.join('; ') || NOTHING,
    link: new URL('/insights?period=week', config.publicUrl).href,
  };
}
