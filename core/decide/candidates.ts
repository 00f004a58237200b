import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../rulebook/leaf.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { groupOf } from './group.ts';
import { sameName } from './names.ts';
import {
  stockStatuses,
  SURFACES,
  type ProductFacts,
  type Subject,
  type Surface,
  type VariantFacts,
  type VisitorFacts,
} from './subject.ts';

/**
 * Which rules could count for a subject, as far as the clock has no part in it.
 *
 * Every rule is written out as rows, of which any will do; a row is a list of atoms that must be true and of atoms that
 * must not. An atom asks one fact for one of several values, so that a value leads straight to the atoms it makes true,
 * and those to the rows that need them. What a product, a variant or a visitor makes of the rows is kept as bits for as
 * long as its facts are; a subject's candidates are then those bits, joined by *and*.
 *
 * What cannot be known without the clock, or is not worth an index, is taken for possible: a rule that is not `exact`
 * has still to be asked. The facts given are never changed, as their types say.
 */
export class Candidates {
  /** The rule (its index) that each row is of, in running order. */
  private readonly ruleOf: Int32Array;
  private readonly exactness: readonly Exactness[];
  private readonly sides: Readonly<Record<Side, SideIndex>>;
  private readonly products = new WeakMap<ProductFacts, Bits>();
  private readonly variants = new WeakMap<VariantFacts, { readonly product: ProductFacts; readonly bits: Bits }>();
  private readonly visitors = new WeakMap<VisitorFacts, { readonly bits: Bits; readonly isDated: boolean }>();
  private readonly surfaces: ReadonlyMap<Surface, Bits>;
  private readonly noProduct: Bits;
  private readonly noVariant: Bits;

  /** @param rules with null for each that takes no part */
  constructor(rules: readonly (Pick<Rule, 'when'> | null)[]) {
    const atoms = new Atoms();
    const written = rules.map((rule) => (rule ? rowsOf(rule.when, atoms) : { rows: [], exactness: 'never' as const }));
    this.exactness = written.map(({ exactness }) => exactness);
    const rows = written.flatMap(({ rows }, rule) => rows.map((row) => ({ row, rule })));
    this.ruleOf = Int32Array.from(rows, ({ rule }) => rule);
    const side = (name: Side) =>
      new SideIndex(
        atoms.of(name),
        rows.map(({ row }) => row),
      );
    this.sides = {
      product: side('product'),
      variant: side('variant'),
      visitor: side('visitor'),
      surface: side('surface'),
    };
    this.surfaces = new Map(
      SURFACES.map((surface) => [
        surface,
        this.sides.surface.bits((has) => {
          has('surface', surface);
        }),
      ]),
    );
    this.noProduct = this.sides.product.bits(() => undefined);
    this.noVariant = this.sides.variant.bits(() => undefined);
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
        const lowest = 31 - Math.clz32(bits & -bits);
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
    const bits = this.sides.product.bits((has, number) => {
      has('id', product.id);
      for (const tag of product.tags) has('tag', tag);
      for (const category of product.categories) {
        has('category', category);
        for (let end = category.length; end > 0; end = category.lastIndexOf('/', end - 1)) {
          has('within', category.slice(0, end));
        }
      }
      has('brand', product.brand);
      has('kind', product.kind);
      has('seller', product.seller);
      for (const name of Object.keys(product.attributes)) has(`attribute ${name}`, product.attributes[name]);
      let total: number | null = null;
      for (const { stock } of product.variants) if (stock.tracked) total = (total ?? 0) + stock.quantity;
      number('total', total);
    });
    this.products.set(product, bits);
    return bits;
  }

  private ofVariant(product: ProductFacts, variant: VariantFacts): Bits {
    const known = this.variants.get(variant);
    if (known?.product === product) return known.bits;
    const bits = this.sides.variant.bits((has, number) => {
      has('id', variant.id);
      for (const name of Object.keys(variant.options)) has(`option ${name}`, variant.options[name]);
      for (const status of stockStatuses(variant.stock)) has('status', status);
      number('price', variant.price);
      number('quantity', variant.stock.tracked ? variant.stock.quantity : null);
      number('reserved', variant.reserved);
      number('waiting', product.waiting + variant.waiting);
    });
    this.variants.set(variant, { product, bits });
    return bits;
  }

  private ofVisitor(visitor: VisitorFacts): { readonly bits: Bits; readonly isDated: boolean } {
    const known = this.visitors.get(visitor);
    if (known) return known;
    const isDated = visitor.roles.some((role) => role.from !== null || role.until !== null);
    const bits = this.sides.visitor.bits((has) => {
      has('signedIn', String(visitor.signedIn));
      has('customer', visitor.customerId);
      // A role that has dates may be held, and may not.
      for (const { code, from, until } of visitor.roles) has('role', code, from === null && until === null);
      const locale = visitor.locale?.toLowerCase() ?? '';
      for (let end = locale.length; end > 0; end = locale.lastIndexOf('-', end - 1))
        has('locale', locale.slice(0, end));
    });
    const made = { bits, isDated };
    this.visitors.set(visitor, made);
    return made;
  }
}

/** One bit a row that is possible: row n is bit n % 32 of word n / 32. */
type Bits = Uint32Array;
const at = (bits: Bits, word: number) => bits[word] ?? 0;

type Side = 'product' | 'variant' | 'visitor' | 'surface';

/** Whether being a candidate is enough: not where the clock, a cap, or what has no index has a say. */
type Exactness = 'always' | 'unlessDated' | 'never';

interface Row {
  readonly needs: ReadonlySet<Atom>;
  readonly refuses: ReadonlySet<Atom>;
}

/** One fact, asked for one of several values or for a number between two. */
interface Atom {
  readonly side: Side;
  readonly fact: string;
  readonly values: readonly string[] | null;
  readonly low: number;
  readonly high: number;
}

/** The atoms of a rulebook, each once. */
class Atoms {
  private readonly byKey = new Map<string, Atom>();

  among(side: Side, fact: string, values: readonly string[]): Atom {
    return this.once(`${side} ${fact} ${JSON.stringify(values)}`, { side, fact, values, low: 0, high: 0 });
  }

  between(side: Side, fact: string, low: number, high: number): Atom {
    return this.once(`${side} ${fact} ${low} ${high}`, { side, fact, values: null, low, high });
  }

  of(side: Side): Atom[] {
    return [...this.byKey.values()].filter((atom) => atom.side === side);
  }

  private once(key: string, atom: Atom): Atom {
    const known = this.byKey.get(key) ?? atom;
    this.byKey.set(key, known);
    return known;
  }
}

/** A condition over atoms. `unknown` may be true and may be false. */
type Formula =
  | { readonly atom: Atom; readonly wanted: boolean }
  | { readonly all: readonly Formula[] }
  | { readonly any: readonly Formula[] }
  | 'unknown';

const MOST_ROWS = 40;

/** A condition as rows; more rows than are worth it are one that is always possible. */
function rowsOf(when: Condition, atoms: Atoms): { rows: Row[]; exactness: Exactness } {
  const formula = formulaOf(when, true, atoms);
  const rows = expand(formula);
  if (!rows) return { rows: [{ needs: new Set(), refuses: new Set() }], exactness: 'never' };
  if (hasUnknown(formula)) return { rows, exactness: 'never' };
  const usesRoles = rows.some(({ needs, refuses }) => [...needs, ...refuses].some(({ fact }) => fact === 'role'));
  return { rows, exactness: usesRoles ? 'unlessDated' : 'always' };
}

function formulaOf(condition: Condition, wanted: boolean, atoms: Atoms): Formula {
  const group = groupOf(condition);
  if (!group) return ofLeaf(condition as Leaf, wanted, atoms);
  const isWanted = wanted !== (group.join === 'none');
  const members = group.members.map((member) => formulaOf(member, isWanted, atoms));
  // None of them is all of them not (De Morgan).
  const isAll = group.join === 'none' ? wanted : (group.join === 'all') === wanted;
  return isAll ? { all: members } : { any: members };
}

function hasUnknown(formula: Formula): boolean {
  if (formula === 'unknown') return true;
  if ('atom' in formula) return false;
  return ('all' in formula ? formula.all : formula.any).some(hasUnknown);
}

const MERGED = (a: Row, b: Row): Row => ({
  needs: new Set([...a.needs, ...b.needs]),
  refuses: new Set([...a.refuses, ...b.refuses]),
});

/** Null when there are too many. */
function expand(formula: Formula): Row[] | null {
  if (formula === 'unknown') return [{ needs: new Set(), refuses: new Set() }];
  if ('atom' in formula) {
    const only = new Set([formula.atom]);
    return [formula.wanted ? { needs: only, refuses: new Set() } : { needs: new Set(), refuses: only }];
  }
  let rows: Row[] = 'all' in formula ? [{ needs: new Set(), refuses: new Set() }] : [];
  for (const member of 'all' in formula ? formula.all : formula.any) {
    const own = expand(member);
    if (!own) return null;
    rows = 'all' in formula ? rows.flatMap((row) => own.map((other) => MERGED(row, other))) : [...rows, ...own];
    if (rows.length > MOST_ROWS) return null;
  }
  return rows;
}

const NEVER: Formula = { any: [] };
const ALWAYS: Formula = { all: [] };

/** What a leaf asks, in atoms. */
function ofLeaf(leaf: Leaf, wanted: boolean, atoms: Atoms): Formula {
  const among = (side: Side, fact: string, values: readonly string[], holds = true): Formula => ({
    atom: atoms.among(side, fact, values),
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

  function each(members: readonly Formula[]): Formula {
    return wanted ? { all: members } : { any: members };
  }

  function numeric(side: Side, fact: string): Formula {
    const [low, high] = rangeOf(leaf as Compared);
    return { atom: atoms.between(side, fact, low, high), wanted };
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

/** Tells an index that a fact has a value; `isCertain` is false where it may yet not have it. */
type Has = (fact: string, value: string | null | undefined, isCertain?: boolean) => void;
type HasNumber = (fact: string, value: number | null) => void;

/** Facts whose values are compared as people would tell them apart. */
const NAMED = /^(tag|brand|kind|seller|attribute .*|option .*)$/s;

/** The atoms that look at one side of a subject, and what they mean to every row. */
class SideIndex {
  /** Rows that need nothing of this side. */
  private readonly free: Bits;
  /** How many atoms of this side each row needs. */
  private readonly needed: Uint16Array;
  private readonly neededBy: readonly Int32Array[];
  private readonly refusedBy: readonly Int32Array[];
  private readonly byValue = new Map<string, { readonly isNamed: boolean; readonly values: Map<string, number[]> }>();
  private readonly byNumber = new Map<
    string,
    { readonly low: number; readonly high: number; readonly index: number }[]
  >();
  /** Scratch, all zero between uses: how many needs of each row are met, and which atoms have been counted. */
  private readonly met: Uint16Array;
  private readonly counted: Uint8Array;

  constructor(atoms: readonly Atom[], rows: readonly Row[]) {
    const indexOf = new Map(atoms.map((atom, index) => [atom, index]));
    const mine = (set: ReadonlySet<Atom>) => [...set].flatMap((atom) => indexOf.get(atom) ?? []);
    const neededBy: number[][] = atoms.map(() => []);
    const refusedBy: number[][] = atoms.map(() => []);
    this.needed = new Uint16Array(rows.length);
    this.met = new Uint16Array(rows.length);
    this.counted = new Uint8Array(atoms.length);
    this.free = new Uint32Array(Math.ceil(rows.length / 32));
    rows.forEach(({ needs, refuses }, row) => {
      const needing = mine(needs);
      for (const atom of needing) neededBy[atom]?.push(row);
      for (const atom of mine(refuses)) refusedBy[atom]?.push(row);
      this.needed[row] = needing.length;
      if (needing.length === 0) setBit(this.free, row);
    });
    this.neededBy = neededBy.map((list) => Int32Array.from(list));
    this.refusedBy = refusedBy.map((list) => Int32Array.from(list));
    atoms.forEach(({ fact, values, low, high }, index) => {
      if (values === null) {
        this.byNumber.set(fact, [...(this.byNumber.get(fact) ?? []), { low, high, index }]);
        return;
      }
      const ofFact = this.byValue.get(fact) ?? { isNamed: NAMED.test(fact), values: new Map<string, number[]>() };
      this.byValue.set(fact, ofFact);
      for (const value of new Set(values)) ofFact.values.set(value, [...(ofFact.values.get(value) ?? []), index]);
    });
  }

  /** The rows that are possible when the facts of this side are those that `tell` tells. */
  bits(tell: (has: Has, hasNumber: HasNumber) => void): Bits {
    const bits = this.free.slice();
    const isTrue: number[] = [];
    const isCertain: number[] = [];
    const count = (atom: number, certain: boolean) => {
      const before = this.counted[atom] ?? 0;
      if (before === 0) isTrue.push(atom);
      if (certain && before < 2) isCertain.push(atom);
      this.counted[atom] = certain ? 2 : Math.max(before, 1);
    };
    tell(
      (fact, value, certain = true) => {
        const ofFact = this.byValue.get(fact);
        if (!ofFact || value === null || value === undefined) return;
        const found = ofFact.values.get(ofFact.isNamed ? sameName(value) : value);
        if (found) for (const atom of found) count(atom, certain);
      },
      (fact, value) => {
        const ofFact = this.byNumber.get(fact);
        if (!ofFact || value === null) return;
        for (const { low, high, index } of ofFact) if (low <= value && value <= high) count(index, true);
      },
    );
    for (const atom of isTrue) {
      for (const row of this.neededBy[atom] ?? []) {
        const met = (this.met[row] ?? 0) + 1;
        this.met[row] = met;
        if (met === this.needed[row]) setBit(bits, row);
      }
    }
    for (const atom of isTrue) {
      for (const row of this.neededBy[atom] ?? []) this.met[row] = 0;
      this.counted[atom] = 0;
    }
    for (const atom of isCertain) for (const row of this.refusedBy[atom] ?? []) clearBit(bits, row);
    return bits;
  }
}

function setBit(bits: Bits, row: number): void {
  bits[row >>> 5] = at(bits, row >>> 5) | (1 << (row & 31));
}

function clearBit(bits: Bits, row: number): void {
  bits[row >>> 5] = at(bits, row >>> 5) & ~(1 << (row & 31));
}
