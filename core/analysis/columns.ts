import { setBit, wordsFor, type Bits } from '../engine/bits.ts';
import type { TimedPredicate } from '../model/timedResult.ts';
import { sameName } from '../model/names.ts';
import { emitProductFacts, emitVariantFacts, factOf, formulaOf, type Leaf } from '../facts/facts.ts';
import type { BooleanFormula, Predicate } from '../facts/predicates.ts';
import type { ProductFacts, ViewContext, VariantFacts } from '../model/subject.ts';
import { aroundWindow, type Window } from '../facts/windows.ts';
import type { Zone } from '../model/zone.ts';
import type { Dates } from './instants.ts';
import { post, posting } from './posted.ts';
import { each } from './rowSet.ts';

/** A set of rows with a number that identifies it. */
export interface Rows {
  readonly id: number;
  /** Of the words from `from` on; there are no such rows before or after them. */
  readonly bits: Bits;
  readonly from: number;
  readonly isEmpty: boolean;
}

/** The rows of a word, as bits. */
export const wordOf = ({ bits, from }: Pick<Rows, 'bits' | 'from'>, word: number): number => bits[word - from] ?? 0;

/** Maximum size of cached row sets, in bytes. */
const MOST_KEPT_BYTES = 48_000_000;
const MOST_KEPT = 20_000;
const MOST_NUMBERED = 40;

/**
 * The goods in columns, a row for each variant, those of a product side by side: of every value of a fact, who has it;
 * of every number, what it is. So a condition is asked of all goods at once, and gives a bit for each.
 */
export class Columns {
  /** Number of rows, and of the 32-bit words that hold a bit for each. */
  readonly rows: number;
  readonly words: number;
  readonly all: Rows;
  /** The first row of each product, and the end of the last. */
  private readonly first: Uint32Array;
  private readonly productOf: Uint32Array;
  /** By fact and value: places of products, or rows. */
  private readonly products$ = new Map<string, Map<string, number[]>>();
  private readonly variants$ = new Map<string, Map<string, number[]>>();
  private readonly numbers = new Map<string, Float64Array>();
  /** By the name of a date and how it is written: places of products. */
  private readonly dated = new Map<string, Map<string, number[]>>();
  private readonly kept = new Map<string, Rows>();
  private readonly alike = new Map<string, Uint32Array>();
  private readonly conditions = new WeakMap<Leaf, Rows>();
  private readonly leaves = new WeakMap<Leaf, KnownLeaf>();
  private readonly windows = new WeakMap<Leaf, readonly (Window | null)[]>();
  private readonly mostKept: number;
  private made = 0;

  constructor(readonly products: readonly ProductFacts[]) {
    this.first = new Uint32Array(products.length + 1);
    this.rows = products.reduce((sum, { variants }) => sum + variants.length, 0);
    this.words = wordsFor(this.rows);
    this.mostKept = Math.min(MOST_KEPT, Math.ceil(MOST_KEPT_BYTES / (4 * this.words + 1)));
    this.productOf = new Uint32Array(this.rows);
    let row = 0;
    products.forEach((product, place) => {
      this.first[place] = row;
      const end = row + product.variants.length;
      emitProductFacts(product, {
        ...posting(this.products$, place),
        number: (column, value) => {
          for (let variantRow = row; variantRow < end; variantRow++) this.note(column, variantRow, value);
        },
      });
      for (const name of Object.keys(product.dates)) post(this.dated, place, name, product.dates[name]);
      for (const variant of product.variants) {
        this.productOf[row] = place;
        const variantRow = row;
        emitVariantFacts(variant, product, {
          ...posting(this.variants$, variantRow),
          number: (column, value) => {
            this.note(column, variantRow, value);
          },
        });
        row += 1;
      }
    });
    this.first[products.length] = row;
    const all = this.none();
    for (let variantRow = 0; variantRow < this.rows; variantRow++) setBit(all, variantRow);
    this.all = this.named(all);
  }

  private note(column: string, row: number, value: number | null): void {
    const numbers = this.numbers.get(column) ?? new Float64Array(this.rows).fill(NaN);
    this.numbers.set(column, numbers);
    if (value !== null) numbers[row] = value;
  }

  /** The rows whose stock is not tracked. */
  get untracked(): Bits {
    const formula = formulaOf({ fact: 'stock.status', op: 'in', value: ['untracked'] }, true);
    return isIndexed(formula) ? this.of(formula) : this.none();
  }

  /** The dates that goods have. */
  get dates(): Dates {
    return new Map([...this.dated].map(([name, written]) => [name, new Set(written.keys())]));
  }

  /** No rows. */
  none(): Bits {
    return new Uint32Array(this.words);
  }

  /** Gives rows their number. @param from the word that the first of the bits are */
  named(bits: Bits, from = 0): Rows {
    this.made += 1;
    return { id: this.made, bits, from, isEmpty: !bits.some((word) => word !== 0) };
  }

  /** Rows of sellers with these names: few words, since their products are adjacent. */
  soldBy(names: readonly string[]): Rows {
    const sold = this.products$.get('seller');
    const places = names.flatMap((name) => sold?.get(sameName(name)) ?? []);
    const rows = places.flatMap((place) => [this.firstOf(place), this.firstOf(place + 1) - 1]);
    const [first, last] = rows.reduce(([low, high], row) => [Math.min(low, row), Math.max(high, row)], [Infinity, -1]);
    if (last < first) return this.named(new Uint32Array(0));
    const from = first >>> 5;
    const bits = new Uint32Array((last >>> 5) - from + 1);
    for (const place of places)
      for (let row = this.firstOf(place); row < this.firstOf(place + 1); row++) setBit(bits, row - from * 32);
    return this.named(bits, from);
  }

  placeOf(row: number): number {
    return this.productOf[row] ?? 0;
  }

  firstOf(place: number): number {
    return this.first[place] ?? 0;
  }

  /** The goods of a row. @throws {RangeError} when there is none such */
  variantAt(row: number): { readonly product: ProductFacts; readonly variant: VariantFacts } {
    const place = this.placeOf(row);
    const product = this.products[place];
    const variant = product?.variants[row - this.firstOf(place)];
    if (!product || !variant) throw new RangeError(`there are ${this.rows} rows, and no row ${row}`);
    return { product, variant };
  }

  /**
   * Numbers the rows by facts of theirs, from 0: those that are alike in all of them have the same.
   * @param facts at least one, as `product title` or `variant price`
   */
  numberedBy(facts: readonly string[]): Uint32Array {
    const name = facts.join('\n');
    const known = this.alike.get(name);
    if (known) return known;
    const last = facts.at(-1)!;
    const before = facts.length > 1 ? this.numberedBy(facts.slice(0, -1)) : null;
    const [of, fact] = last.split(' ') as ['product' | 'variant', string];
    const values = new Map<unknown, number>();
    const pairs = new Map<number, number>();
    const numbers = new Uint32Array(this.rows);
    let row = 0;
    for (const product of this.products)
      for (const variant of product.variants) {
        const found: unknown = Reflect.get(of === 'product' ? product : variant, fact);
        const value = typeof found === 'object' && found !== null ? JSON.stringify(found) : found;
        const number = values.get(value) ?? values.size;
        values.set(value, number);
        const pair = before ? before[row]! * (this.rows + 1) + number : number;
        const code = before ? (pairs.get(pair) ?? pairs.size) : number;
        if (before) pairs.set(pair, code);
        numbers[row] = code;
        row += 1;
      }
    this.alike.set(name, numbers);
    for (const oldest of [...this.alike.keys()].slice(0, this.alike.size - MOST_NUMBERED)) this.alike.delete(oldest);
    return numbers;
  }

  /** Makes rows once, as long as they are worth keeping. */
  once(key: string, make: () => Bits): Rows {
    const known = this.kept.get(key);
    if (known) return known;
    const rows = this.named(make());
    this.kept.set(key, rows);
    if (this.kept.size > this.mostKept)
      for (const oldest of [...this.kept.keys()].slice(0, 1)) this.kept.delete(oldest);
    return rows;
  }

  /** The rows for which a condition about goods holds. @param within the only ones that are asked for; null for all */
  where(leaf: Leaf, test: TimedPredicate, seen: ViewContext, zone: Zone, within: Rows | null = null): Rows {
    if (leaf.fact === 'moment' && leaf.op === 'around') return this.around(leaf, seen.moment, zone);
    const { name, isAboutProducts, isPosted } = this.known(leaf);
    // Few rows are asked one by one sooner than all are looked through for a number.
    if (within && !isPosted) return this.named(this.amongFew(leaf, test, seen, within), within.from);
    if (!isAboutProducts) return this.named(this.evaluate(test, seen, this.all));
    const known = this.conditions.get(leaf);
    if (known) return known;
    const rows = this.once(name, () => {
      const formula = formulaOf(leaf, true);
      return isIndexed(formula) ? this.of(formula) : this.evaluate(test, seen, this.all);
    });
    // There are too many conditions of sellers to keep all that they are about.
    if (!within) this.conditions.set(leaf, rows);
    return rows;
  }

  private known(leaf: Leaf): KnownLeaf {
    const known = this.leaves.get(leaf);
    if (known) return known;
    const isAboutProducts = factOf(leaf).dependsOn(leaf) !== 'both';
    const formula = isAboutProducts ? formulaOf(leaf, true) : 'unknown';
    const made = { name: JSON.stringify(leaf), isAboutProducts, isPosted: isPosted(formula), range: rangeOf(formula) };
    this.leaves.set(leaf, made);
    return made;
  }

  /** Reuses rows between moments at which the same dates match. */
  private around(leaf: Extract<Leaf, { op: 'around' }>, moment: number, zone: Zone): Rows {
    const dates = this.dated.get(leaf.value.date) ?? new Map<string, number[]>();
    const windows =
      this.windows.get(leaf) ?? [...dates.keys()].map((written) => aroundWindow(zone, leaf.value, written));
    this.windows.set(leaf, windows);
    let key = `around ${leaf.value.date} `;
    for (const window of windows) key += window && window.from <= moment && moment < window.until ? '+' : '-';
    return this.once(key, () => {
      const bits = this.none();
      for (const [index, places] of [...dates.values()].entries())
        if (key.at(index - windows.length) === '+') for (const place of places) this.setProduct(bits, place);
      return bits;
    });
  }

  private of(formula: Indexed): Bits {
    if ('predicate' in formula) {
      const bits = this.having(formula.predicate);
      return formula.wanted ? bits : this.not(bits);
    }
    const [members, bits] = 'all' in formula ? [formula.all, this.all.bits.slice()] : [formula.any, this.none()];
    for (const member of members) {
      const memberColumn = this.of(member as Indexed);
      for (let word = 0; word < this.words; word++)
        bits[word] = 'all' in formula ? bits[word]! & memberColumn[word]! : bits[word]! | memberColumn[word]!;
    }
    return bits;
  }

  not(bits: Bits): Bits {
    const all = this.all.bits;
    return bits.map((word, index) => all[index]! & ~word);
  }

  private having({ scope, column, values, low, high }: Predicate): Bits {
    const bits = this.none();
    if (values === null) {
      const numbers = this.numbers.get(column);
      if (numbers)
        for (let row = 0; row < this.rows; row++) if (low <= numbers[row]! && numbers[row]! <= high) setBit(bits, row);
      return bits;
    }
    const ofColumn = (scope === 'product' ? this.products$ : this.variants$).get(column);
    for (const value of values)
      for (const place of ofColumn?.get(value) ?? [])
        if (scope === 'product') this.setProduct(bits, place);
        else setBit(bits, place);
    return bits;
  }

  /** Adds all rows of a product, by its place. */
  setProduct(bits: Bits, place: number): void {
    for (let row = this.firstOf(place); row < this.firstOf(place + 1); row++) setBit(bits, row);
  }

  /** Conditions without an index are evaluated row by row. */
  private evaluate(test: TimedPredicate, seen: ViewContext, { bits: wanted, from }: Rows): Bits {
    const { visitor, moment, surface, page } = seen;
    const bits = new Uint32Array(wanted.length);
    each(wanted, (row) => {
      const { product, variant } = this.variantAt(row + from * 32);
      if (test({ visitor, moment, surface, page, product, variant }).matches) setBit(bits, row);
    });
    return bits;
  }

  /** The same of few rows, of which a number can be looked up without asking. */
  private amongFew(leaf: Leaf, test: TimedPredicate, seen: ViewContext, within: Rows): Bits {
    const { range } = this.known(leaf);
    const numbers = range && this.numbers.get(range.column);
    if (!range || !numbers) return this.evaluate(test, seen, within);
    const bits = new Uint32Array(within.bits.length);
    each(within.bits, (row) => {
      const number = numbers[row + within.from * 32]!;
      if (range.low <= number && number <= range.high) setBit(bits, row);
    });
    return bits;
  }
}

type Indexed = Exclude<BooleanFormula, 'unknown'>;

const isIndexed = (formula: BooleanFormula): formula is Indexed => {
  if (formula === 'unknown') return false;
  if ('predicate' in formula) return !formula.predicate.isUnique;
  return ('all' in formula ? formula.all : formula.any).every(isIndexed);
};

/** Whether it is evaluated by values alone, which lead to their rows. */
const isPosted = (formula: BooleanFormula): boolean => {
  if (formula === 'unknown') return false;
  if ('predicate' in formula) return !formula.predicate.isUnique && formula.predicate.values !== null;
  return ('all' in formula ? formula.all : formula.any).every(isPosted);
};

/** The predicate of a condition that is nothing but a range of numbers. */
const rangeOf = (formula: BooleanFormula): Predicate | null =>
  formula !== 'unknown' && 'predicate' in formula && formula.wanted && formula.predicate.values === null
    ? formula.predicate
    : null;

/** A condition, prepared for evaluation. */
interface KnownLeaf {
  /** The same for conditions that ask the same. */
  readonly name: string;
  /** Whether goods alone, with the clock, decide it. */
  readonly isAboutProducts: boolean;
  readonly isPosted: boolean;
  /** Whether it asks for a number between two, and no more; null where it does not. */
  readonly range: Predicate | null;
}
