import { perColumn, type ProductColumnValues } from '#core/model/productColumns.ts';
import type { ProductFacts } from '#core/model/subject.ts';
import type { ProductRow } from '../catalog/catalogQueries.ts';

/**
 * Makes products lean: what decisions look at, and no more; words and records that many goods share, such as tags and
 * stocks, each once. A catalog that is held whole takes half the room so.
 */
export function productInterner(): (row: ProductRow) => ProductFacts {
  const words = new Map<string, string>();
  const records = new Map<string, object>();
  const word = <T>(text: T): T => {
    if (typeof text !== 'string') return text;
    const known = words.get(text);
    if (known === undefined) words.set(text, text);
    return (known as T | undefined) ?? text;
  };
  const record = <T extends object>(facts: T): T => {
    const key = JSON.stringify(facts);
    const known = records.get(key);
    if (known === undefined) records.set(key, facts);
    return (known ?? facts) as T;
  };
  return ({ id, title, path, tags, attributes, categories, dates, waiting, variants, ...row }) => ({
    id,
    title,
    path,
    ...perColumn<ProductColumnValues>((column) => word(row[column])),
    tags: tags.map(word),
    attributes: record(attributes),
    categories: categories.map(word),
    dates: record(dates),
    waiting,
    variants: variants.map((variant) => ({
      ...variant,
      title: word(variant.title),
      options: record(variant.options),
      stock: record(variant.stock),
    })),
  });
}
