/**
 * Local calendar times and ISO 8601 durations, with no time zone and no clock.
 * A *local* time is the number of milliseconds that UTC would show the same wall clock at.
 */

const LOCAL = /^(\d{4})-(\d{2})-(\d{2})(?:T(\d{2}):(\d{2})(?::(\d{2}))?)?$/;
const DURATION =
  /^([+-])?P(?:(\d{1,5})Y)?(?:(\d{1,5})M)?(?:(\d{1,5})W)?(?:(\d{1,5})D)?(?:T(?:(\d{1,5})H)?(?:(\d{1,5})M)?(?:(\d{1,5})S)?)?$/;

export const MINUTE = 60_000;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

/** `YYYY-MM-DD` or `YYYY-MM-DDTHH:MM[:SS]` (ISO 8601) as a local time in ms; null when it is no such date. */
export function parseLocal(text: string): number | null {
  const match = LOCAL.exec(text);
  if (!match) return null;
  const [year, month, day, hour, minute, second] = match
    .slice(1)
    .map((part: string | undefined) => Number(part ?? 0)) as [number, number, number, number, number, number];
  if (hour > 23 || minute > 59 || second > 59 || year < 1) return null;
  const local = utc(year, month - 1, day, hour, minute, second);
  const shown = new Date(local);
  return shown.getUTCMonth() === month - 1 && shown.getUTCDate() === day ? local : null;
}

/** The local time of a calendar date. A day that the month lacks runs into the next, and years below 100 mean themselves. */
export function utc(year: number, month: number, day: number, hour = 0, minute = 0, second = 0): number {
  const date = new Date(0);
  date.setUTCFullYear(year, month, day);
  return date.setUTCHours(hour, minute, second, 0);
}

/** An ISO 8601 duration, cut where calendar arithmetic ends: months and days are counted on the calendar, `exact` in ms. */
export interface Duration {
  readonly months: number;
  readonly days: number;
  readonly exact: number;
}

/** An ISO 8601 duration in whole units, with an optional leading sign; null when it is none. */
export function parseDuration(text: string): Duration | null {
  const match = DURATION.exec(text);
  if (!match || /[PT]$/.test(text)) return null;
  const sign = match[1] === '-' ? -1 : 1;
  const part = (index: number) => sign * Number(match[index] ?? 0);
  return {
    months: part(2) * 12 + part(3) || 0,
    days: part(4) * 7 + part(5) || 0,
    exact: part(6) * HOUR + part(7) * MINUTE + part(8) * 1000 || 0,
  };
}

/** Adds the calendar part: months first, kept inside the month they land in, then days. */
export function addCalendar(local: number, { months, days }: Duration): number {
  if (months === 0) return local + days * DAY;
  const from = new Date(local);
  const month = from.getUTCMonth() + months;
  const year = from.getUTCFullYear() + Math.floor(month / 12);
  const inYear = ((month % 12) + 12) % 12;
  const lastDay = new Date(utc(year, inYear + 1, 0)).getUTCDate();
  const timeOfDay = local - Math.floor(local / DAY) * DAY;
  return utc(year, inYear, Math.min(from.getUTCDate(), lastDay)) + timeOfDay + days * DAY;
}

/** Minutes since midnight of `HH:MM`; null when it is no time of day. */
export function parseTimeOfDay(text: string): number | null {
  const match = /^([01]\d|2[0-3]):([0-5]\d)$/.exec(text);
  return match ? Number(match[1]) * 60 + Number(match[2]) : null;
}

/** Month (0 to 11) and day of `MM-DD`, 02-29 included; null when no year has that day. */
export function parseYearDay(text: string): { month: number; day: number } | null {
  if (!/^\d{2}-\d{2}$/.test(text) || parseLocal(`2000-${text}`) === null) return null;
  return { month: Number(text.slice(0, 2)) - 1, day: Number(text.slice(3)) };
}
