import { IANAZone } from 'luxon';
import type { Zone } from '#core/model/zone.ts';

const HOUR = 3_600_000;
const STEP = 7 * 24 * HOUR;
const FROM = Date.UTC(1990, 0, 1);
const UNTIL = Date.UTC(2100, 0, 1);

const known = new Map<string, Zone>();

/** A zone's offsets as data, for the core: every change between 1990 and 2100. Zones shift at whole minutes. */
export function zoneData(name: string): Zone {
  const before = known.get(name);
  if (before) return before;
  const iana = IANAZone.create(name);
  if (!iana.isValid) throw new RangeError(`${name} is not an IANA time zone`);
  const transitions = [{ at: FROM, offset: iana.offset(FROM) }];
  for (let high = FROM + STEP; high <= UNTIL; high += STEP) {
    const after = iana.offset(high);
    for (let low = high - STEP; transitions.at(-1)!.offset !== after;) {
      low = firstChange(iana, low, high);
      transitions.push({ at: low, offset: iana.offset(low) });
    }
  }
  const zone = { name, transitions };
  known.set(name, zone);
  return zone;
}

/** Bisects to the first minute at which the offset is no longer that of `low`. */
function firstChange(iana: IANAZone, low: number, high: number): number {
  const offset = iana.offset(low);
  while (high - low > 60_000) {
    const middle = low + Math.floor((high - low) / 120_000) * 60_000;
    if (iana.offset(middle) === offset) low = middle;
    else high = middle;
  }
  return high;
}
