import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { condition } from '#tests/support/arbitraries.ts';
import { isAboutProducts } from '#core/rulebook/condition.ts';
import { askingFor, asksFor, asWhen, EVERYTHING, filterOf, isFiltered, toggled, writtenCondition } from './filter.ts';

const asked = (query: Record<string, string>) => filterOf(new URLSearchParams(query));
const RARE = askingFor('product.tags', 'rare');
const BULBS = askingFor('product.categories', 'plants/bulbs');

describe('what the address says is looked for', () => {
  it('is what was asked, whatever it was', () => {
    fc.assert(
      fc.property(condition.filter(isAboutProducts), (where) => {
        const written = writtenCondition(asWhen(where));
        const read = filterOf(new URLSearchParams({ where: written ?? '' })).where;
        expect(JSON.stringify(read ?? EVERYTHING)).toBe(written ?? JSON.stringify(EVERYTHING));
        expect(writtenCondition(asWhen(read))).toBe(written);
      }),
    );
  });
  it('leaves out what is no condition, or asks about people', () => {
    for (const where of ['{', '{"all":1}', 'null', '{"fact":"visitor.signedIn","op":"is","value":true}'])
      expect(asked({ where })).toEqual({ source: 'draft' });
    expect(asked({ shown: 'waitlist' }).shown).toBeUndefined();
    expect(isFiltered(asked({ sort: 'price' }))).toBe(false);
    expect(isFiltered(asked({ shown: 'waitlist', to: 'Guest' }))).toBe(true);
  });
  it('gains and loses a tag or a category beside all else that is asked', () => {
    expect(toggled(undefined, RARE)).toEqual(RARE);
    const both = toggled(RARE, BULBS)!;
    expect(both).toEqual({ all: [RARE, BULBS] });
    expect([asksFor(both, 'product.tags', 'Rare '), asksFor(both, 'product.tags', 'late')]).toEqual([true, false]);
    expect(toggled(both, RARE)).toEqual(BULBS);
    expect(toggled(BULBS, BULBS)).toBeNull();
    const any = { any: [RARE, BULBS] };
    expect(toggled(any, RARE)).toEqual({ all: [any, RARE] });
  });
});
