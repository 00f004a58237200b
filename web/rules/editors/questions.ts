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

export const QUESTIONS: Record<Exclude<About, 'outcome'>, readonly Question[]> = {
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
    { label: 'these products', fact: 'product.id', op: 'in', start: null, value: 'products' },
    { label: 'other than these products', fact: 'product.id', op: 'notIn', start: null, value: 'products' },
    { label: 'variants that are', fact: 'stock.status', op: 'in', start: ['outOfStock'], value: 'statuses' },
    { label: 'variants that are not', fact: 'stock.status', op: 'notIn', start: ['inStock'], value: 'statuses' },
    { label: 'variants with fewer left than', fact: 'stock.quantity', op: 'lt', start: 5, value: 'quantity' },
    { label: 'variants with at most', fact: 'stock.quantity', op: 'lte', start: 5, value: 'quantity' },
    { label: 'variants with more left than', fact: 'stock.quantity', op: 'gt', start: 5, value: 'quantity' },
    { label: 'variants with at least', fact: 'stock.quantity', op: 'gte', start: 5, value: 'quantity' },
    { label: 'variants with exactly', fact: 'stock.quantity', op: 'eq', start: 0, value: 'quantity' },
    { label: 'variants with between', fact: 'stock.quantity', op: 'between', start: [1, 5], value: 'range' },
    { label: 'everything, on purpose', fact: 'product', op: 'every', start: true, value: 'none' },
  ],
  people: [
    { label: 'guests', fact: 'visitor.signedIn', op: 'is', start: false, value: 'none' },
    { label: 'signed-in customers', fact: 'visitor.signedIn', op: 'is', start: true, value: 'none' },
    { label: 'those with any of the roles', fact: 'visitor.roles', op: 'hasAny', start: null, value: 'roles' },
    { label: 'those with all of the roles', fact: 'visitor.roles', op: 'hasAll', start: null, value: 'roles' },
    { label: 'everyone but the roles', fact: 'visitor.roles', op: 'hasNone', start: null, value: 'roles' },
  ],
  time: [
    { label: 'from and until a date', fact: 'moment', op: 'between', start: null, value: 'between' },
    { label: 'around a date of the product’s', fact: 'moment', op: 'around', start: null, value: 'around' },
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
  ],
};

/** The question that a condition asks. */
export function questionOf(questions: readonly Question[], leaf: Leaf): Question | undefined {
  return questions.find(
    ({ fact, op, start, value }) =>
      fact === leaf.fact && op === leaf.op && (value !== 'none' || fact === 'product' || start === leaf.value),
  );
}
