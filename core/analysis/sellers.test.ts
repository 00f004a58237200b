import { sellerRuleId } from '../rulebook/entries.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, marketplace, sellers, subject } from '#tests/support/arbitraries.ts';
import { finished } from '#tests/support/finished.ts';
import { found } from '#tests/support/planted.ts';
import { book, everything, make, product } from '#tests/support/oneVariant.ts';
import { runs } from '#tests/support/sampling.ts';
import { hasBit } from '../engine/bits.ts';
import { compile, type CompiledRulebook } from '../engine/compile.ts';
import { decide, decideVariants, reasonsOf, resolving } from '../engine/decide.ts';
import { decideListing } from '../engine/listing.ts';
import { sameName } from '../model/names.ts';
import type { ProductFacts, ProductSubject, ViewContext } from '../model/subject.ts';
import { SELLER_ASPECTS } from '../rulebook/sellers.ts';
import { RULE_KINDS } from '../controls/controls.ts';
import { Columns } from './columns.ts';
import { rowsDecidedBy } from './productSearch.ts';
import { impactOf } from './impact.ts';
import { changeBetween } from './outcomeDiffer.ts';
import { RowOutcomes } from './rowOutcomes.ts';
import { RuleMatcher } from './ruleMatcher.ts';

/** Several words of rows, by their sellers as a shop's catalog is read, or as they come. */
const goods = fc
  .tuple(fc.array(subject, { minLength: 20, maxLength: 60 }), fc.boolean())
  .map(([subjects, isInOrder]) => {
    const products = subjects.map(({ product: one }, index): ProductFacts => ({ ...one, id: `${one.id} ${index}` }));
    const key = ({ seller }: ProductFacts) => sameName(seller ?? '');
    return { subjects, products: isInOrder ? products.sort((a, b) => (key(a) < key(b) ? -1 : 1)) : products };
  });
const lookOf = ({ visitor, moment, surface }: ProductSubject): ViewContext => ({
  visitor,
  moment,
  surface,
  page: null,
});
const rowsOf = (products: readonly ProductFacts[]) =>
  products.flatMap((one) => one.variants.map((variant) => ({ product: one, variant })));

/** Each compiled twice, so that nothing is known of the one from having asked the other. */
function reasonsByColumns(rulebook: CompiledRulebook, look: ViewContext, products: readonly ProductFacts[]) {
  const outcomes = new RowOutcomes(new RuleMatcher(new Columns(products)), rulebook, (winning, seen) => ({
    reasons: reasonsOf(winning, resolving(winning, seen, rulebook.shop).control),
  }));
  const found: unknown[] = [];
  finished(
    outcomes.visit(outcomes.look(look), (row, { reasons }) => {
      found[row] = reasons;
    }),
  );
  return found;
}

describe('a whole catalog with sellers', () => {
  it('who decides: the same as deciding each variant', () => {
    fc.assert(
      fc.property(marketplace, sellers, goods, (rules, all, { subjects, products }) => {
        const look = lookOf(subjects[0]!);
        const rulebook = compile(rules, LISBON, all);
        const expected = rowsOf(products).map(
          (one) => decide(compile(rules, LISBON, all), { ...look, ...one }).reasons,
        );
        expect(reasonsByColumns(rulebook, look, products)).toEqual(expected);
      }),
      runs(150),
    );
  });

  it('what a seller’s rule decides, for anybody who looks', () => {
    fc.assert(
      fc.property(marketplace, sellers, goods, (rules, all, { subjects, products }) => {
        const looks = subjects.slice(0, 2).map(lookOf);
        const rulebook = compile(rules, LISBON, all);
        const rows = rowsOf(products);
        for (const seller of all)
          for (const { id } of seller.rules.slice(0, 2)) {
            const name = sellerRuleId(seller.id, id);
            const bits = finished(rowsDecidedBy(new RuleMatcher(new Columns(products)), rulebook, looks, name));
            const decides = (one: (typeof rows)[number]) =>
              looks.some((look) =>
                Object.values(decide(rulebook, { ...look, ...one }).reasons).some((ids) => ids.includes(name)),
              );
            expect(rows.map((_one, row) => hasBit(bits, row))).toEqual(rows.map(decides));
          }
      }),
      runs(100),
    );
  });

  it.each(['product', 'listing'] as const)('what changes when sellers and owner change rules: %s', (surface) => {
    fc.assert(
      fc.property(
        fc.tuple(marketplace, marketplace),
        fc.tuple(sellers, sellers),
        fc.boolean(),
        goods,
        ([one, other], [earlier, later], isSameOwner, { subjects, products }) => {
          const was = compile(one, LISBON, earlier);
          const is = compile(isSameOwner ? one : other, LISBON, later);
          const visitors = subjects.slice(0, 2).map(({ visitor }) => visitor);
          const moments = subjects.slice(0, 2).map(({ moment }) => moment);
          const columns = new Columns(products);
          const isTogether = surface === 'listing';
          const onlookers = { visitors, surface, isTogether };
          const groups = finished(impactOf(new RuleMatcher(columns), onlookers, was, is, moments));
          const { row, visitor } = groups.changes();
          const named = [...row].map((at, index) => {
            const { product: of, variant } = columns.variantAt(at);
            return `${isTogether ? of.id : `${of.id} ${variant.id}`} by ${visitor[index]}`;
          });
          const expected = visitors.flatMap((who, place) =>
            products.flatMap((of) =>
              (isTogether ? of.variants.slice(0, 1) : of.variants)
                .filter((variant) =>
                  moments.some((moment) => {
                    const seen = { visitor: who, moment, surface, page: null };
                    const decided = (book: CompiledRulebook) =>
                      isTogether
                        ? decideListing(decideVariants(book, of, seen), of, null, LISBON)
                        : decide(book, { ...seen, product: of, variant });
                    return changeBetween(decided(was), decided(is)).aspects.length > 0;
                  }),
                )
                .map((variant) => `${isTogether ? of.id : `${of.id} ${variant.id}`} by ${place}`),
            ),
          );
          expect([...new Set(named)].sort()).toEqual([...new Set(expected)].sort());
        },
      ),
      runs(100),
    );
  });

  it('finds what a seller should see in their own rules, among the owner’s', () => {
    const theirs = { ...product, seller: 'Nettlefold Growers' };
    const allowed = {
      kinds: [...RULE_KINDS],
      aspects: [...SELLER_ASPECTS],
      hidesPrices: true,
      ownWords: true,
      mostUnits: null,
    };
    const wish = make('wish', { control: { kind: 'quote' } });
    const above = make('above', { control: { kind: 'nothing' } }, everything);
    const entry = { id: 'sellers', sellers: true, on: true } as const;
    const seller = { id: 'nettlefold', names: ['Nettlefold growers'], allowed, rules: [wish] };
    const rulebook = compile({ ...book(), rules: [above, entry] }, LISBON, [seller]);
    const kinds = (isOfSeller: boolean) =>
      found([], [theirs], { rulebook, isOfSeller }).map(({ rule, about }) => [rule, about.kind]);
    expect(kinds(true)).toContainEqual(['sellers/nettlefold/wish', 'neverWins']);
    expect(kinds(true).every(([rule]) => rule === 'sellers/nettlefold/wish')).toBe(true);
    expect(kinds(false).every(([rule]) => rule === 'above')).toBe(true);
    expect(found([], [theirs], { rulebook, isOfSeller: true }).every(({ quickFix }) => quickFix === null)).toBe(true);
  });
});
