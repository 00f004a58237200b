import fc from 'fast-check';
import { runs } from '#tests/support/sampling.ts';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import { zoneData } from '../../server/shopData/zoneData.ts';
import { addCalendar, parseDuration, parseLocal, utc } from './calendar.ts';
import { formatInstant, toInstant, toLocal } from './zone.ts';

const lisbon = zoneData('Europe/Lisbon');
const local = (text: string) => parseLocal(text) ?? NaN;
const at = (text: string) => new Date(toInstant(lisbon, local(text))).toISOString();

describe('a zone as data', () => {
  it('knows summer and winter', () => {
    expect(at('2027-01-12T09:00')).toBe('2027-01-12T09:00:00.000Z');
    expect(at('2027-07-12T09:00')).toBe('2027-07-12T08:00:00.000Z');
  });
  it('a skipped time is the first instant after the gap', () => {
    expect(at('2027-03-28T01:00')).toBe('2027-03-28T01:00:00.000Z');
    expect(at('2027-03-28T01:30')).toBe('2027-03-28T01:00:00.000Z');
    expect(at('2027-03-28T02:00')).toBe('2027-03-28T01:00:00.000Z');
  });
  it('a doubled time is the first of the two', () => {
    expect(at('2027-10-31T01:30')).toBe('2027-10-31T00:30:00.000Z');
    expect(at('2027-10-31T02:00')).toBe('2027-10-31T02:00:00.000Z');
  });
  it('writes instants with the zone’s own offset', () => {
    expect(formatInstant(lisbon, Date.UTC(2027, 4, 19, 23))).toBe('2027-05-20T00:00:00.000+01:00');
    expect(formatInstant(zoneData('America/St_Johns'), Date.UTC(2027, 0, 1))).toBe('2026-12-31T20:30:00.000-03:30');
  });

  const ZONES = [
    'Europe/Lisbon',
    'America/St_Johns',
    'Australia/Lord_Howe',
    'Africa/Casablanca',
    'Asia/Kathmandu',
    'UTC',
  ];
  it('agrees with a library everywhere, to the minute', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ZONES),
        fc.integer({ min: Date.UTC(1995, 0, 1) / 60_000, max: Date.UTC(2060, 0, 1) / 60_000 }),
        (name, minute) => {
          const zone = zoneData(name);
          const instant = minute * 60_000;
          const wall = DateTime.fromMillis(instant, { zone: name });
          expect(toLocal(zone, instant)).toBe(instant + wall.offset * 60_000);
          // The first instant at which the clock shows it is this one, or the earlier of a doubled hour.
          const first = Math.min(...wall.getPossibleOffsets().map((one) => one.toMillis()));
          expect(toInstant(zone, toLocal(zone, instant))).toBe(first);
        },
      ),
      runs(2000),
    );
  });
});

describe('the calendar', () => {
  it.each([
    '2027-02-29',
    '2027-13-01',
    '2027-01-32',
    '2027-01-01T24:00',
    '2027-1-1',
    '2027-01-01T10',
    'soon',
    '0000-01-01',
  ])('%s is no date', (text) => {
    expect(parseLocal(text)).toBeNull();
  });
  it.each(['', 'P', 'PT', 'P1DT', '1D', 'P1.5D', 'P-1D', 'P1H', 'P999999D', '--P1D'])('%s is no duration', (text) => {
    expect(parseDuration(text)).toBeNull();
  });
  it('reads durations in whole units, signed', () => {
    expect(parseDuration('-P1Y2M3W4DT5H6M7S')).toEqual({
      months: -14,
      days: -25,
      exact: -(5 * 3600 + 6 * 60 + 7) * 1000,
    });
    expect(parseDuration('P0D')).toEqual({ months: 0, days: 0, exact: 0 });
  });
  it('keeps a month’s end inside the month', () => {
    const plus = (date: string, duration: string) =>
      new Date(addCalendar(local(date), parseDuration(duration) ?? { months: 0, days: 0, exact: 0 }))
        .toISOString()
        .slice(0, 16);
    expect(plus('2027-01-31T10:30', 'P1M')).toBe('2027-02-28T10:30');
    expect(plus('2028-01-31', 'P1M')).toBe('2028-02-29T00:00');
    expect(plus('2027-03-31', '-P1M')).toBe('2027-02-28T00:00');
    expect(plus('2027-01-15', '-P13M1D')).toBe('2025-12-14T00:00');
  });
  it('lets 29 February run into March where there is none', () => {
    expect(new Date(utc(2027, 1, 29)).toISOString()).toBe('2027-03-01T00:00:00.000Z');
    expect(new Date(utc(2028, 1, 29)).toISOString()).toBe('2028-02-29T00:00:00.000Z');
  });
});
