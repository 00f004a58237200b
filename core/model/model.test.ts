import { describe, expect, it } from 'vitest';
import { visitorOf } from './audience.ts';
import { addCalendar, parseDuration, parseLocal, parseTimeOfDay, parseYearDay, utc } from './calendar.ts';
import {
  addressesOf,
  addressWith,
  categoryId,
  isWithin,
  parametersIn,
  sameAddress,
  sameName,
  samePath,
} from './names.ts';

describe('a local time', () => {
  it('is read to the second', () => {
    expect(parseLocal('2026-11-25T23:59:59')).toBe(Date.UTC(2026, 10, 25, 23, 59, 59));
    expect(parseLocal('2026-11-25T00:00')).toBe(Date.UTC(2026, 10, 25));
    expect(parseLocal('0001-01-01')).toBe(utc(1, 0, 1));
    expect(parseLocal('2024-02-29')).toBe(Date.UTC(2024, 1, 29));
  });
  it.each([
    '2026-11-25T24:00',
    '2026-11-25T10:60',
    '2026-11-25T10:00:60',
    '0000-01-01',
    '2026-02-29',
    '2026-04-31',
    '2026-13-01',
    '2026-00-10',
    '2026-01-00',
    '2026-1-1',
    ' 2026-11-25',
    '2026-11-25T10',
    '2026-11-25Z',
  ])('is not %s', (text) => {
    expect(parseLocal(text)).toBeNull();
  });
});

describe('a duration', () => {
  it('counts months and days on the calendar, and the rest exactly', () => {
    expect(parseDuration('P1Y2M1W3DT4H5M6S')).toEqual({ months: 14, days: 10, exact: ((4 * 60 + 5) * 60 + 6) * 1000 });
    expect(parseDuration('-P2D')).toEqual({ months: 0, days: -2, exact: 0 });
    expect(parseDuration('+PT30M')).toEqual({ months: 0, days: 0, exact: 1_800_000 });
    for (const text of ['P', 'PT', 'P1', 'P1DT', '1D', 'P1.5D', 'P100000D']) expect(parseDuration(text)).toBeNull();
  });
  it('stays in the month that it lands in', () => {
    const after = (from: string, duration: string) => addCalendar(parseLocal(from)!, parseDuration(duration)!);
    expect(after('2026-01-31T08:30', 'P1M')).toBe(parseLocal('2026-02-28T08:30'));
    expect(after('2024-02-29', 'P1Y')).toBe(parseLocal('2025-02-28'));
    expect(after('2026-03-31', '-P1M')).toBe(parseLocal('2026-02-28'));
    expect(after('2026-11-30', 'P2M1D')).toBe(parseLocal('2027-01-31'));
    expect(after('2026-11-30', 'P1D')).toBe(parseLocal('2026-12-01'));
  });
});

describe('a time of day, a day of the year', () => {
  it('are read, or are none', () => {
    expect(parseTimeOfDay('23:59')).toBe(23 * 60 + 59);
    expect(parseTimeOfDay('00:00')).toBe(0);
    for (const text of ['24:00', '9:00', '09:60', '09:00:00']) expect(parseTimeOfDay(text)).toBeNull();
    expect(parseYearDay('02-29')).toEqual({ month: 1, day: 29 });
    for (const text of ['02-30', '13-01', '2-29', '02-29 ']) expect(parseYearDay(text)).toBeNull();
  });
});

describe('names', () => {
  it('are the same whatever their case, their spaces around and their composition', () => {
    expect(sameName(' STRASSE\u0301 ')).toBe(sameName('strass\u00e9'));
    expect(sameName('straße')).not.toBe(sameName('strasse'));
  });
  it('make ids of categories', () => {
    expect(categoryId(['Plants', ' –Bulbs & tubers– ', 'Élite'])).toBe('plants/bulbs-tubers/elite');
    expect(categoryId([])).toBeNull();
    expect(categoryId(['Plants', '--'])).toBeNull();
    expect(isWithin('plants/bulbs', 'plants')).toBe(true);
    expect(isWithin('plants', 'plants')).toBe(true);
    expect(isWithin('plantsmen', 'plants')).toBe(false);
  });
  it('of pages are the same without query, fragment, slashes at the end and percent signs', () => {
    expect(samePath('/a/b//?x=1\n2#y')).toBe('/a/b');
    expect(samePath('/')).toBe('/');
    expect(samePath('/caf%C3%A9')).toBe('/café');
    expect(samePath('/50%')).toBe('/50%');
    expect(samePath('/a%00b')).toBe('/a%00b');
  });
  it('of products keep what follows a question mark, in order and decoded', () => {
    expect(sameAddress('/item/?shelf=2&i=44%2014#top')).toBe('/item?i=44 14&shelf=2');
    expect(sameAddress('/item?i=44+14&&shelf=2')).toBe('/item?i=44 14&shelf=2');
    expect(sameAddress('/item?')).toBe('/item');
    expect(sameAddress('/a/b#x?y')).toBe('/a/b');
    expect(addressesOf('/item?i=4')).toEqual(['/item?i=4', '/item']);
    expect(addressesOf('/item')).toEqual(['/item']);
  });
  it('of products are made of their own parameters alone', () => {
    const parameters = parametersIn(['/item?shelf=2&i=1', '/item?i=2', '/plants/x', '/item?shelf=a%26b']);
    expect(parameters).toEqual(['i', 'shelf']);
    expect(addressWith('/item?utm=x&shelf=2&i=1#y', parameters)).toBe('/item?i=1&shelf=2');
    expect(addressWith('/item?utm=x', parameters)).toBe('/item');
    expect(addressWith('/plants/x', parameters)).toBe('/plants/x');
  });
});

describe('an audience', () => {
  it('is somebody who has its roles at any moment, and nothing else', () => {
    expect(visitorOf({ signedIn: true, roles: ['trade'] })).toEqual({
      signedIn: true,
      roles: [{ code: 'trade', from: null, until: null }],
      customerId: null,
      locale: null,
      invitations: [],
    });
  });
});
