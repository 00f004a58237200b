import { formulaOf, type Leaf } from '../facts/facts.ts';
import type { BooleanFormula, Predicate, PredicateTable } from '../facts/predicates.ts';
import type { Condition } from '../rulebook/condition.ts';
import { groupOf } from '../rulebook/condition.ts';

/** Whether a candidate matches without being evaluated: not if it depends on the clock, a cap or an unindexed predicate. */
export type Exactness = 'always' | 'unlessDated' | 'never';

/** Predicates that must be true, and predicates that must not. */
export interface Conjunction {
  readonly needs: ReadonlySet<Predicate>;
  readonly refuses: ReadonlySet<Predicate>;
}

const MAX_CONJUNCTIONS = 40;

/** A condition as rows; more rows than are worth it are one that is always possible. */
export function toConjunctions(
  when: Condition,
  predicates: PredicateTable,
): { rows: Conjunction[]; exactness: Exactness } {
  const formula = conditionFormula(when, true, predicates);
  const rows = expand(formula);
  if (!rows) return { rows: [{ needs: new Set(), refuses: new Set() }], exactness: 'never' };
  if (hasUnknown(formula)) return { rows, exactness: 'never' };
  const usesRoles = rows.some(({ needs, refuses }) => [...needs, ...refuses].some(({ column }) => column === 'role'));
  return { rows, exactness: usesRoles ? 'unlessDated' : 'always' };
}

function conditionFormula(condition: Condition, wanted: boolean, predicates: PredicateTable): BooleanFormula {
  const group = groupOf(condition);
  if (!group) return formulaOf(condition as Leaf, wanted, predicates);
  const isWanted = wanted !== (group.join === 'none');
  const members = group.members.map((member) => conditionFormula(member, isWanted, predicates));
  // None of them is all of them not (De Morgan).
  const isAll = group.join === 'none' ? wanted : (group.join === 'all') === wanted;
  return isAll ? { all: members } : { any: members };
}

function hasUnknown(formula: BooleanFormula): boolean {
  if (formula === 'unknown') return true;
  if ('predicate' in formula) return false;
  return ('all' in formula ? formula.all : formula.any).some(hasUnknown);
}

const mergeConjunctions = (a: Conjunction, b: Conjunction): Conjunction => ({
  needs: new Set([...a.needs, ...b.needs]),
  refuses: new Set([...a.refuses, ...b.refuses]),
});

/** Null when there are too many. */
function expand(formula: BooleanFormula): Conjunction[] | null {
  if (formula === 'unknown') return [{ needs: new Set(), refuses: new Set() }];
  if ('predicate' in formula) {
    const only = new Set([formula.predicate]);
    return [formula.wanted ? { needs: only, refuses: new Set() } : { needs: new Set(), refuses: only }];
  }
  let rows: Conjunction[] = 'all' in formula ? [{ needs: new Set(), refuses: new Set() }] : [];
  for (const member of 'all' in formula ? formula.all : formula.any) {
    const conjunctions = expand(member);
    if (!conjunctions) return null;
    rows =
      'all' in formula
        ? rows.flatMap((row) => conjunctions.map((other) => mergeConjunctions(row, other)))
        : [...rows, ...conjunctions];
    if (rows.length > MAX_CONJUNCTIONS) return null;
  }
  return rows;
}
