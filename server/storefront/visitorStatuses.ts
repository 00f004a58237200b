import type { VisitorStatusRecord, VisitorFacts } from '#core/model/subject.ts';
import { formatInstant, type Zone } from '#core/model/zone.ts';
import { requestedProducts } from '../quotes/quoteQueries.ts';
import { preorderStandings } from '../preorders/preorderQueries.ts';
import type { Services } from '../services.ts';
import { leaveLink } from '../waitlists/waitlistService.ts';
import { waitlistStandings } from '../waitlists/waitlistQueries.ts';

/** What a visitor who is signed in already did here: nothing is known of guests. */
export async function standingsOf(
  services: Services,
  visitor: VisitorFacts,
  zone: Zone,
): Promise<VisitorStatusRecord[]> {
  if (visitor.customerId === null) return [];
  const [waiting, reserved, requested] = await Promise.all([
    waitlistStandings(services.db, visitor.customerId),
    preorderStandings(services.db, visitor.customerId),
    requestedProducts(services.db, visitor.customerId),
  ]);
  const reservations = reserved.map(({ variant, units }): VisitorStatusRecord => ({
    to: 'variant',
    id: variant,
    standing: { state: 'reserved', units },
  }));
  const waits = await Promise.all(
    waiting.map(async ({ id, to, goods, state, until, position }): Promise<VisitorStatusRecord> => {
      const status =
        state === 'waiting'
          ? { state, position, leave: await leaveLink(services, id) }
          : { state, until: until && formatInstant(zone, until.getTime()) };
      return { to, id: goods, standing: status };
    }),
  );
  return [
    ...reservations,
    ...waits,
    ...requested.map((goods) => ({ ...goods, standing: { state: 'asked' } as const })),
  ];
}
