import type { Leaf } from '#core/rulebook/leaf.ts';
import type { About } from '#core/rulebook/segment.ts';

/** What a condition can ask, as a choice in a list: a fact with an operator, and how its value is given. */
export interface Question {
  readonly label: string;
  readonly fact: Leaf['fact'];
  readonly op: Leaf['op'];
  /** What to begin with; null when a value has to be chosen first. */
  readonly start: unknown;
  /** Questions with one kind of value pass it on when one is changed into the other. */
  readonly value: ValueKind;
}

export type ValueKind =
  | 'none'
  | 'path'
  | 'pathPart'
  | 'attribute'
  | 'option'
  | 'price'
  | 'priceRange'
  | 'brands'
  | 'kinds'
  | 'sellers'
  | 'variants'
  | 'customers'
  | 'locales'
  | 'surfaces'
  | 'products'
  | 'tags'
  | 'categories'
  | 'statuses'
  | 'quantity'
  | 'range'
  | 'roles'
  | 'between'
  | 'around'
  | 'weekly'
  | 'yearly';

const BY_ABOUT: Record<Exclude<About, 'outcome'>, readonly Question[]> = {
  goods: [
    { label: 'tagged with any of', fact: 'product.tags', op: 'hasAny', start: null, value: 'tags' },
    { label: 'tagged with all of', fact: 'product.tags', op: 'hasAll', start: null, value: 'tags' },
    { label: 'not tagged with', fact: 'product.tags', op: 'hasNone', start: null, value: 'tags' },
    {
      label: 'in a category and all below',
      fact: 'product.categories',
      op: 'within',
      start: null,
      value: 'categories',
    },
    {
      label: 'not in a category or below',
      fact: 'product.categories',
      op: 'notWithin',
      start: null,
      value: 'categories',
    },
    { label: 'directly in a category', fact: 'product.categories', op: 'exactly', start: null, value: 'categories' },
    { label: 'everything, on purpose', fact: 'product', op: 'every', start: true, value: 'none' },
    { label: 'these products', fact: 'product.id', op: 'in', start: null, value: 'products' },
    { label: 'other than these products', fact: 'product.id', op: 'notIn', start: null, value: 'products' },
    { label: 'of the brands', fact: 'product.brand', op: 'in', start: null, value: 'brands' },
    { label: 'not of the brands', fact: 'product.brand', op: 'notIn', start: null, value: 'brands' },
    { label: 'of the kinds', fact: 'product.kind', op: 'in', start: null, value: 'kinds' },
    { label: 'not of the kinds', fact: 'product.kind', op: 'notIn', start: null, value: 'kinds' },
    { label: 'sold by', fact: 'product.seller', op: 'in', start: null, value: 'sellers' },
    { label: 'not sold by', fact: 'product.seller', op: 'notIn', start: null, value: 'sellers' },
    { label: 'whose attribute is', fact: 'product.attribute', op: 'in', start: null, value: 'attribute' },
    { label: 'whose attribute is not', fact: 'product.attribute', op: 'notIn', start: null, value: 'attribute' },
    { label: 'at the address', fact: 'product.path', op: 'equals', start: null, value: 'path' },
    { label: 'at addresses that begin with', fact: 'product.path', op: 'startsWith', start: null, value: 'path' },
    { label: 'at addresses that contain', fact: 'product.path', op: 'contains', start: null, value: 'pathPart' },
    { label: 'these variants', fact: 'variant.id', op: 'in', start: null, value: 'variants' },
    { label: 'other than these variants', fact: 'variant.id', op: 'notIn', start: null, value: 'variants' },
    { label: 'variants whose option is', fact: 'variant.option', op: 'in', start: null, value: 'option' },
    { label: 'variants whose option is not', fact: 'variant.option', op: 'notIn', start: null, value: 'option' },
    { label: 'variants that cost less than', fact: 'variant.price', op: 'lt', start: null, value: 'price' },
    { label: 'variants that cost at most', fact: 'variant.price', op: 'lte', start: null, value: 'price' },
    { label: 'variants that cost more than', fact: 'variant.price', op: 'gt', start: null, value: 'price' },
    { label: 'variants that cost at least', fact: 'variant.price', op: 'gte', start: null, value: 'price' },
    { label: 'variants that cost between', fact: 'variant.price', op: 'between', start: null, value: 'priceRange' },
    { label: 'variants that are', fact: 'stock.status', op: 'in', start: ['outOfStock'], value: 'statuses' },
    { label: 'variants that are not', fact: 'stock.status', op: 'notIn', start: ['inStock'], value: 'statuses' },
    { label: 'variants with stock below', fact: 'stock.quantity', op: 'lt', start: 5, value: 'quantity' },
    { label: 'variants with stock at most', fact: 'stock.quantity', op: 'lte', start: 5, value: 'quantity' },
    { label: 'variants with stock above', fact: 'stock.quantity', op: 'gt', start: 5, value: 'quantity' },
    { label: 'variants with stock at least', fact: 'stock.quantity', op: 'gte', start: 5, value: 'quantity' },
    { label: 'variants with stock exactly', fact: 'stock.quantity', op: 'eq', start: 0, value: 'quantity' },
    { label: 'variants with stock between', fact: 'stock.quantity', op: 'between', start: [1, 5], value: 'range' },
    {
      label: 'with total stock below',
      fact: 'stock.productTotal',
      op: 'lt',
      start: 5,
      value: 'quantity',
    },
    { label: 'with total stock at most', fact: 'stock.productTotal', op: 'lte', start: 0, value: 'quantity' },
    { label: 'with total stock above', fact: 'stock.productTotal', op: 'gt', start: 5, value: 'quantity' },
    { label: 'with total stock at least', fact: 'stock.productTotal', op: 'gte', start: 5, value: 'quantity' },
    { label: 'with total stock exactly', fact: 'stock.productTotal', op: 'eq', start: 0, value: 'quantity' },
    {
      label: 'with total stock between',
      fact: 'stock.productTotal',
      op: 'between',
      start: [1, 5],
      value: 'range',
    },
    { label: 'variants with reservations below', fact: 'preorder.reserved', op: 'lt', start: 5, value: 'quantity' },
    { label: 'variants with reservations at most', fact: 'preorder.reserved', op: 'lte', start: 5, value: 'quantity' },
    { label: 'variants with reservations above', fact: 'preorder.reserved', op: 'gt', start: 5, value: 'quantity' },
    { label: 'variants with reservations at least', fact: 'preorder.reserved', op: 'gte', start: 1, value: 'quantity' },
    { label: 'variants with reservations exactly', fact: 'preorder.reserved', op: 'eq', start: 0, value: 'quantity' },
    {
      label: 'variants with reservations between',
      fact: 'preorder.reserved',
      op: 'between',
      start: [1, 5],
      value: 'range',
    },
    {
      label: 'variants with waitlists shorter than',
      fact: 'waitlist.length',
      op: 'lt',
      start: 5,
      value: 'quantity',
    },
    { label: 'variants with waitlists of at most', fact: 'waitlist.length', op: 'lte', start: 5, value: 'quantity' },
    {
      label: 'variants with waitlists longer than',
      fact: 'waitlist.length',
      op: 'gt',
      start: 5,
      value: 'quantity',
    },
    {
      label: 'variants with waitlists of at least',
      fact: 'waitlist.length',
      op: 'gte',
      start: 1,
      value: 'quantity',
    },
    { label: 'variants with waitlists of exactly', fact: 'waitlist.length', op: 'eq', start: 0, value: 'quantity' },
    {
      label: 'variants with waitlists between',
      fact: 'waitlist.length',
      op: 'between',
      start: [1, 5],
      value: 'range',
    },
  ],
  people: [
    { label: 'guests', fact: 'visitor.signedIn', op: 'is', start: false, value: 'none' },
    { label: 'signed-in customers', fact: 'visitor.signedIn', op: 'is', start: true, value: 'none' },
    { label: 'customers with any of the roles', fact: 'visitor.roles', op: 'hasAny', start: null, value: 'roles' },
    { label: 'customers with all of the roles', fact: 'visitor.roles', op: 'hasAll', start: null, value: 'roles' },
    { label: 'everyone but the roles', fact: 'visitor.roles', op: 'hasNone', start: null, value: 'roles' },
    { label: 'these customers', fact: 'visitor.customer', op: 'in', start: null, value: 'customers' },
    { label: 'everyone but these customers', fact: 'visitor.customer', op: 'notIn', start: null, value: 'customers' },
    { label: 'people invited from its waitlist', fact: 'visitor.invited', op: 'is', start: true, value: 'none' },
    { label: 'everyone not invited from it', fact: 'visitor.invited', op: 'is', start: false, value: 'none' },
    { label: 'visitors who read a language', fact: 'visitor.locale', op: 'in', start: null, value: 'locales' },
  ],
  time: [
    { label: 'from and until a date', fact: 'moment', op: 'between', start: null, value: 'between' },
    { label: 'relative to a product date', fact: 'moment', op: 'around', start: null, value: 'around' },
    {
      label: 'on days of the week',
      fact: 'moment',
      op: 'weekly',
      start: { days: [6, 7], from: '00:00', until: '00:00' },
      value: 'weekly',
    },
    {
      label: 'every year between two days',
      fact: 'moment',
      op: 'yearly',
      start: { from: '12-01', until: '01-07' },
      value: 'yearly',
    },
    { label: 'only where it is shown', fact: 'surface', op: 'in', start: ['product'], value: 'surfaces' },
    { label: 'only on the page', fact: 'page.path', op: 'equals', start: null, value: 'path' },
    { label: 'only on pages that begin with', fact: 'page.path', op: 'startsWith', start: null, value: 'path' },
    { label: 'only on pages that contain', fact: 'page.path', op: 'contains', start: null, value: 'pathPart' },
  ],
};

/** What a condition is asked about: a clause of the sentence, or, in a group, anything. */
export type ConditionKind = Exclude<About, 'outcome'> | 'anything';

export const QUESTIONS: Record<ConditionKind, readonly Question[]> = {
  ...BY_ABOUT,
  anything: [...BY_ABOUT.goods, ...BY_ABOUT.people, ...BY_ABOUT.time],
};

/** Under what a fact's questions stand together. */
export const GROUPS: Record<Leaf['fact'], string> = {
  'product.tags': 'Tags',
  'product.categories': 'Categories',
  product: 'Products',
  'product.id': 'Products',
  'product.brand': 'Products',
  'product.kind': 'Products',
  'product.seller': 'Products',
  'product.attribute': 'Products',
  'product.path': 'Addresses',
  'variant.id': 'Variants',
  'variant.option': 'Variants',
  'variant.price': 'Price',
  'stock.status': 'Stock',
  'stock.quantity': 'Stock',
  'stock.productTotal': 'Stock',
  'preorder.reserved': 'Pre-orders',
  'waitlist.length': 'Waitlists',
  'visitor.signedIn': 'Visitors',
  'visitor.roles': 'Roles',
  'visitor.customer': 'Customers',
  'visitor.invited': 'Waitlists',
  'visitor.locale': 'Languages',
  'page.path': 'Place',
  moment: 'Time',
  surface: 'Place',
};

/** The question that a condition asks. */
export function questionOf(questions: readonly Question[], leaf: Leaf): Question | undefined {
  return questions.find(
    ({ fact, op, start, value }) =>
      fact === leaf.fact && op === leaf.op && (value !== 'none' || fact === 'product' || start === leaf.value),
  );
}
