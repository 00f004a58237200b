import type { ProductFacts, Subject, VariantFacts } from '../model/subject.ts';
import type { Columns } from './columns.ts';

interface Goods {
  readonly product: ProductFacts;
  readonly variant: VariantFacts;
}

/**
 * Memoises a function of products and variants by the facts that it reads: reads are tracked while it runs, and rows with
 * equal facts share the result.
 */
export class ReadTrackedMemo<Answer extends object> {
  private reads: readonly string[] = [];
  private numbers: Uint32Array | null = null;
  private answers: (Answer | undefined)[] = [];

  /** @param work reads only its arguments, and values that are the same for all rows */
  constructor(
    private readonly columns: Columns,
    private readonly work: (goods: Goods) => Answer,
  ) {}

  at(row: number): Answer {
    return this.answers[this.numbers ? this.numbers[row]! : 0] ?? this.workOut(row);
  }

  private workOut(row: number): Answer {
    const reads = new Set(this.reads);
    const { product, variant } = this.columns.variantAt(row);
    const answer = this.work({
      product: watched('product', product, reads),
      variant: watched('variant', variant, reads),
    });
    if (reads.size > this.reads.length) {
      this.reads = [...reads].sort();
      this.numbers = this.columns.numberedBy(this.reads);
      this.answers = [];
    }
    this.answers[this.numbers ? this.numbers[row]! : 0] = answer;
    return answer;
  }
}

/** Facts that record reads, such as `variant price`. */
const watched = <T extends object>(of: string, facts: T, reads: Set<string>): T =>
  new Proxy(facts, {
    get(target, fact) {
      reads.add(`${of} ${String(fact)}`);
      return Reflect.get(target, fact) as unknown;
    },
  });

/** Values by lists of whole numbers of one length. */
export class IntTupleMap<Value> {
  private readonly values = new Map<number, { readonly numbers: Int32Array; readonly value: Value }[]>();
  private last: { readonly numbers: Int32Array; readonly value: Value } | null = null;

  get(numbers: Int32Array, make: () => Value): Value {
    if (this.last && same(this.last.numbers, numbers)) return this.last.value;
    const hash = hashOf(numbers);
    const having = this.values.get(hash);
    if (having)
      for (const one of having)
        if (same(one.numbers, numbers)) {
          this.last = one;
          return one.value;
        }
    this.last = { numbers: numbers.slice(), value: make() };
    if (having) having.push(this.last);
    else this.values.set(hash, [this.last]);
    return this.last.value;
  }
}

function hashOf(numbers: Int32Array): number {
  let hash = 17;
  for (const number of numbers) hash = Math.imul(hash ^ number, 0x9e3779b1) ^ (hash >>> 15);
  return hash;
}

function same(one: Int32Array, other: Int32Array): boolean {
  for (let index = 0; index < one.length; index++) if (one[index] !== other[index]) return false;
  return true;
}

/** Gives texts numbers from 0, the same for the same. */
export function textInterner(): (text: string) => number {
  const numbers = new Map<string, number>();
  return (text) => {
    const known = numbers.get(text);
    if (known !== undefined) return known;
    numbers.set(text, numbers.size);
    return numbers.size - 1;
  };
}

/** Visitor facts that rule texts depend on; the winners depend on more. */
export const visitorTextKey = ({ visitor: { locale, statuses, signedIn } }: Pick<Subject, 'visitor'>): string =>
  JSON.stringify([locale, statuses, signedIn]);
