/**
 * The shop's time zone as data, so that browser and server cannot differ: from each instant `at`
 * (epoch ms, ascending, the first is -Infinity in effect) the zone is `offset` minutes ahead of UTC.
 */
export interface Zone {
  readonly name: string;
  readonly transitions: readonly { readonly at: number; readonly offset: number }[];
}

const MINUTE = 60_000;
const WIDEST_OFFSET = 15 * 60 * MINUTE;

function segmentAt(zone: Zone, instant: number): number {
  let low = 0;
  let high = zone.transitions.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (zone.transitions[middle]!.at <= instant) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Minutes that the zone is ahead of UTC at an instant (epoch ms). */
export function offsetAt(zone: Zone, instant: number): number {
  return zone.transitions[segmentAt(zone, instant)]?.offset ?? 0;
}

/** The local time (see calendar.ts) that the zone's clocks show at an instant. */
export function toLocal(zone: Zone, instant: number): number {
  return instant + offsetAt(zone, instant) * MINUTE;
}

/**
 * The first instant at which the zone's clocks show `local` or later. So a time that daylight saving skips means
 * the first instant after the gap, and one that happens twice means the first of the two.
 */
export function toInstant(zone: Zone, local: number): number {
  for (let index = segmentAt(zone, local - WIDEST_OFFSET); ; index++) {
    const segment = zone.transitions[index];
    if (!segment) return local;
    const end = zone.transitions[index + 1]?.at ?? Infinity;
    const instant = local - segment.offset * MINUTE;
    if (instant < end) return index === 0 ? instant : Math.max(instant, segment.at);
  }
}

/** ISO 8601 with milliseconds and the zone's own offset: `2027-05-20T00:00:00.000+01:00`. */
export function formatInstant(zone: Zone, instant: number): string {
  const offset = offsetAt(zone, instant);
  const size = Math.abs(offset);
  const pad = (value: number) => String(value).padStart(2, '0');
  const wall = new Date(instant + offset * MINUTE).toISOString().slice(0, -1);
  return `${wall}${offset < 0 ? '-' : '+'}${pad(Math.floor(size / 60))}:${pad(size % 60)}`;
}
