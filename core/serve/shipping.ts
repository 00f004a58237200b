import type { DecidedControl } from '../contract/decision.ts';
import { addCalendar, parseDuration, parseLocal } from '../decide/calendar.ts';
import type { ProductFacts, ShopFacts } from '../decide/subject.ts';
import { toLocal } from '../decide/zone.ts';

/** Dates between which something ships, as the shop's calendar has them (ISO 8601); null where it is open. */
export interface ShipDates {
  readonly from: string | null;
  readonly until: string | null;
}

type Ships = Extract<DecidedControl, { kind: 'preorder' }>['ships'];

/** When a pre-order ships: as its rule says, else by the product's own date `ships`. */
export function shipDates(
  ships: Ships,
  { dates }: Pick<ProductFacts, 'dates'>,
  { moment, shop }: { moment: number; shop: ShopFacts },
): ShipDates {
  const duration = ships?.within ? parseDuration(ships.within) : null;
  if (duration) {
    const local = addCalendar(toLocal(shop.zone, moment), duration) + duration.exact;
    return { from: null, until: dayOf(local) };
  }
  if (ships?.from || ships?.until) return { from: ships.from, until: ships.until };
  const own = dates.ships === undefined ? null : parseLocal(dates.ships);
  return { from: own === null ? null : dayOf(own), until: null };
}

const dayOf = (local: number) => new Date(local).toISOString().slice(0, 10);
