import { randomBytes, timingSafeEqual } from 'node:crypto';

import ical, { ICalEventTransparency } from 'ical-generator';
import type { ComingInstant } from '#core/contract/rehearsalCalls.ts';
import { getCalendarAddress, postCalendarAddress } from '#core/contract/rehearsalCalls.ts';
import { EMPTY_RULEBOOK, type Rulebook } from '#core/rulebook/rulebook.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { joined } from '#core/facts/wording.ts';
import { limitTo } from '../limits/limit.ts';
import { reply, route } from '../http/route.ts';
import type { NamedSeller } from '../rules/sellerQueries.ts';
import { newestEdition } from '../rules/rulebookQueries.ts';
import { openingsToCome } from '../rules/openingQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { RehearsalServices } from './rehearsalService.ts';
import type { Services } from '../services/services.ts';
import { calendar } from './rehearsalService.ts';

const A_MINUTE = 30;
const DAYS = 400;
const KEPT_S = 900;

/** Coming changes of the shop as iCalendar, at a secret address. */
export function calendarFeed(endpoints: Endpoints, services: Services & RehearsalServices): void {
  const { db, config, live } = services;

  const secret = async (renewed: boolean): Promise<string> => {
    const keep = renewed ? '$1' : 'coalesce(calendar_secret, $1)';
    const { rows } = await db.query<{ secret: string }>(
      `UPDATE shop SET calendar_secret = ${keep} RETURNING calendar_secret AS secret`,
      [randomBytes(24).toString('base64url')],
    );
    return rows[0]?.secret ?? '';
  };
  const addressOf = (kept: string) => ({ address: `${config.publicUrl}/calendar/${kept}.ics` });
  route(endpoints, getCalendarAddress, async () => reply(200, addressOf(await secret(false))));
  route(endpoints, postCalendarAddress, async () => reply(200, addressOf(await secret(true))));

  endpoints.mount(
    'get',
    '/calendar/:name',
    'public',
    limitTo(A_MINUTE, db, 'calendar:'),
    async (request, response, next) => {
      const { rows } = await db.query<{ secret: string | null }>('SELECT calendar_secret AS secret FROM shop');
      const kept = rows[0]?.secret ?? null;
      if (kept === null || !isSame(String(request.params.name), `${kept}.ics`)) {
        next();
        return;
      }
      const [edition, openings, { instants }] = await Promise.all([
        newestEdition(db),
        openingsToCome(db),
        calendar(services, 'live', DAYS),
      ]);
      const rulebook = edition?.document ?? EMPTY_RULEBOOK;
      const host = new URL(config.publicUrl).hostname;
      const feed = ical({
        name: `${live.current().rulebook.shop.name}: what changes when`,
        prodId: { company: 'Understudy', product: 'Calendar' },
        ttl: KEPT_S,
        events: [
          ...instants.map((instant) => ({
            id: `${Date.parse(instant.at)}@${host}`,
            start: new Date(instant.at),
            summary: summaryOf(instant, rulebook, live.current().sellers),
            description: instant.groups.map(groupWords).join('\n'),
            url: `${config.publicUrl}/calendar?at=${encodeURIComponent(instant.at)}`,
          })),
          ...openings.map(({ id, opensAt, note }) => ({
            id: `opening-${id}@${host}`,
            start: opensAt,
            summary: `The next edition opens${note === null ? '' : `: ${note}`}`,
            url: `${config.publicUrl}/editions`,
          })),
        ].map((event) => ({
          ...event,
          stamp: edition?.publishedAt ?? event.start,
          transparency: ICalEventTransparency.TRANSPARENT,
        })),
      });
      response
        .set({ 'Cache-Control': `private, max-age=${KEPT_S}` })
        .type('text/calendar')
        .send(feed.toString());
    },
  );
}

function isSame(given: string, wanted: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(wanted)];
  return a.length === b.length && timingSafeEqual(a, b);
}

/** "“Spring tubers” begins; “Winter rest” ends" */
export function summaryOf(
  { opens, closes, changed }: ComingInstant,
  { rules }: Rulebook,
  sellers: readonly NamedSeller[],
): string {
  const nameOf = ruleNames(rules, {}, sellers);
  const order = rules.map(({ id }) => id);
  const inOrder = (ids: readonly string[]) => [
    ...order.filter((id) => ids.includes(id)),
    ...ids.filter((id) => !order.includes(id)),
  ];
  const named = (ids: readonly string[]) =>
    joined(
      inOrder(ids).map((id) => `“${nameOf(id)}”`),
      'and',
    );
  const description = [
    ...(opens.length > 0 ? [`${named(opens)} ${opens.length === 1 ? 'begins' : 'begin'}`] : []),
    ...(closes.length > 0 ? [`${named(closes)} ${closes.length === 1 ? 'ends' : 'end'}`] : []),
  ];
  return description.join('; ') || `${changed} variants change`;
}

const lookWords = ({ kind, label }: ComingInstant['groups'][number]['before']) => label ?? kind;

const groupWords = ({ count, before, after, audiences }: ComingInstant['groups'][number]) =>
  `${count} × ${lookWords(before)} → ${lookWords(after)} (${audiences.join(', ')})`;
