import { toInstant, toLocal, type Zone } from '#core/model/zone.ts';
import { parseLocal } from '#core/model/calendar.ts';

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
const DAY_AND_YEAR = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  timeZone: 'UTC',
});
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: 'UTC' });

/** "14 Feb 10:00" in the shop's zone, with the year where it is not this one. */
export function momentWords(instant: number, zone: Zone, now = Date.now()): string {
  const local = toLocal(zone, instant);
  const sameYear = new Date(local).getUTCFullYear() === new Date(toLocal(zone, now)).getUTCFullYear();
  return `${(sameYear ? DAY : DAY_AND_YEAR).format(local)} ${TIME.format(local)}`;
}

/** "14 Feb" of a day (`YYYY-MM-DD`). */
export const shortDay = (day: string) => DAY.format(Date.parse(day));

/** "14 Feb 2027" in the shop's zone. */
export const dayWords = (instant: number, zone: Zone) => DAY_AND_YEAR.format(toLocal(zone, instant));

/** Value of a moment field (`YYYY-MM-DDTHH:MM`, in the shop's zone) for an instant. */
export const fieldTime = (instant: number, zone: Zone) => new Date(toLocal(zone, instant)).toISOString().slice(0, 16);

/** The instant that a field of moments names; null when it names none. */
export function instantOf(fieldText: string, zone: Zone): number | null {
  const local = parseLocal(fieldText);
  return local === null ? null : toInstant(zone, local);
}

const DAY_MS = 86_400_000;

/** Age of an instant: "3 days", "5 months". */
export function ageWords(instant: string, now = Date.now()): string {
  const days = Math.floor((now - Date.parse(instant)) / DAY_MS);
  if (days < 1) return 'under a day';
  const [count, unit] = days < 60 ? [days, 'day'] : [Math.floor(days / 30.44), 'month'];
  return `${count} ${unit}${count === 1 ? '' : 's'}`;
}
