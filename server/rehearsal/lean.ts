import type { ProductFacts, StockFacts } from '#core/decide/subject.ts';
import type { ProductRow } from '../catalog/catalogQueries.ts';

/** Words that many goods share, such as tags, each once: a catalog that is held whole takes half the room. */
const words = new Map<string, string>();
const stocks = new Map<string, StockFacts>();
const records = new Map<string, Readonly<Record<string, string>>>();

function shared<Key, Value>(known: Map<Key, Value>, key: Key, value: Value): Value {
  const before = known.get(key);
  if (before !== undefined) return before;
  known.set(key, value);
  return value;
}

const word = <T extends string | null>(text: T): T => (text === null ? text : (shared(words, text, text) as T));
const record = (facts: Readonly<Record<string, string>>) => shared(records, JSON.stringify(facts), facts);

/** What decisions look at of a product, and no more. */
export function lean(row: ProductRow): ProductFacts {
  const { id, title, path, brand, kind, seller, tags, attributes, categories, dates, waiting, variants } = row;
  return {
    id,
    title,
    path,
    brand: word(brand),
    kind: word(kind),
    seller: word(seller),
    tags: tags.map(word),
    attributes: record(attributes),
    categories: categories.map(word),
    dates: record(dates),
    waiting,
    variants: variants.map((variant) => ({
      ...variant,
      title: word(variant.title),
      options: record(variant.options),
      stock: shared(stocks, JSON.stringify(variant.stock), variant.stock),
    })),
  };
}
