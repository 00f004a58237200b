import { factNamed, type FactName, type Leaf } from '#core/facts/facts.ts';
import type { About } from '#core/facts/segment.ts';

/** A condition offered in a list: a fact with an operator, and the editor of its value. */
export interface Question {
  readonly label: string;
  readonly fact: Leaf['fact'];
  readonly op: Leaf['op'];
  /** Initial value; null if one has to be chosen first. */
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

interface FactQuestions<Name extends FactName> {
  /** Under what its questions stand together. */
  readonly group: string;
  readonly questions: readonly (Omit<Question, 'fact' | 'op'> & { readonly op: Extract<Leaf, { fact: Name }>['op'] })[];
}

/** Conditions offered for each fact, in the order of the lists. */
const ASKABLE: { readonly [Name in FactName]: FactQuestions<Name> } = {
  'product.tags': {
    group: 'Tags',
    questions: [
      { label: 'tagged with any of', op: 'hasAny', start: null, value: 'tags' },
      { label: 'tagged with all of', op: 'hasAll', start: null, value: 'tags' },
      { label: 'not tagged with', op: 'hasNone', start: null, value: 'tags' },
    ],
  },
  'product.categories': {
    group: 'Categories',
    questions: [
      { label: 'in a category and all below', op: 'within', start: null, value: 'categories' },
      { label: 'not in a category or below', op: 'notWithin', start: null, value: 'categories' },
      { label: 'directly in a category', op: 'exactly', start: null, value: 'categories' },
    ],
  },
  product: {
    group: 'Products',
    questions: [{ label: 'all products', op: 'every', start: true, value: 'none' }],
  },
  'product.id': {
    group: 'Products',
    questions: [
      { label: 'these products', op: 'in', start: null, value: 'products' },
      { label: 'other than these products', op: 'notIn', start: null, value: 'products' },
    ],
  },
  'product.brand': {
    group: 'Products',
    questions: [
      { label: 'of the brands', op: 'in', start: null, value: 'brands' },
      { label: 'not of the brands', op: 'notIn', start: null, value: 'brands' },
    ],
  },
  'product.kind': {
    group: 'Products',
    questions: [
      { label: 'of the kinds', op: 'in', start: null, value: 'kinds' },
      { label: 'not of the kinds', op: 'notIn', start: null, value: 'kinds' },
    ],
  },
  'product.seller': {
    group: 'Products',
    questions: [
      { label: 'sold by', op: 'in', start: null, value: 'sellers' },
      { label: 'not sold by', op: 'notIn', start: null, value: 'sellers' },
    ],
  },
  'product.attribute': {
    group: 'Products',
    questions: [
      { label: 'whose attribute is', op: 'in', start: null, value: 'attribute' },
      { label: 'whose attribute is not', op: 'notIn', start: null, value: 'attribute' },
    ],
  },
  'product.path': {
    group: 'Addresses',
    questions: [
      { label: 'at the address', op: 'equals', start: null, value: 'path' },
      { label: 'at addresses that begin with', op: 'startsWith', start: null, value: 'path' },
      { label: 'at addresses that contain', op: 'contains', start: null, value: 'pathPart' },
    ],
  },
  'variant.id': {
    group: 'Variants',
    questions: [
      { label: 'these variants', op: 'in', start: null, value: 'variants' },
      { label: 'other than these variants', op: 'notIn', start: null, value: 'variants' },
    ],
  },
  'variant.option': {
    group: 'Variants',
    questions: [
      { label: 'variants whose option is', op: 'in', start: null, value: 'option' },
      { label: 'variants whose option is not', op: 'notIn', start: null, value: 'option' },
    ],
  },
  'variant.price': {
    group: 'Price',
    questions: [
      { label: 'variants that cost less than', op: 'lt', start: null, value: 'price' },
      { label: 'variants that cost at most', op: 'lte', start: null, value: 'price' },
      { label: 'variants that cost more than', op: 'gt', start: null, value: 'price' },
      { label: 'variants that cost at least', op: 'gte', start: null, value: 'price' },
      { label: 'variants that cost between', op: 'between', start: null, value: 'priceRange' },
    ],
  },
  'stock.status': {
    group: 'Stock',
    questions: [
      { label: 'variants that are', op: 'in', start: ['outOfStock'], value: 'statuses' },
      { label: 'variants that are not', op: 'notIn', start: ['inStock'], value: 'statuses' },
    ],
  },
  'stock.quantity': {
    group: 'Stock',
    questions: [
      { label: 'variants with stock below', op: 'lt', start: 5, value: 'quantity' },
      { label: 'variants with stock at most', op: 'lte', start: 5, value: 'quantity' },
      { label: 'variants with stock above', op: 'gt', start: 5, value: 'quantity' },
      { label: 'variants with stock at least', op: 'gte', start: 5, value: 'quantity' },
      { label: 'variants with stock exactly', op: 'eq', start: 0, value: 'quantity' },
      { label: 'variants with stock between', op: 'between', start: [1, 5], value: 'range' },
    ],
  },
  'stock.productTotal': {
    group: 'Stock',
    questions: [
      { label: 'with total stock below', op: 'lt', start: 5, value: 'quantity' },
      { label: 'with total stock at most', op: 'lte', start: 0, value: 'quantity' },
      { label: 'with total stock above', op: 'gt', start: 5, value: 'quantity' },
      { label: 'with total stock at least', op: 'gte', start: 5, value: 'quantity' },
      { label: 'with total stock exactly', op: 'eq', start: 0, value: 'quantity' },
      { label: 'with total stock between', op: 'between', start: [1, 5], value: 'range' },
    ],
  },
  'preorder.reserved': {
    group: 'Pre-orders',
    questions: [
      { label: 'variants with reservations below', op: 'lt', start: 5, value: 'quantity' },
      { label: 'variants with reservations at most', op: 'lte', start: 5, value: 'quantity' },
      { label: 'variants with reservations above', op: 'gt', start: 5, value: 'quantity' },
      { label: 'variants with reservations at least', op: 'gte', start: 1, value: 'quantity' },
      { label: 'variants with reservations exactly', op: 'eq', start: 0, value: 'quantity' },
      { label: 'variants with reservations between', op: 'between', start: [1, 5], value: 'range' },
    ],
  },
  'waitlist.length': {
    group: 'Waitlists',
    questions: [
      { label: 'variants with waitlists shorter than', op: 'lt', start: 5, value: 'quantity' },
      { label: 'variants with waitlists of at most', op: 'lte', start: 5, value: 'quantity' },
      { label: 'variants with waitlists longer than', op: 'gt', start: 5, value: 'quantity' },
      { label: 'variants with waitlists of at least', op: 'gte', start: 1, value: 'quantity' },
      { label: 'variants with waitlists of exactly', op: 'eq', start: 0, value: 'quantity' },
      { label: 'variants with waitlists between', op: 'between', start: [1, 5], value: 'range' },
    ],
  },
  'visitor.signedIn': {
    group: 'Visitors',
    questions: [
      { label: 'guests', op: 'is', start: false, value: 'none' },
      { label: 'signed-in customers', op: 'is', start: true, value: 'none' },
    ],
  },
  'visitor.roles': {
    group: 'Roles',
    questions: [
      { label: 'customers with any of the roles', op: 'hasAny', start: null, value: 'roles' },
      { label: 'customers with all of the roles', op: 'hasAll', start: null, value: 'roles' },
      { label: 'everyone but the roles', op: 'hasNone', start: null, value: 'roles' },
    ],
  },
  'visitor.customer': {
    group: 'Customers',
    questions: [
      { label: 'these customers', op: 'in', start: null, value: 'customers' },
      { label: 'everyone but these customers', op: 'notIn', start: null, value: 'customers' },
    ],
  },
  'visitor.invited': {
    group: 'Waitlists',
    questions: [
      { label: 'people invited from its waitlist', op: 'is', start: true, value: 'none' },
      { label: 'everyone not invited from it', op: 'is', start: false, value: 'none' },
    ],
  },
  'visitor.locale': {
    group: 'Languages',
    questions: [{ label: 'visitors who read a language', op: 'in', start: null, value: 'locales' }],
  },
  moment: {
    group: 'Time',
    questions: [
      { label: 'from and until a date', op: 'between', start: null, value: 'between' },
      { label: 'relative to a product date', op: 'around', start: null, value: 'around' },
      {
        label: 'on days of the week',
        op: 'weekly',
        start: { days: [6, 7], from: '00:00', until: '00:00' },
        value: 'weekly',
      },
      { label: 'every year between two days', op: 'yearly', start: { from: '12-01', until: '01-07' }, value: 'yearly' },
    ],
  },
  surface: {
    group: 'Place',
    questions: [{ label: 'only where it is shown', op: 'in', start: ['product'], value: 'surfaces' }],
  },
  'page.path': {
    group: 'Place',
    questions: [
      { label: 'only on the page', op: 'equals', start: null, value: 'path' },
      { label: 'only on pages that begin with', op: 'startsWith', start: null, value: 'path' },
      { label: 'only on pages that contain', op: 'contains', start: null, value: 'pathPart' },
    ],
  },
};

/** Topics of a condition: a clause of the sentence, anything in a group, or product facts in the catalog. */
export type ConditionKind = Exclude<About, 'outcome'> | 'anything' | 'catalog';

const ALL = (Object.keys(ASKABLE) as FactName[]).flatMap((fact) =>
  ASKABLE[fact].questions.map((question): Question => ({ ...question, fact })),
);
const questionsAbout = (about: About) => ALL.filter(({ fact }) => factNamed(fact).about === about);
const [GOODS, PEOPLE, TIME] = [questionsAbout('goods'), questionsAbout('people'), questionsAbout('time')];

export const QUESTIONS: Record<ConditionKind, readonly Question[]> = {
  goods: GOODS,
  people: PEOPLE,
  time: TIME,
  anything: [...GOODS, ...PEOPLE, ...TIME],
  catalog: [...GOODS.filter(({ fact }) => fact !== 'product'), ...TIME.filter(({ op }) => op === 'around')],
};

/** Under what a question stands in a list. */
export const groupOf = ({ fact }: Question): string => ASKABLE[fact].group;

/** The question that a condition asks. */
export function questionOf(questions: readonly Question[], leaf: Leaf): Question | undefined {
  return questions.find(
    ({ fact, op, start, value }) =>
      fact === leaf.fact && op === leaf.op && (value !== 'none' || fact === 'product' || start === leaf.value),
  );
}
