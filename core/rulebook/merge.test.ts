import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { book, make } from '#tests/support/oneVariant.ts';
import { rulebook } from '#tests/support/arbitraries.ts';
import { merge } from './merge.ts';

const rule = (id: string, label = id) => make(id, { control: { kind: 'buy', label } });
const ids = (merged: ReturnType<typeof merge>) => merged.rulebook.rules.map(({ id }) => id).join('');
const base = book(rule('a'), rule('b'), rule('c'));

describe('two drafts from one', () => {
  it('keep what either of them did alone', () => {
    const mine = book(rule('a', 'mine'), rule('b'), rule('c'));
    const theirs = book(rule('a'), rule('n'), rule('c', 'theirs'));
    const merged = merge(base, mine, theirs);
    expect(merged.clashes).toEqual([]);
    expect(merged.rulebook.rules).toEqual([rule('a', 'mine'), rule('n'), rule('c', 'theirs')]);
  });
  it('follow whoever moved rules', () => {
    expect(ids(merge(base, base, book(rule('c'), rule('a'), rule('b'))))).toBe('cab');
    expect(
      ids(merge(base, book(rule('b'), rule('a'), rule('c')), book(rule('a'), rule('b'), rule('c'), rule('n')))),
    ).toBe('bacn');
  });
  it('name each rule that both changed, deletions too, and take whose is picked', () => {
    const mine = book(rule('a', 'mine'), rule('c'));
    const theirs = book(rule('a', 'theirs'), rule('b', 'theirs'), rule('c'));
    const { clashes, rulebook: kept } = merge(base, mine, theirs);
    expect(clashes.map(({ id }) => id)).toEqual(['a', 'b']);
    expect(clashes[1]).toEqual({ id: 'b', mine: null, theirs: rule('b', 'theirs') });
    expect(kept).toEqual(mine);
    expect(merge(base, mine, theirs, () => 'theirs').rulebook).toEqual(theirs);
  });
  it('are theirs or mine when the other did nothing', () => {
    fc.assert(
      fc.property(rulebook, rulebook, (before, after) => {
        expect(merge(before, before, after)).toEqual({ rulebook: after, clashes: [] });
        expect(merge(before, after, before)).toEqual({ rulebook: after, clashes: [] });
      }),
    );
  });
});
