import type { Fact, Leaf, OpOf, ValueOf } from '../rulebook/leaf.ts';
import { allOf, anyOf, noneOf, timeless, type Test } from './held.ts';
import { isWithin, sameName } from './names.ts';
import { stockStatuses, type HeldRole, type ShopFacts, type Subject } from './subject.ts';
import { formatInstant } from './zone.ts';
import { aroundWindow, betweenWindow, inWindow, inWindows, weeklyWindows, yearlyWindows } from './windows.ts';

/** Makes a test of a value that was asked for. */
type Operator<Value> = (asked: Value, shop: ShopFacts) => Test;

/** One function for every operator of every fact: a missing one does not compile. */
type OperatorTable = { readonly [F in Fact]: { readonly [O in OpOf<F>]: Operator<ValueOf<F, O>> } };

const oneOf =
  (read: (subject: Subject) => string, wanted: boolean): Operator<readonly string[]> =>
  (asked) => {
    const set = new Set(asked);
    return timeless((subject) => set.has(read(subject)) === wanted);
  };

/** Tags: some, all or none of those asked for, told apart as people would. */
const tags =
  (holds: (asked: readonly string[], has: ReadonlySet<string>) => boolean): Operator<readonly string[]> =>
  (asked) => {
    const names = asked.map(sameName);
    return timeless(({ product }) => holds(names, new Set(product.tags.map(sameName))));
  };

const within =
  (wanted: boolean): Operator<readonly string[]> =>
  (asked) =>
    timeless(
      ({ product }) => product.categories.some((own) => asked.some((ancestor) => isWithin(own, ancestor))) === wanted,
    );

const status =
  (wanted: boolean): Operator<readonly string[]> =>
  (asked) => {
    const set = new Set(asked);
    return timeless(({ variant }) => stockStatuses(variant.stock).some((own) => set.has(own)) === wanted);
  };

/** Untracked stock has no quantity, so no comparison with it is ever true. */
const quantity =
  <Value>(holds: (own: number, asked: Value) => boolean): Operator<Value> =>
  (asked) =>
    timeless(({ variant: { stock } }) => stock.tracked && holds(stock.quantity, asked));

/** Whether a role is held at a moment, and until when. */
const holdsRole =
  (code: string): Test =>
  ({ visitor, moment }) =>
    inWindows(visitor.roles.filter((role) => role.code === code).map(windowOf), moment);

const windowOf = ({ from, until }: HeldRole) => ({ from: from ?? -Infinity, until: until ?? Infinity });

const OPERATORS: OperatorTable = {
  product: { every: () => timeless(() => true) },
  'product.id': {
    in: oneOf(({ product }) => product.id, true),
    notIn: oneOf(({ product }) => product.id, false),
  },
  'product.tags': {
    hasAny: tags((asked, has) => asked.some((name) => has.has(name))),
    hasAll: tags((asked, has) => asked.every((name) => has.has(name))),
    hasNone: tags((asked, has) => !asked.some((name) => has.has(name))),
  },
  'product.categories': {
    within: within(true),
    notWithin: within(false),
    exactly: (asked) => {
      const set = new Set(asked);
      return timeless(({ product }) => product.categories.some((own) => set.has(own)));
    },
  },
  'stock.status': { in: status(true), notIn: status(false) },
  'stock.quantity': {
    lt: quantity<number>((own, asked) => own < asked),
    lte: quantity<number>((own, asked) => own <= asked),
    gt: quantity<number>((own, asked) => own > asked),
    gte: quantity<number>((own, asked) => own >= asked),
    eq: quantity<number>((own, asked) => own === asked),
    between: quantity<[number, number]>((own, [low, high]) => low <= own && own <= high),
  },
  'visitor.signedIn': { is: (asked) => timeless(({ visitor }) => visitor.signedIn === asked) },
  'visitor.roles': {
    hasAny: (asked) => anyOf(asked.map(holdsRole)),
    hasAll: (asked) => allOf(asked.map(holdsRole)),
    hasNone: (asked) => noneOf(asked.map(holdsRole)),
  },
  moment: {
    between: (asked, { zone }) => {
      const window = betweenWindow(zone, asked);
      return ({ moment }) => inWindow(window, moment);
    },
    weekly:
      (asked, { zone }) =>
      ({ moment }) =>
        inWindows(weeklyWindows(zone, asked, moment), moment),
    yearly:
      (asked, { zone }) =>
      ({ moment }) =>
        inWindows(yearlyWindows(zone, asked, moment), moment),
    around:
      (asked, { zone }) =>
      ({ moment, product }) =>
        inWindow(aroundWindow(zone, asked, product.dates[asked.date]), moment),
  },
};

/** What a fact was, for people who ask why. */
const ACTUAL: {
  readonly [F in Fact]: (subject: Subject, shop: ShopFacts, leaf: Extract<Leaf, { fact: F }>) => Actual;
} = {
  product: ({ product }) => product.id,
  'product.id': ({ product }) => product.id,
  'product.tags': ({ product }) => product.tags,
  'product.categories': ({ product }) => product.categories,
  'stock.status': ({ variant }) => stockStatuses(variant.stock),
  'stock.quantity': ({ variant: { stock } }) => (stock.tracked ? stock.quantity : null),
  'visitor.signedIn': ({ visitor }) => visitor.signedIn,
  'visitor.roles': ({ visitor, moment }) => {
    const held = visitor.roles.filter((role) => inWindows([windowOf(role)], moment).holds);
    return [...new Set(held.map(({ code }) => code))];
  },
  moment: ({ product, moment }, { zone }, leaf) =>
    leaf.op === 'around' ? (product.dates[leaf.value.date] ?? null) : formatInstant(zone, moment),
};

/** A fact's value: null when it is missing. */
export type Actual = string | number | boolean | null | readonly string[];

/** What the fact that a leaf asks about is for this subject. */
export function actualOf(leaf: Leaf, subject: Subject, shop: ShopFacts): Actual {
  // The table is keyed by the leaf's own fact, a tie that TypeScript cannot follow through an index.
  const read = ACTUAL[leaf.fact] as (subject: Subject, shop: ShopFacts, leaf: Leaf) => Actual;
  return read(subject, shop, leaf);
}

/** Makes a leaf's test: the row of the table that the leaf names. */
export function testOf(leaf: Leaf, shop: ShopFacts): Test {
  const operators = OPERATORS[leaf.fact] as Readonly<Record<string, Operator<unknown>>>;
  const operator = operators[leaf.op];
  if (!operator) throw new TypeError(`no operator ${leaf.op} for ${leaf.fact}`);
  return operator(leaf.value, shop);
}
