import {
  addCalendar,
  DAY,
  MINUTE,
  parseDuration,
  parseLocal,
  parseTimeOfDay,
  parseYearDay,
  utc,
} from '../model/calendar.ts';
import { NEVER, type TimedResult } from '../model/timedResult.ts';
import { toInstant, toLocal, type Zone } from '../model/zone.ts';

/** Local dates or date-times (ISO 8601). */
interface Between {
  readonly from?: string | undefined;
  readonly until?: string | undefined;
}
/** Days of the week, Monday is 1, and times of day `HH:MM`. */
interface Weekly {
  readonly days: readonly number[];
  readonly from: string;
  readonly until: string;
}
/** Days of the year `MM-DD`. */
interface Yearly {
  readonly from: string;
  readonly until: string;
}
/** ISO 8601 durations from one of the product's dates. */
interface Around {
  readonly from?: string | undefined;
  readonly until?: string | undefined;
}

/** Half-open interval in epoch ms: from ≤ t < until. */
export interface Window {
  readonly from: number;
  readonly until: number;
}

/** Whether an instant lies in any of the windows, and when that changes next. */
export function inWindows(windows: readonly Window[], instant: number): TimedResult {
  let end = -Infinity;
  let next = Infinity;
  for (const { from, until } of windows) {
    if (from >= until) continue;
    if (from <= instant && instant < until) end = Math.max(end, until);
    else if (from > instant) next = Math.min(next, from);
  }
  return end > -Infinity ? { matches: true, validUntil: end } : { matches: false, validUntil: next };
}

/** Window between two local date-times; either end may be open. */
export function betweenWindow(zone: Zone, { from, until }: Between): Window {
  return {
    from: from === undefined ? -Infinity : toInstant(zone, parseLocal(from) ?? NaN),
    until: until === undefined ? Infinity : toInstant(zone, parseLocal(until) ?? NaN),
  };
}

/** Weekly windows around an instant, enough of them to know the next change. */
export function weeklyWindows(zone: Zone, { days, from, until }: Weekly, instant: number): Window[] {
  const start = parseTimeOfDay(from) ?? 0;
  const end = parseTimeOfDay(until) ?? 0;
  const today = Math.floor(toLocal(zone, instant) / DAY) * DAY;
  const windows: Window[] = [];
  for (let shift = -2; shift <= 8; shift++) {
    const midnight = today + shift * DAY;
    const weekday = ((new Date(midnight).getUTCDay() + 6) % 7) + 1;
    if (!days.includes(weekday)) continue;
    windows.push({
      from: toInstant(zone, midnight + start * MINUTE),
      until: toInstant(zone, midnight + end * MINUTE + (end <= start ? DAY : 0)),
    });
  }
  return windows;
}

/** Yearly windows around an instant. 02-29 is 03-01 in other years. */
export function yearlyWindows(zone: Zone, { from, until }: Yearly, instant: number): Window[] {
  const start = parseYearDay(from);
  const end = parseYearDay(until);
  if (!start || !end) return [];
  const wraps = from > until ? 1 : 0;
  const thisYear = new Date(toLocal(zone, instant)).getUTCFullYear();
  return [-2, -1, 0, 1, 2].map((shift) => ({
    from: toInstant(zone, utc(thisYear + shift, start.month, start.day)),
    until: toInstant(zone, utc(thisYear + shift + wraps, end.month, end.day)),
  }));
}

/**
 * The window around a product's own date. Days and longer are added on the calendar to the date as written; the local
 * time they give is resolved in the zone, and hours and shorter are then added exactly.
 */
export function aroundWindow(zone: Zone, { from, until }: Around, writtenDate: string | undefined): Window | null {
  const date = writtenDate === undefined ? null : parseLocal(writtenDate);
  if (date === null) return null;
  const shifted = (text: string) => {
    const duration = parseDuration(text);
    return duration ? toInstant(zone, addCalendar(date, duration)) + duration.exact : NaN;
  };
  return {
    from: from === undefined ? -Infinity : shifted(from),
    until: until === undefined ? Infinity : shifted(until),
  };
}

/** Like inWindows, for a window that may not exist. */
export function inWindow(window: Window | null, instant: number): TimedResult {
  return window ? inWindows([window], instant) : NEVER;
}
