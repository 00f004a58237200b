import type { Leaf } from '../rulebook/leaf.ts';
import { sameName } from '../model/names.ts';
import type { ProductFacts } from '../model/subject.ts';

/** A name that a condition asks for and that nothing has. */
export interface UnknownName {
  /** What it names, in words. */
  readonly what: string;
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

/** Every name that the goods of a shop have, gathered as they are looked through, and the roles there are. */
export class Vocabulary {
  /** The dates that goods have, by their name, as written. */
  readonly dates = new Map<string, Set<string>>();
  private readonly tags = new NameSet();
  private readonly categories = new NameSet(letterByLetter);
  private readonly brands = new NameSet();
  private readonly kinds = new NameSet();
  private readonly sellers = new NameSet();
  private readonly products = new NameSet(letterByLetter);
  private readonly variants = new NameSet(letterByLetter);
  private readonly roles = new NameSet(letterByLetter);
  private readonly attributes = new Map<string, NameSet>();
  private readonly options = new Map<string, NameSet>();

  constructor(roles: readonly string[]) {
    for (const role of roles) this.roles.add(role);
  }

  add({ id, tags, categories, brand, kind, seller, attributes, dates, variants }: ProductFacts): void {
    this.products.add(id);
    for (const tag of tags) this.tags.add(tag);
    for (const category of categories)
      for (let end = category.length; end > 0; end = category.lastIndexOf('/', end - 1))
        this.categories.add(category.slice(0, end));
    this.brands.add(brand);
    this.kinds.add(kind);
    this.sellers.add(seller);
    const values = (into: Map<string, NameSet>, of: Readonly<Record<string, string>>) => {
      for (const [name, value] of Object.entries(of)) {
        const known = into.get(name) ?? new NameSet();
        into.set(name, known);
        known.add(value);
      }
    };
    values(this.attributes, attributes);
    for (const variant of variants) {
      this.variants.add(variant.id);
      values(this.options, variant.options);
    }
    for (const [name, written] of Object.entries(dates)) {
      const known = this.dates.get(name) ?? new Set();
      this.dates.set(name, known);
      known.add(written);
    }
  }

  /** The names that a condition asks for and that nothing here has. */
  unknownNames(leaf: Leaf): UnknownName[] {
    switch (leaf.fact) {
      case 'product.tags':
        return this.listed(leaf, 'tag', this.tags);
      case 'product.categories':
        return this.listed(leaf, 'category', this.categories);
      case 'product.brand':
        return this.listed(leaf, 'brand', this.brands);
      case 'product.kind':
        return this.listed(leaf, 'kind', this.kinds);
      case 'product.seller':
        return this.listed(leaf, 'seller', this.sellers);
      case 'product.id':
        return this.listed(leaf, 'product', this.products);
      case 'variant.id':
        return this.listed(leaf, 'variant', this.variants);
      case 'visitor.roles':
        return this.listed(leaf, 'role', this.roles);
      case 'product.attribute':
        return this.named(leaf, 'attribute', this.attributes);
      case 'variant.option':
        return this.named(leaf, 'option', this.options);
      case 'moment': {
        if (leaf.op !== 'around' || this.dates.has(leaf.value.date)) return [];
        const replaced = (other: string | null) =>
          other === null ? null : { ...leaf, value: { ...leaf.value, date: other } };
        return [{ what: 'date', name: leaf.value.date, among: this.dates.keys(), replaced }];
      }
      default:
        return [];
    }
  }

  private listed(leaf: Extract<Leaf, { value: string[] }>, what: string, known: NameSet): UnknownName[] {
    const without = (name: string) => leaf.value.filter((own) => own !== name);
    return leaf.value
      .filter((name) => !known.has(name))
      .map((name) => ({
        what,
        name,
        among: known.values(),
        replaced: (other) => {
          const value =
            other === null ? without(name) : [...new Set(leaf.value.map((own) => (own === name ? other : own)))];
          return value.length > 0 ? ({ ...leaf, value } as Leaf) : null;
        },
      }));
  }

  private named(
    leaf: Extract<Leaf, { fact: 'product.attribute' | 'variant.option' }>,
    what: string,
    known: ReadonlyMap<string, NameSet>,
  ): UnknownName[] {
    const { name, values } = leaf.value;
    const knownValues = known.get(name);
    if (!knownValues) {
      const replaced = (other: string | null) => (other === null ? null : { ...leaf, value: { name: other, values } });
      return [{ what, name, among: known.keys(), replaced }];
    }
    return values
      .filter((value) => !knownValues.has(value))
      .map((value) => ({
        what: name.toLowerCase(),
        name: value,
        among: knownValues.values(),
        replaced: (other) => {
          const kept = values.flatMap((one) => (one !== value ? [one] : other === null ? [] : [other]));
          return kept.length > 0 ? { ...leaf, value: { name, values: [...new Set(kept)] } } : null;
        },
      }));
  }
}
