import { formatInstant } from '#core/model/zone.ts';
import type { StatusReader } from '../visitors/visitorCache.ts';
import { waitingBy } from './waitlistQueries.ts';
import { leaveLink } from './waitlistLetters.ts';

/** Waitlists that a customer is on or invited from. */
export const waitlistStatuses: StatusReader = async (services, customer) => {
  const { zone } = services.live.current().rulebook.shop;
  const waiting = await waitingBy(services.db, customer);
  return Promise.all(
    waiting.map(async ({ id, to, goods, state, until, position }) => ({
      to,
      id: goods,
      status:
        state === 'waiting'
          ? { state, position, leave: await leaveLink(services, id) }
          : { state, until: until && formatInstant(zone, until.getTime()) },
    })),
  );
};
