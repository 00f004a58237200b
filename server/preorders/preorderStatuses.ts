import type { StatusReader } from '../visitors/visitorCache.ts';
import { reservedBy } from './preorderQueries.ts';

/** Reservations of a customer. */
export const preorderStatuses: StatusReader = async ({ db }, customer) =>
  (await reservedBy(db, customer)).map(({ variant, units }) => ({
    to: 'variant',
    id: variant,
    status: { state: 'reserved', units },
  }));
