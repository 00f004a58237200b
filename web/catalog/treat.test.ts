import { rulesIn } from '#core/rulebook/entries.ts';
import { describe, expect, it } from 'vitest';
import { parse } from '#core/contract/validation.ts';
import { Rulebook } from '#core/rulebook/rulebook.ts';
import { book, make } from '#tests/support/oneVariant.ts';
import { land, TREATMENTS, type Treatment, type Wish } from './treat.ts';

const HOME = { locales: ['en', 'fr'], dates: ['ships'] };
const EMPTY = book();
const wish = (changed: Partial<Wish> = {}): Wish => ({
  product: 'fern',
  title: 'Shield fern',
  treatment: 'preorder',
  until: '2027-03-01',
  ...changed,
});

describe('what is wished for one product', () => {
  it.each(Object.keys(TREATMENTS) as Treatment[])('is a whole rule: %s', (treatment) => {
    for (const until of ['', '2027-03-01']) {
      const { rulebook, rule, isJoined } = land(EMPTY, wish({ treatment, until }), HOME);
      expect(isJoined).toBe(false);
      expect(rulebook.rules.map(({ id }) => id)).toEqual([rule]);
      expect(parse(Rulebook, rulebook).ok).toBe(true);
      expect(JSON.stringify(rulesIn(rulebook)[0]?.when).includes('moment')).toBe(until !== '');
    }
  });

  it('goes into the rule that says the same of other products, and only there', () => {
    const first = land(EMPTY, wish(), HOME);
    const second = land(first.rulebook, wish({ product: 'moss', title: 'Moss' }), HOME);
    expect(second).toMatchObject({ rule: first.rule, isJoined: true });
    expect(second.rulebook.rules).toHaveLength(1);
    expect(rulesIn(second.rulebook)[0]?.when).toMatchObject({ all: [{ value: ['fern', 'moss'] }, {}] });
    // The same again changes nothing.
    expect(land(second.rulebook, wish(), HOME).rulebook).toEqual(second.rulebook);
    const until = land(second.rulebook, wish({ product: 'aster', until: '2027-04-01' }), HOME);
    expect(until.isJoined).toBe(false);
    expect(land(until.rulebook, wish({ product: 'aster', treatment: 'waitlist' }), HOME).isJoined).toBe(false);
  });

  it('joins no rule that is off, closes the list, or asks more', () => {
    const [rule] = rulesIn(land(EMPTY, wish(), HOME).rulebook);
    const off = { ...rule!, on: false };
    const closing = { ...rule!, stopHere: true as const };
    const nested = { ...rule!, when: { all: [{ any: [(rule!.when as { all: object[] }).all[0]] }] } } as never;
    for (const other of [off, closing, nested])
      expect(land(book(other), wish({ product: 'moss' }), HOME).isJoined).toBe(false);
  });

  it('stands below what closes the shop, and says a label in the shop’s language', () => {
    const closed = make('closed', { control: { kind: 'notice', text: 'Closed' } });
    const { rulebook, rule } = land(book(closed), wish(), HOME);
    expect(rulebook.rules.map(({ id }) => id)).toEqual(['closed', rule]);
    const german = land(EMPTY, wish({ treatment: 'quote' }), { locales: ['de'], dates: [] });
    expect(rulesIn(german.rulebook)[0]?.then.price).toMatchObject({ text: { de: 'Price on request' } });
    expect(rulesIn(land(EMPTY, wish(), { locales: ['de'], dates: [] }).rulebook)[0]?.then.control).toEqual({
      kind: 'preorder',
    });
  });
});
