/** Part of the subject that a predicate reads. */
export type FactScope = 'product' | 'variant' | 'visitor' | 'surface';

/** Tests one column for any of several values, or for a number in a range. */
export interface Predicate {
  readonly scope: FactScope;
  readonly column: string;
  readonly values: readonly string[] | null;
  readonly low: number;
  readonly high: number;
  /** Whether a subject has at most one value in the column. */
  readonly isSingle: boolean;
  /** Whether values are nearly unique, so that no index over the catalog is kept. */
  readonly isUnique: boolean;
}

/** A condition over predicates; `unknown` may be either. */
export type BooleanFormula =
  | { readonly predicate: Predicate; readonly wanted: boolean }
  | { readonly all: readonly BooleanFormula[] }
  | { readonly any: readonly BooleanFormula[] }
  | 'unknown';

/** Makes the formulas of leaves, or of their negation. */
export interface PredicateMaker {
  /** True if any of the values is present, or none of them if `holds` is false. */
  among(
    scope: FactScope,
    column: string,
    values: readonly string[],
    more?: { readonly holds?: boolean; readonly isSingle?: true; readonly isUnique?: true },
  ): BooleanFormula;
  between(scope: FactScope, column: string, range: readonly [low: number, high: number]): BooleanFormula;
  /** True if all of the values are present. */
  each(members: readonly BooleanFormula[]): BooleanFormula;
  always(): BooleanFormula;
}

/** Predicates of a rulebook, without duplicates. */
export class PredicateTable {
  private readonly byKey = new Map<string, Predicate>();

  of(scope: FactScope): Predicate[] {
    return [...this.byKey.values()].filter((predicate) => predicate.scope === scope);
  }

  /** Returns a maker for leaves, or for their negations. */
  maker(wanted: boolean): PredicateMaker {
    return {
      among: (scope, column, values, { holds = true, isSingle = false, isUnique = false } = {}) => ({
        predicate: this.once(`${scope} ${column} ${JSON.stringify(values)}`, {
          scope,
          column,
          values,
          low: 0,
          high: 0,
          isSingle,
          isUnique,
        }),
        wanted: holds === wanted,
      }),
      between: (scope, column, [low, high]) => ({
        predicate: this.once(`${scope} ${column} ${low} ${high}`, {
          scope,
          column,
          values: null,
          low,
          high,
          isSingle: true,
          isUnique: false,
        }),
        wanted,
      }),
      each: (members) => (wanted ? { all: members } : { any: members }),
      always: () => (wanted ? { all: [] } : { any: [] }),
    };
  }

  private once(key: string, predicate: Predicate): Predicate {
    const known = this.byKey.get(key) ?? predicate;
    this.byKey.set(key, known);
    return known;
  }
}
