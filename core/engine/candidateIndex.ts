import type { Rule } from '../rulebook/rulebook.ts';
import { at, lowestOf, type Bits } from './bits.ts';
import { emitProductFacts, emitVariantFacts, emitVisitorFacts } from '../facts/facts.ts';
import { PredicateTable, type FactScope } from '../facts/predicates.ts';
import { toConjunctions, type Exactness } from './conjunctions.ts';
import { ScopeIndex } from './scopeIndex.ts';
import {
  SURFACES,
  type ProductFacts,
  type Subject,
  type Surface,
  type VariantFacts,
  type VisitorFacts,
} from '../model/subject.ts';

/**
 * Which rules could count for a subject, as far as the clock has no part in it.
 *
 * Every rule is written out as conjunctions (rows), of which any will do: predicates that must be true, and predicates that
 * must not. A predicate asks one column for one of several values, so that a value leads straight to the predicates it
 * makes true, and those to the rows that need them. What a product, a variant or a visitor makes of the rows is kept as bits for as
 * long as its facts are; a subject's candidates are then those bits, joined by *and*.
 *
 * What cannot be known without the clock, or is not worth an index, is taken for possible: a rule that is not `exact`
 * has still to be asked. The facts given are never changed, as their types say.
 */
export class CandidateIndex {
  /** The rule (its index) that each row is of, in running order. */
  private readonly ruleOf: Int32Array;
  private readonly exactness: readonly Exactness[];
  private readonly scopes: Readonly<Record<FactScope, ScopeIndex>>;
  private readonly products = new WeakMap<ProductFacts, Bits>();
  private readonly variants = new WeakMap<VariantFacts, { readonly product: ProductFacts; readonly bits: Bits }>();
  private readonly visitors = new WeakMap<VisitorFacts, { readonly bits: Bits; readonly isDated: boolean }>();
  private readonly surfaces: ReadonlyMap<Surface, Bits>;
  private readonly noProduct: Bits;
  private readonly noVariant: Bits;

  /** @param rules with null for each that takes no part */
  constructor(rules: readonly (Pick<Rule, 'when'> | null)[]) {
    const predicates = new PredicateTable();
    const written = rules.map((rule) =>
      rule ? toConjunctions(rule.when, predicates) : { rows: [], exactness: 'never' as const },
    );
    this.exactness = written.map(({ exactness }) => exactness);
    const rows = written.flatMap(({ rows }, rule) => rows.map((row) => ({ row, rule })));
    this.ruleOf = Int32Array.from(rows, ({ rule }) => rule);
    const side = (name: FactScope) =>
      new ScopeIndex(
        predicates.of(name),
        rows.map(({ row }) => row),
      );
    this.scopes = {
      product: side('product'),
      variant: side('variant'),
      visitor: side('visitor'),
      surface: side('surface'),
    };
    this.surfaces = new Map(
      SURFACES.map((surface) => [
        surface,
        this.scopes.surface.bits((emit) => {
          emit.value('surface', surface);
        }),
      ]),
    );
    this.noProduct = this.scopes.product.bits(() => undefined);
    this.noVariant = this.scopes.variant.bits(() => undefined);
  }

  /** Whether a candidate counts for sure, as far as its conditions go; else it has to be asked. */
  isExact(rule: number, { visitor }: Subject): boolean {
    const exactness = this.exactness[rule];
    return exactness === 'always' || (exactness === 'unlessDated' && !this.ofVisitor(visitor).isDated);
  }

  /** Visits the candidates in running order, until one visit returns false. */
  each({ product, variant, visitor, surface }: Subject, visit: (rule: number) => boolean): void {
    const ofProduct = product ? this.ofProduct(product) : this.noProduct;
    const ofVariant = product && variant ? this.ofVariant(product, variant) : this.noVariant;
    const { bits: ofVisitor } = this.ofVisitor(visitor);
    const ofSurface = this.surfaces.get(surface) ?? ofProduct;
    let last = -1;
    for (let word = 0; word < ofProduct.length; word++) {
      let bits = at(ofProduct, word) & at(ofVariant, word) & at(ofVisitor, word) & at(ofSurface, word);
      while (bits !== 0) {
        const lowest = lowestOf(bits);
        bits &= bits - 1;
        const rule = this.ruleOf[(word << 5) + lowest] ?? -1;
        if (rule !== last && !visit(rule)) return;
        last = rule;
      }
    }
  }

  private ofProduct(product: ProductFacts): Bits {
    const known = this.products.get(product);
    if (known) return known;
    const bits = this.scopes.product.bits((emit) => {
      emitProductFacts(product, emit);
    });
    this.products.set(product, bits);
    return bits;
  }

  private ofVariant(product: ProductFacts, variant: VariantFacts): Bits {
    const known = this.variants.get(variant);
    if (known?.product === product) return known.bits;
    const bits = this.scopes.variant.bits((emit) => {
      emitVariantFacts(variant, product, emit);
    });
    this.variants.set(variant, { product, bits });
    return bits;
  }

  private ofVisitor(visitor: VisitorFacts): { readonly bits: Bits; readonly isDated: boolean } {
    const known = this.visitors.get(visitor);
    if (known) return known;
    const isDated = visitor.roles.some((role) => role.from !== null || role.until !== null);
    const bits = this.scopes.visitor.bits((emit) => {
      emitVisitorFacts(visitor, emit);
    });
    const made = { bits, isDated };
    this.visitors.set(visitor, made);
    return made;
  }
}
