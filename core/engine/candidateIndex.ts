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
 * Finds the rules that could match a subject, ignoring the clock.
 *
 * Every rule is written out as conjunctions (rows), of which any will do: predicates that must be true, and predicates that
 * must not. A predicate asks one column for one of several values, so that a value leads straight to the predicates it
 * makes true, and those to the rows that need them. A product, a variant, a visitor and a surface each leave some of the rows, as
 * bits; a subject's candidates are then those bits, joined by *and*.
 *
 * Predicates that depend on the clock or are not worth an index count as possible, so a rule that is not `exact` still
 * has to be evaluated. Facts are never mutated.
 */
export class CandidateIndex {
  /** The rule (its index) that each row is of, in running order. */
  private readonly ruleOf: Int32Array;
  private readonly exactness: readonly Exactness[];
  private readonly scopes: Readonly<Record<FactScope, ScopeIndex>>;
  private readonly surfaces: ReadonlyMap<Surface, Bits>;
  private readonly noProduct: Bits;
  private readonly noVariant: Bits;

  /** @param rules null for each that does not take part */
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

  /** Rows that are still possible for a product. */
  ofProduct(product: ProductFacts | null): Bits {
    return product
      ? this.scopes.product.bits((emit) => {
          emitProductFacts(product, emit);
        })
      : this.noProduct;
  }

  /** Rows that are still possible for a variant. */
  ofVariant(product: ProductFacts | null, variant: VariantFacts | null): Bits {
    return product && variant
      ? this.scopes.variant.bits((emit) => {
          emitVariantFacts(variant, product, emit);
        })
      : this.noVariant;
  }

  /** Rows that are still possible for a visitor. */
  ofVisitor(visitor: VisitorFacts): Bits {
    return this.scopes.visitor.bits((emit) => {
      emitVisitorFacts(visitor, emit);
    });
  }

  /** Rows that are still possible on a surface. */
  ofSurface(surface: Surface): Bits {
    return this.surfaces.get(surface) ?? this.noProduct;
  }

  /** Reads the rules that remain possible for a subject. */
  read({ product, variant, visitor, surface }: Subject): Reading {
    return {
      product: this.ofProduct(product),
      variant: this.ofVariant(product, variant),
      visitor: this.ofVisitor(visitor),
      surface: this.ofSurface(surface),
    };
  }

  /** Whether a candidate's conditions certainly hold; otherwise they must be evaluated. */
  isExact(rule: number, isDated: boolean): boolean {
    const exactness = this.exactness[rule];
    return exactness === 'always' || (exactness === 'unlessDated' && !isDated);
  }

  /** Visits candidates in running order until a visit returns false. @returns whether all were visited */
  each({ product, variant, visitor, surface }: Reading, visit: (rule: number) => boolean): boolean {
    let last = -1;
    for (let word = 0; word < product.length; word++) {
      let bits = at(product, word) & at(variant, word) & at(visitor, word) & at(surface, word);
      while (bits !== 0) {
        const lowest = lowestOf(bits);
        bits &= bits - 1;
        const rule = this.ruleOf[(word << 5) + lowest] ?? -1;
        if (rule !== last && !visit(rule)) return false;
        last = rule;
      }
    }
    return true;
  }
}

/** Rows that each part of a subject leaves possible. */
export interface Reading {
  readonly product: Bits;
  readonly variant: Bits;
  readonly visitor: Bits;
  readonly surface: Bits;
}

/** Whether the clock decides which roles a visitor has. */
export const isDated = ({ roles }: VisitorFacts): boolean =>
  roles.some((role) => role.from !== null || role.until !== null);
