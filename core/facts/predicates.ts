/** Part of the subject that a predicate reads. */
export type FactScope = 'product' | 'variant' | 'visitor' | 'surface';

/** One column, asked for one of several values or for a number between two. */
export interface Predicate {
  readonly scope: FactScope;
  readonly column: string;
  readonly values: readonly string[] | null;
  readonly low: number;
  readonly high: number;
  /** Whether a subject has one value of the column at most. */
  readonly isSingle: boolean;
  /** Whether hardly two subjects share a value, so that no index of a whole catalog is kept. */
  readonly isUnique: boolean;
}

/** A condition over predicates. `unknown` may be true and may be false. */
export type BooleanFormula =
  | { readonly predicate: Predicate; readonly wanted: boolean }
  | { readonly all: readonly BooleanFormula[] }
  | { readonly any: readonly BooleanFormula[] }
  | 'unknown';

/** Makes the formulas of leaves; what it makes is true where the leaf is `wanted`. */
export interface PredicateMaker {
  /** Whether one of the values is there, or none of them where `holds` is false. */
  among(
    scope: FactScope,
    column: string,
    values: readonly string[],
    more?: { readonly holds?: boolean; readonly isSingle?: true; readonly isUnique?: true },
  ): BooleanFormula;
  between(scope: FactScope, column: string, range: readonly [low: number, high: number]): BooleanFormula;
  /** All of them. */
  each(members: readonly BooleanFormula[]): BooleanFormula;
  always(): BooleanFormula;
}

/** The predicates of a rulebook, each once. */
export class PredicateTable {
  private readonly byKey = new Map<string, Predicate>();

  of(scope: FactScope): Predicate[] {
    return [...this.byKey.values()].filter((predicate) => predicate.scope === scope);
  }

  /** A maker for leaves that are wanted, or that are not. */
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
