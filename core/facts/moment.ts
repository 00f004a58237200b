import { z } from 'zod';
import { parseDuration, parseLocal, parseTimeOfDay, parseYearDay } from '../model/calendar.ts';
import { memoize } from '../model/memoize.ts';
import { formatInstant } from '../model/zone.ts';
import { dateName } from '../texts/dateName.ts';
import { defineFact, leafSchema, Name } from './fact.ts';
import { aroundWindow, betweenWindow, inWindow, inWindows, weeklyWindows, yearlyWindows } from './windows.ts';
import { bounds, dateWords, durationWords, joined, quoted, speech, yearDayWords, type Names } from './wording.ts';

const LocalTime = z
  .string()
  .refine((text) => parseLocal(text) !== null, 'a local date or date-time: YYYY-MM-DD or YYYY-MM-DDTHH:MM');
const TimeOfDay = z.string().refine((text) => parseTimeOfDay(text) !== null, 'a time of day: HH:MM');
const YearDay = z.string().refine((text) => parseYearDay(text) !== null, 'a day of the year: MM-DD');
const Duration = z
  .string()
  .refine((text) => parseDuration(text) !== null, 'an ISO 8601 duration in whole units, such as P14D or -P120D');

const BOUND_MISSING = 'at least one of from and until';
const hasBound = ({ from, until }: { from?: string | undefined; until?: string | undefined }) =>
  from !== undefined || until !== undefined;

const Between = z
  .strictObject({ from: LocalTime.optional(), until: LocalTime.optional() })
  .refine(hasBound, BOUND_MISSING);
const Weekly = z.strictObject({
  days: z.array(z.int().min(1).max(7)).min(1).max(7),
  from: TimeOfDay,
  until: TimeOfDay,
});
const Yearly = z
  .strictObject({ from: YearDay, until: YearDay })
  .refine(({ from, until }) => from !== until, 'two different days');
const Around = z
  .strictObject({ date: Name, from: Duration.optional(), until: Duration.optional() })
  .refine(hasBound, BOUND_MISSING);

/** The moment of the decision: inside windows of the shop's calendar, or around one of the product's dates. */
export const moment = defineFact({
  name: 'moment',
  schema: z.discriminatedUnion('op', [
    leafSchema('moment', ['between'], Between),
    leafSchema('moment', ['weekly'], Weekly),
    leafSchema('moment', ['yearly'], Yearly),
    leafSchema('moment', ['around'], Around),
  ]),
  about: 'time',
  rank: 3,
  dependsOn: ({ op }) => (op === 'around' ? 'products' : 'view'),
  actual: ({ product, moment }, { zone }, leaf) =>
    leaf.op === 'around' ? (product?.dates[leaf.value.date] ?? null) : formatInstant(zone, moment),
  operators: {
    between: (expected, { zone }) => {
      const window = betweenWindow(zone, expected);
      return ({ moment }) => inWindow(window, moment);
    },
    weekly: (expected, { zone }) => {
      const matches = memoize((moment: number) => inWindows(weeklyWindows(zone, expected, moment), moment));
      return ({ moment }) => matches(moment);
    },
    yearly: (expected, { zone }) => {
      const matches = memoize((moment: number) => inWindows(yearlyWindows(zone, expected, moment), moment));
      return ({ moment }) => matches(moment);
    },
    around: (expected, { zone }) => {
      const windowAround = memoize((date: string | undefined) => aroundWindow(zone, expected, date));
      return ({ moment, product }) => inWindow(windowAround(product?.dates[expected.date]), moment);
    },
  },
  predicate: () => 'unknown',
  phrase: (leaf, names) => {
    switch (leaf.op) {
      case 'between':
        return bounds(leaf.value, (written) => dateWords(written));
      case 'weekly': {
        const { days, from, until } = leaf.value;
        return `${daysWords(days)}${from === '00:00' && until === from ? ', all day' : ` from ${from} until ${until}${until <= from ? ' the next day' : ''}`}`;
      }
      case 'yearly':
        return `every year from ${yearDayWords(leaf.value.from)} until ${yearDayWords(leaf.value.until)}`;
      case 'around':
        return aroundWords(leaf.value, names);
    }
  },
  asked: {
    group: 'Time',
    questions: [
      { label: 'from and until a date', op: 'between', start: null, value: 'between' },
      { label: 'relative to a product date', op: 'around', start: null, value: 'around' },
      {
        label: 'on days of the week',
        op: 'weekly',
        start: { days: [6, 7], from: '00:00', until: '00:00' },
        value: 'weekly',
      },
      { label: 'every year between two days', op: 'yearly', start: { from: '12-01', until: '01-07' }, value: 'yearly' },
    ],
  },
});

/** "every day", "on Mondays to Fridays", "on Mondays, Wednesdays and Fridays". */
function daysWords(days: readonly number[]): string {
  const sorted = [...new Set(days)].sort((a, b) => a - b);
  const names = sorted.map((day) => WEEKDAYS[day - 1] ?? '');
  if (sorted.length === 7) return 'every day';
  const isRun = sorted.length > 2 && sorted.every((day, index) => day === (sorted[0] ?? 0) + index);
  return `on ${isRun ? `${names[0] ?? ''} to ${names.at(-1) ?? ''}` : joined(names, 'and')}`;
}

function aroundWords({ date, from, until }: z.infer<typeof Around>, names: Names): string {
  // A name that reads like a standard date is put in quotation marks.
  const noun = names.date?.(date) ?? (/^(ship|release)$/.test(date) ? `${speech(date)} date` : dateName(date, quoted));
  return bounds({ from, until }, (written, first) => {
    const duration = parseDuration(written);
    const size = duration ? durationWords(duration) : written;
    const its = first || from === undefined ? `its ${noun}` : 'that date';
    if (size === '') return its;
    return `${size} ${written.startsWith('-') ? 'before' : 'after'} ${its}`;
  });
}

const WEEKDAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays'];
