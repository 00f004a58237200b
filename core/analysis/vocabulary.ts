import { factOf, FACTS, type FactName, type Leaf } from '../facts/facts.ts';
import { sameName } from '../model/names.ts';
import type { ProductFacts } from '../model/subject.ts';

/** A name that a condition asks for and that nothing has. */
export interface UnknownName {
  /** The attribute or option whose value it is; null where it is no value. */
  readonly of: string | null;
  readonly name: string;
  /** The names of its sort that there are. */
  readonly among: Iterable<string>;
  /** The condition with another name, or none, in its place; null when nothing would be left to ask. */
  readonly replaced: (other: string | null) => Leaf | null;
}

/** Names that people typed, by the form in which they are compared. */
class NameSet {
  private readonly names = new Map<string, string>();
  constructor(private readonly form: (name: string) => string = sameName) {}
  add(name: string | null): void {
    if (name !== null && !this.names.has(this.form(name))) this.names.set(this.form(name), name);
  }
  has = (name: string) => this.names.has(this.form(name));
  values = () => this.names.values();
}

const letterByLetter = (name: string) => name;

/** Values of one fact in the shop's products, by attribute or option name; the empty name for facts without one. */
type KnownNames = Map<string, NameSet>;
const UNNAMED = '';

/** Every name that the products of a shop have, gathered as they are looked through, and the roles there are. */
export class Vocabulary {
  /** The dates that products have, by their name, as written. */
  readonly dates = new Map<string, Set<string>>();
  private readonly known = new Map<FactName, KnownNames>();

  constructor(roles: readonly string[]) {
    for (const { name, vocabulary } of NAMING) {
      const known: KnownNames = new Map();
      this.known.set(name, known);
      if ('valuesOf' in vocabulary) continue;
      const names = new NameSet(vocabulary.isLetterByLetter ? letterByLetter : sameName);
      known.set(UNNAMED, names);
      if (vocabulary.of === 'roles') for (const role of roles) names.add(role);
    }
  }

  add(product: ProductFacts): void {
    for (const { name, vocabulary } of NAMING) {
      const known = this.known.get(name)!;
      if (!('valuesOf' in vocabulary)) {
        if (vocabulary.of !== 'roles') for (const one of vocabulary.of(product)) known.get(UNNAMED)!.add(one);
        continue;
      }
      for (const record of vocabulary.valuesOf(product))
        for (const [key, value] of Object.entries(record)) {
          const names = known.get(key) ?? new NameSet();
          known.set(key, names);
          names.add(value);
        }
    }
    for (const [name, written] of Object.entries(product.dates)) {
      const known = this.dates.get(name) ?? new Set();
      this.dates.set(name, known);
      known.add(written);
    }
  }

  /** The names that a condition asks for and that nothing here has. */
  unknownNames(leaf: Leaf): UnknownName[] {
    if (leaf.fact === 'moment') return leaf.op === 'around' ? this.unknownDates(leaf) : [];
    const { vocabulary } = factOf(leaf);
    const known = this.known.get(leaf.fact);
    if (!vocabulary || !known) return [];
    return 'valuesOf' in vocabulary
      ? unknownValues(leaf as NamedValuesLeaf, known)
      : unknownAmong(leaf as NamesLeaf, known.get(UNNAMED)!);
  }

  private unknownDates(leaf: Extract<Leaf, { op: 'around' }>): UnknownName[] {
    const { date } = leaf.value;
    if (this.dates.has(date)) return [];
    const replaced = (other: string | null) =>
      other === null ? null : { ...leaf, value: { ...leaf.value, date: other } };
    return [{ of: null, name: date, among: this.dates.keys(), replaced }];
  }
}

const NAMING = FACTS.flatMap(({ name, vocabulary }) => (vocabulary ? [{ name, vocabulary }] : []));

type NamesLeaf = Extract<Leaf, { value: string[] }>;
type NamedValuesLeaf = Extract<Leaf, { value: { name: string; values: string[] } }>;

function unknownAmong(leaf: NamesLeaf, known: NameSet): UnknownName[] {
  const without = (name: string) => leaf.value.filter((other) => other !== name);
  return leaf.value
    .filter((name) => !known.has(name))
    .map((name) => ({
      of: null,
      name,
      among: known.values(),
      replaced: (other) => {
        const value =
          other === null ? without(name) : [...new Set(leaf.value.map((one) => (one === name ? other : one)))];
        return value.length > 0 ? ({ ...leaf, value } as Leaf) : null;
      },
    }));
}

function unknownValues(leaf: NamedValuesLeaf, known: KnownNames): UnknownName[] {
  const { name, values } = leaf.value;
  const knownValues = known.get(name);
  if (!knownValues) {
    const replaced = (other: string | null) => (other === null ? null : { ...leaf, value: { name: other, values } });
    return [{ of: null, name, among: known.keys(), replaced }];
  }
  return values
    .filter((value) => !knownValues.has(value))
    .map((value) => ({
      of: name,
      name: value,
      among: knownValues.values(),
      replaced: (other) => {
        const kept = values.flatMap((one) => (one !== value ? [one] : other === null ? [] : [other]));
        return kept.length > 0 ? { ...leaf, value: { name, values: [...new Set(kept)] } } : null;
      },
    }));
}
