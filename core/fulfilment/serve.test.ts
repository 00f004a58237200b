import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON } from '#tests/support/arbitraries.ts';
import { shipsText } from '../texts/defaultTexts.ts';
import { allocate } from './allocation.ts';
import { shipDates } from './shipping.ts';

const waiting = (...units: number[]) => units.map((wanted, index) => ({ id: String(index), units: wanted }));

describe('an allocation', () => {
  it('serves who came first, gives nobody a part, and passes nobody over', () => {
    expect(allocate(5, waiting(2, 2, 2, 1))).toEqual({ served: ['0', '1'], left: 1 });
    expect(allocate(0, waiting(1))).toEqual({ served: [], left: 0 });
    expect(allocate(5, waiting(2, 2, 2, 1), new Set(['3']))).toEqual({ served: ['3', '0', '1'], left: 0 });
  });

  it('never gives more than there is, and the more there is the more are served', () => {
    const line = fc.array(fc.integer({ min: 1, max: 9 }), { maxLength: 30 });
    fc.assert(
      fc.property(line, fc.nat(120), fc.nat(20), (units, there, more) => {
        const queue = waiting(...units);
        const { served, left } = allocate(there, queue);
        const given = queue.filter(({ id }) => served.includes(id)).reduce((sum, one) => sum + one.units, 0);
        expect(given + left).toBe(there);
        expect(left).toBeGreaterThanOrEqual(0);
        expect(served).toEqual(queue.slice(0, served.length).map(({ id }) => id));
        expect(allocate(there + more, queue).served.slice(0, served.length)).toEqual(served);
      }),
    );
  });
});

describe('a ship date', () => {
  const at = { moment: Date.UTC(2026, 10, 25, 23, 30), shop: LISBON };
  const none = { dates: {} };
  it('is the rule’s, else the product’s own, and counts days by the shop’s calendar', () => {
    expect(shipDates(null, { dates: { ships: '2027-05-20' } }, at)).toEqual({ from: '2027-05-20', until: null });
    const window = { from: '2027-05-01', until: '2027-05-10', within: null };
    expect(shipDates(window, { dates: { ships: '2027-06-20' } }, at)).toEqual({
      from: '2027-05-01',
      until: '2027-05-10',
    });
    expect(shipDates({ from: null, until: null, within: 'P21D' }, none, at)).toEqual({
      from: null,
      until: '2026-12-16',
    });
    expect(shipDates(null, none, at)).toEqual({ from: null, until: null });
  });

  it('is said in the visitor’s language, and not at all where it is not known', () => {
    expect(shipsText({ from: '2027-05-20', until: null }, 'en', LISBON)).toBe('It ships from 20 May 2027.');
    expect(shipsText({ from: null, until: '2026-12-16' }, 'en', LISBON)).toBe('It ships by 16 December 2026.');
    expect(shipsText({ from: '2027-05-01', until: '2027-05-10' }, 'en', LISBON)).toBe(
      'It ships between 1 May 2027 and 10 May 2027.',
    );
    expect(shipsText({ from: null, until: null }, 'en', LISBON)).toBe('');
  });
});
