import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../rulebook/leaf.ts';
import { groupOf } from './group.ts';
import { sameName } from '../model/names.ts';

/** What of a subject an atom looks at. */
export type FactScope = 'product' | 'variant' | 'visitor' | 'surface';

/** Whether being a candidate is enough: not where the clock, a cap, or what has no index has a say. */
export type Exactness = 'always' | 'unlessDated' | 'never';

export interface Conjunction {
  readonly needs: ReadonlySet<Predicate>;
  readonly refuses: ReadonlySet<Predicate>;
}

/** One fact, asked for one of several values or for a number between two. */
export interface Predicate {
  readonly scope: FactScope;
  readonly fact: string;
  readonly values: readonly string[] | null;
  readonly low: number;
  readonly high: number;
}

/** The atoms of a rulebook, each once. */
export class PredicateTable {
  private readonly byKey = new Map<string, Predicate>();

  among(scope: FactScope, fact: string, values: readonly string[]): Predicate {
    return this.once(`${scope} ${fact} ${JSON.stringify(values)}`, { scope, fact, values, low: 0, high: 0 });
  }

  between(scope: FactScope, fact: string, low: number, high: number): Predicate {
    return this.once(`${scope} ${fact} ${low} ${high}`, { scope, fact, values: null, low, high });
  }

  of(scope: FactScope): Predicate[] {
    return [...this.byKey.values()].filter((atom) => atom.scope === scope);
  }

  private once(key: string, atom: Predicate): Predicate {
    const known = this.byKey.get(key) ?? atom;
    this.byKey.set(key, known);
    return known;
  }
}

/** A condition over atoms. `unknown` may be true and may be false. */
export type BooleanFormula =
  | { readonly atom: Predicate; readonly wanted: boolean }
  | { readonly all: readonly BooleanFormula[] }
  | { readonly any: readonly BooleanFormula[] }
  | 'unknown';

const MAX_CONJUNCTIONS = 40;

/** A condition as rows; more rows than are worth it are one that is always possible. */
export function toConjunctions(when: Condition, atoms: PredicateTable): { rows: Conjunction[]; exactness: Exactness } {
  const formula = formulaOf(when, true, atoms);
  const rows = expand(formula);
  if (!rows) return { rows: [{ needs: new Set(), refuses: new Set() }], exactness: 'never' };
  if (hasUnknown(formula)) return { rows, exactness: 'never' };
  const usesRoles = rows.some(({ needs, refuses }) => [...needs, ...refuses].some(({ fact }) => fact === 'role'));
  return { rows, exactness: usesRoles ? 'unlessDated' : 'always' };
}

function formulaOf(condition: Condition, wanted: boolean, atoms: PredicateTable): BooleanFormula {
  const group = groupOf(condition);
  if (!group) return predicateOf(condition as Leaf, wanted, atoms);
  const isWanted = wanted !== (group.join === 'none');
  const members = group.members.map((member) => formulaOf(member, isWanted, atoms));
  // None of them is all of them not (De Morgan).
  const isAll = group.join === 'none' ? wanted : (group.join === 'all') === wanted;
  return isAll ? { all: members } : { any: members };
}

function hasUnknown(formula: BooleanFormula): boolean {
  if (formula === 'unknown') return true;
  if ('atom' in formula) return false;
  return ('all' in formula ? formula.all : formula.any).some(hasUnknown);
}

const mergeConjunctions = (a: Conjunction, b: Conjunction): Conjunction => ({
  needs: new Set([...a.needs, ...b.needs]),
  refuses: new Set([...a.refuses, ...b.refuses]),
});

/** Null when there are too many. */
function expand(formula: BooleanFormula): Conjunction[] | null {
  if (formula === 'unknown') return [{ needs: new Set(), refuses: new Set() }];
  if ('atom' in formula) {
    const only = new Set([formula.atom]);
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

const NEVER: BooleanFormula = { any: [] };
const ALWAYS: BooleanFormula = { all: [] };

/** What a leaf asks, in atoms. */
export function predicateOf(leaf: Leaf, wanted: boolean, atoms: PredicateTable): BooleanFormula {
  const among = (scope: FactScope, fact: string, values: readonly string[], holds = true): BooleanFormula => ({
    atom: atoms.among(scope, fact, values),
    wanted: holds === wanted,
  });
  const names = (values: readonly string[]) => values.map(sameName);
  switch (leaf.fact) {
    case 'product':
      return wanted ? ALWAYS : NEVER;
    case 'product.id':
      return among('product', 'id', leaf.value, leaf.op === 'in');
    case 'product.tags':
      if (leaf.op !== 'hasAll') return among('product', 'tag', names(leaf.value), leaf.op === 'hasAny');
      return each(names(leaf.value).map((name) => among('product', 'tag', [name])));
    case 'product.categories':
      if (leaf.op === 'exactly') return among('product', 'category', leaf.value);
      return among('product', 'within', leaf.value, leaf.op === 'within');
    case 'product.brand':
      return among('product', 'brand', names(leaf.value), leaf.op === 'in');
    case 'product.kind':
      return among('product', 'kind', names(leaf.value), leaf.op === 'in');
    case 'product.seller':
      return among('product', 'seller', names(leaf.value), leaf.op === 'in');
    case 'product.attribute':
      return among('product', `attribute ${leaf.value.name}`, names(leaf.value.values), leaf.op === 'in');
    case 'variant.id':
      return among('variant', 'id', leaf.value, leaf.op === 'in');
    case 'variant.option':
      return among('variant', `option ${leaf.value.name}`, names(leaf.value.values), leaf.op === 'in');
    case 'stock.status':
      return among('variant', 'status', leaf.value, leaf.op === 'in');
    case 'variant.price':
      return numeric('variant', 'price');
    case 'stock.quantity':
      return numeric('variant', 'quantity');
    case 'stock.productTotal':
      return numeric('product', 'total');
    case 'preorder.reserved':
      return numeric('variant', 'reserved');
    case 'waitlist.length':
      return numeric('variant', 'waiting');
    case 'visitor.signedIn':
      return among('visitor', 'signedIn', [String(leaf.value)]);
    case 'visitor.roles':
      if (leaf.op !== 'hasAll') return among('visitor', 'role', leaf.value, leaf.op === 'hasAny');
      return each(leaf.value.map((code) => among('visitor', 'role', [code])));
    case 'visitor.customer':
      return among('visitor', 'customer', leaf.value, leaf.op === 'in');
    case 'visitor.locale':
      return among(
        'visitor',
        'locale',
        leaf.value.map((range) => range.toLowerCase()),
      );
    case 'surface':
      return among('surface', 'surface', leaf.value);
    case 'product.path':
    case 'page.path':
    case 'visitor.invited':
    case 'moment':
      return 'unknown';
  }

  function each(members: readonly BooleanFormula[]): BooleanFormula {
    return wanted ? { all: members } : { any: members };
  }

  function numeric(scope: FactScope, fact: string): BooleanFormula {
    const [low, high] = rangeOf(leaf as Compared);
    return { atom: atoms.between(scope, fact, low, high), wanted };
  }
}

type Compared = Extract<Leaf, { value: number | [number, number] }>;

/** The whole numbers that a comparison takes, from the lowest to the highest. */
function rangeOf({ op, value }: Compared): readonly [number, number] {
  switch (op) {
    case 'lt':
      return [-Infinity, value - 1];
    case 'lte':
      return [-Infinity, value];
    case 'gt':
      return [value + 1, Infinity];
    case 'gte':
      return [value, Infinity];
    case 'eq':
      return [value, value];
    case 'between':
      return value;
  }
}
