import type { Invitation, RoleMembership, VisitorStatusRecord } from '#core/model/subject.ts';
import type { Services } from '../services/services.ts';
import type { Queryable } from '../db/database.ts';
import { HeldRows, type NamedRows } from '../db/heldRows.ts';
import type { Watch } from '../db/watch.ts';
import { customersByIds, type CustomerRow } from './visitorQueries.ts';

/** Reads a customer by their id in the shop. */
export interface VisitorReader {
  rights(customer: string): Promise<CustomerRights>;
  /** Earlier actions of a customer. */
  statuses(customer: string): Promise<readonly VisitorStatusRecord[]>;
}

export interface CustomerRights {
  /** Their id in the shop, which differs from the requested one after a merge; null if unknown. */
  readonly id: string | null;
  readonly roles: readonly RoleMembership[];
  readonly invitations: readonly Invitation[];
}

export interface VisitorServices {
  /** Held in memory. */
  readonly visitors: VisitorReader;
  /** For what pages show: keeps answering for a while during an outage. */
  readonly shownVisitors: VisitorReader;
}

/** Reads a customer's earlier actions from one feature. */
export type StatusReader = (services: StatusServices, customer: string) => Promise<VisitorStatusRecord[]>;
export type StatusServices = Pick<Services, 'links' | 'live' | 'clock' | 'config'> & { readonly db: Queryable };

const NONE: CustomerRights = { id: null, roles: [], invitations: [] };

/** Reads each time from the database, as a transaction must. */
export const visitorReader = (db: Queryable): Pick<VisitorReader, 'rights'> => ({
  rights: async (customer) => (await customersByIds(db, [customer]))[0] ?? NONE,
});

/** About 1 kB each. */
const MOST = 20_000;

interface Known extends CustomerRow {
  readonly statuses: readonly VisitorStatusRecord[];
}

/** Holds customers in memory, as products are. */
export async function heldVisitors(
  services: StatusServices,
  watch: Pick<Watch, 'listen' | 'confirmedAt'>,
  readers: readonly StatusReader[],
  isKeptInOutage: () => boolean,
): Promise<VisitorServices> {
  const held = await HeldRows.start<Known>(watch, {
    channel: 'visitors',
    most: MOST,
    namesOf: ({ id, merged }) => [id, ...merged],
    isKeptInOutage,
  });
  // Links are signed, and dates are written, as the shop says.
  services.live.onRead(() => {
    held.clear();
  });
  const read = async (ids: readonly string[]): Promise<Known[]> =>
    Promise.all(
      (await customersByIds(services.db, ids)).map(async (row) => ({
        ...row,
        statuses: (await Promise.all(readers.map((reader) => reader(services, row.id)))).flat(),
      })),
    );
  const readerOf = (named: NamedRows<Known>): VisitorReader => {
    const find = async (customer: string) => (await named([customer], read))[0];
    return {
      rights: async (customer) => (await find(customer)) ?? NONE,
      statuses: async (customer) => (await find(customer))?.statuses ?? [],
    };
  };
  return { visitors: readerOf(held.named), shownVisitors: readerOf(held.namedInOutage) };
}
