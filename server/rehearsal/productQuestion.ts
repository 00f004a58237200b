import type { ChangeGroup, ChangeGroups } from '#core/analysis/changeGroups.ts';
import { factImpactOf } from '#core/analysis/factImpact.ts';
import { meet, rowsDecidedBy, rowsShowing, rowsWhere } from '#core/analysis/productSearch.ts';
import type { ProductOrder } from '#core/contract/findCalls.ts';
import type { DecidedControl } from '#core/controls/controls.ts';
import { hasBit, type Bits } from '#core/engine/bits.ts';
import { visitorOf, type AudienceFacts } from '#core/model/audience.ts';
import type { OwnChanges } from '#core/model/ownFacts.ts';
import { perColumn, type ColumnType } from '#core/model/productColumns.ts';
import type { ProductFacts, ShopFacts } from '#core/model/subject.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Catalog, Steps } from './analyses.ts';

export interface ProductQuestion {
  readonly shop: ShopFacts;
  readonly rulebook: Rulebook;
  readonly audiences: readonly AudienceFacts[];
  /** Epoch ms. */
  readonly moment: number;
  readonly search: string;
  readonly where: Condition | null;
  /** A rule's id. */
  readonly decidedBy: string | null;
  readonly shown: { readonly kind: DecidedControl['kind']; readonly audience: AudienceFacts } | null;
}

export interface ProductsPage {
  readonly sort: ProductOrder;
  readonly descending: boolean;
  readonly skip: number;
  readonly limit: number;
  readonly settled: boolean;
}

export interface MatchingProducts {
  readonly ids: readonly string[];
  readonly total: number;
  readonly variants: number;
}

/** Matches of a question: the number of matching variants of each product, by its index. */
export type ProductsIndex = Omit<MatchingProducts, 'ids'> & { readonly fitting: Uint16Array };

/** Looks through the columns for goods that fit all that is asked. */
export function* productsIndex(catalog: Catalog, question: ProductQuestion): Steps<ProductsIndex> {
  const { counts, compiled, products, columns } = catalog;
  const { shop, audiences, moment, search, where, decidedBy, shown } = question;
  const look = (audience: AudienceFacts) =>
    ({ visitor: visitorOf(audience), moment, surface: 'product', page: null }) as const;
  let rows: Bits | null = where ? rowsWhere(counts, where, shop, moment) : null;
  const rulebook = compiled(question.rulebook, shop);
  if (decidedBy !== null) rows = meet(rows, yield* rowsDecidedBy(counts, rulebook, audiences.map(look), decidedBy));
  if (shown) rows = meet(rows, yield* rowsShowing(counts, rulebook, look(shown.audience), shown.kind));
  const words = search.trim().toLowerCase();
  const texts = words === '' ? null : textsOf(catalog);
  const fitting = new Uint16Array(products.length);
  let [total, variants] = [0, 0];
  for (let place = 0; place < products.length; place++) {
    if (texts && !texts[place]!.includes(words)) continue;
    let count = 0;
    for (let row = columns.firstOf(place); row < columns.firstOf(place + 1); row++)
      if (!rows || hasBit(rows, row)) count += 1;
    if (count === 0) continue;
    fitting[place] = count;
    total += 1;
    variants += count;
  }
  return { fitting, total, variants };
}

/** A page of matching products, sorted. */
export function productsPage(
  catalog: Catalog,
  { shop }: Pick<ProductQuestion, 'shop'>,
  { fitting, total, variants }: ProductsIndex,
  { sort, descending, skip, limit }: Omit<ProductsPage, 'settled'>,
): MatchingProducts {
  const places = placesBy(catalog, sort, shop);
  const ids: string[] = [];
  let passed = 0;
  for (let index = 0; index < places.length && ids.length < limit; index++) {
    const place = places[descending ? places.length - 1 - index : index]!;
    if (fitting[place] === 0) continue;
    passed += 1;
    if (passed > skip) ids.push(catalog.products[place]!.id);
  }
  return { ids, total, variants };
}

export interface FactImpactQuestion extends Pick<ProductQuestion, 'shop' | 'audiences' | 'moment'> {
  readonly ids: readonly string[];
  readonly before: Rulebook;
  readonly after: Rulebook;
  readonly changes: OwnChanges | null;
}

/** Impact of other product facts, or of other rules. */
export function* factImpact(
  { products, compiled }: Catalog,
  { shop, before, after, audiences, moment, ids, changes }: FactImpactQuestion,
): Steps<Pick<ChangeGroups, 'changed'> & { readonly products: number; readonly groups: readonly ChangeGroup[] }> {
  const wanted = new Set(ids);
  const meant = products.filter(({ id }) => wanted.has(id));
  const rules = { before: compiled(before, shop), after: compiled(after, shop) };
  const found = yield* factImpactOf(meant, changes, rules, audiences.map(visitorOf), moment);
  return { products: meant.length, changed: found.changed, groups: found.all() };
}

/** Search texts of a catalog, computed once while it is loaded. */
const texts = new WeakMap<Catalog['columns'], readonly string[]>();
const orders = new WeakMap<Catalog['columns'], Map<string, Uint32Array>>();

/** The words by which each product is found: its titles, its id and its variants' ids. */
function textsOf(catalog: Catalog): readonly string[] {
  const known = texts.get(catalog.columns);
  if (known) return known;
  const made = catalog.products.map(({ id, title, variants }) =>
    [...(typeof title === 'string' ? [title] : Object.values(title)), id, ...variants.map((variant) => variant.id)]
      .join('\n')
      .toLowerCase(),
  );
  texts.set(catalog.columns, made);
  return made;
}

/** Positions of products in an order. Those without the value come last, or first in descending order. */
function placesBy(catalog: Catalog, sort: ProductOrder, shop: ShopFacts): Uint32Array {
  const known = orders.get(catalog.columns) ?? new Map<string, Uint32Array>();
  orders.set(catalog.columns, known);
  const before = known.get(sort);
  if (before) return before;
  const values = catalog.products.map((product) => ORDERED_BY[sort](product, shop));
  const places = Uint32Array.from(values, (_value, place) => place).sort((a, b) => {
    const [one, other] = [values[a]!, values[b]!];
    return one < other ? -1 : one > other ? 1 : a - b;
  });
  known.set(sort, places);
  return places;
}

/** After every name. */
const LAST = '\uffff';
const folded = (text: string | null) =>
  text === null ? LAST : text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
/** Values of columns as they are compared, missing ones last. */
const IN_ORDER: Readonly<Record<ColumnType, (value: string | number | null) => string | number>> = {
  name: (value) => folded(value === null ? null : String(value)),
  wholeNumber: (value) => (value === null ? Infinity : Number(value)),
};
const sumOf = (product: ProductFacts, of: (variant: ProductFacts['variants'][number]) => number) =>
  product.variants.reduce((sum, variant) => sum + of(variant), 0);

const ORDERED_BY: Readonly<Record<ProductOrder, (product: ProductFacts, shop: ShopFacts) => string | number>> = {
  title: ({ title }, { locales }) => folded(wordsIn(title, null, locales)),
  id: ({ id }) => id,
  price: ({ variants }) => Math.min(...variants.map(({ price }) => price)),
  stock: (product) =>
    product.variants.some(({ stock }) => stock.tracked)
      ? sumOf(product, ({ stock }) => (stock.tracked ? stock.quantity : 0))
      : Infinity,
  reserved: (product) => sumOf(product, ({ reserved }) => reserved),
  waiting: (product) => product.waiting + sumOf(product, ({ waiting }) => waiting),
  ...perColumn((column, type) => (product: ProductFacts) => IN_ORDER[type](product[column])),
};
