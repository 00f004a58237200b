import type { Zone } from '#core/model/zone.ts';

const MINUTE = 60_000;
const STEP = 7 * 24 * 60 * MINUTE;
const FROM = Date.UTC(1990, 0, 1);
const UNTIL = Date.UTC(2100, 0, 1);

const known = new Map<string, Zone>();

/**
 * A zone's offsets as data, for the core: every change between 1990 and 2100. Zones shift at whole minutes.
 * @param name of the IANA time zone database @throws {RangeError} where it has no such zone
 */
export function zoneData(name: string): Zone {
  const before = known.get(name);
  if (before) return before;
  const offset = offsetsOf(name);
  const transitions = [{ at: FROM, offset: offset(FROM) }];
  for (let high = FROM + STEP; high <= UNTIL; high += STEP) {
    const after = offset(high);
    for (let low = high - STEP; transitions.at(-1)!.offset !== after;) {
      low = firstChange(offset, low, high);
      transitions.push({ at: low, offset: offset(low) });
    }
  }
  const zone = { name, transitions };
  known.set(name, zone);
  return zone;
}

/** Gives the minutes that a zone is ahead of UTC at an instant. Formatting parts, as libraries do, takes six times as long. */
function offsetsOf(name: string): (instant: number) => number {
  const format = new Intl.DateTimeFormat('en-US', { timeZone: name, timeZoneName: 'longOffset' });
  return (instant) => {
    const [, sign, hours, minutes] = /GMT(?:([+-])(\d\d):(\d\d))?/.exec(format.format(instant)) ?? [];
    return (sign === '-' ? -1 : 1) * (Number(hours ?? 0) * 60 + Number(minutes ?? 0));
  };
}

/** Bisects to the first minute at which the offset is no longer that of `low`. */
function firstChange(offset: (instant: number) => number, low: number, high: number): number {
  const before = offset(low);
  while (high - low > MINUTE) {
    const middle = low + Math.floor((high - low) / (2 * MINUTE)) * MINUTE;
    if (offset(middle) === before) low = middle;
    else high = middle;
  }
  return high;
}
