import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  countedLines,
  deliveryOf,
  partsOver,
  QUOTE_PART_STATES,
  QUOTE_SENDING,
  stateByParts,
  validUntilOf,
} from './quoteParts.ts';

const part = fc.record({
  state: fc.constantFrom(...QUOTE_PART_STATES),
  delivery: fc.option(fc.nat(9000)),
  validUntil: fc.option(fc.nat(100).map((day) => new Date(day * 86_400_000))),
});
/** Parts of a quote, each of another seller, the first of the shop. */
const parts = fc
  .array(part, { minLength: 1, maxLength: 5 })
  .map((all) => all.map((one, index) => ({ ...one, seller: index === 0 ? null : `seller-${index}` })));
const quote = parts.chain((all) =>
  fc.record({
    parts: fc.constant(all),
    lines: fc.array(
      fc.record({ seller: fc.constantFrom(...all.map(({ seller }) => seller)), unitPrice: fc.option(fc.nat(500)) }),
      { minLength: 1, maxLength: 8 },
    ),
  }),
);

describe('a quote in parts', () => {
  it('is sent when nothing of it is left to price; in parts, as soon as something has a price', () => {
    fc.assert(
      fc.property(parts, fc.constantFrom(...QUOTE_SENDING), (all, sending) => {
        const states = all.map(({ state }) => state);
        const state = stateByParts(all, sending);
        expect(state === 'turnedDown').toBe(states.every((one) => one === 'turnedDown'));
        if (sending === 'together')
          expect(state === 'priced').toBe(!states.includes('asked') && states.includes('priced'));
        else expect(state === 'priced').toBe(states.includes('priced'));
      }),
    );
  });

  it('comes to what is priced once it was sent, and is good until the first of it is over', () => {
    fc.assert(
      fc.property(quote, ({ parts: all, lines }) => {
        const priced = all.filter(({ state }) => state === 'priced');
        const isPriced = (seller: string | null) => priced.some((one) => one.seller === seller);
        const sent = countedLines(lines, all, true);
        const counted = lines.filter(({ seller, unitPrice }) => isPriced(seller) && unitPrice !== null);
        expect(sent).toEqual(counted.length > 0 ? counted : lines);
        const until = validUntilOf(all);
        if (until) {
          expect(partsOver(all, new Date(until.getTime() - 1))).toEqual([]);
          expect(partsOver(all, until).length).toBeGreaterThan(0);
        } else expect(partsOver(all, new Date(1e12))).toEqual([]);
      }),
    );
  });

  it('has the delivery of each that named one, and none where nobody did', () => {
    const one = { state: 'priced', validUntil: null } as const;
    const of = (...deliveries: (number | null)[]) =>
      deliveryOf(deliveries.map((delivery, index) => ({ ...one, seller: `seller-${index}`, delivery })));
    expect([of(1500, 700), of(null, 0), of(null), of()]).toEqual([2200, 0, null, null]);
    expect(deliveryOf([{ ...one, state: 'asked', seller: null, delivery: 900 }])).toBeNull();
  });
});
