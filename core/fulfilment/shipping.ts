import type { DecidedControl } from '../controls/controls.ts';
import { addCalendar, parseDuration, parseLocal } from '../model/calendar.ts';
import type { ProductFacts, ShopFacts } from '../model/subject.ts';
import { toLocal } from '../model/zone.ts';

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
  const productDate = dates.ships === undefined ? null : parseLocal(dates.ships);
  return { from: productDate === null ? null : dayOf(productDate), until: null };
}

const dayOf = (local: number) => new Date(local).toISOString().slice(0, 10);
