import type { Fact, Leaf, OpOf, ValueOf } from '../rulebook/leaf.ts';
import { allOf, anyOf, noneOf, timeless, type TimedPredicate } from './timedResult.ts';
import { isWithin, sameName, samePath } from '../model/names.ts';
import { memoize } from './memoize.ts';
import {
  stockStatuses,
  type RoleMembership,
  type ProductFacts,
  type ShopFacts,
  type Subject,
} from '../model/subject.ts';
import { formatInstant } from '../model/zone.ts';
import { aroundWindow, betweenWindow, inWindow, inWindows, weeklyWindows, yearlyWindows } from './windows.ts';

/** Makes a test of a value that was asked for. */
type Operator<Value> = (asked: Value, shop: ShopFacts) => TimedPredicate;

/** One function for every operator of every fact: a missing one does not compile. */
type OperatorTable = { readonly [F in Fact]: { readonly [O in OpOf<F>]: Operator<ValueOf<F, O>> } };

/** One of those asked for, letter by letter; a fact that is missing is none of them. */
const oneOf =
  (read: (subject: Subject) => string | null, wanted: boolean): Operator<readonly string[]> =>
  (asked) => {
    const set = new Set<string | null>(asked);
    return timeless((subject) => set.has(read(subject)) === wanted);
  };

/** The same, told apart as people would. */
const oneOfNames =
  (read: (subject: Subject) => string | null, wanted: boolean): Operator<readonly string[]> =>
  (asked, shop) =>
    oneOf((subject) => {
      const name = read(subject);
      return name === null ? null : sameName(name);
    }, wanted)(asked.map(sameName), shop);

/** A value of a name, among those asked for. */
const valueOfName =
  (
    read: (subject: Subject) => Readonly<Record<string, string>>,
    wanted: boolean,
  ): Operator<{ name: string; values: readonly string[] }> =>
  ({ name, values }, shop) =>
    oneOfNames((subject) => own(read(subject), name), wanted)(values, shop);

const own = (record: Readonly<Record<string, string>>, name: string) =>
  Object.hasOwn(record, name) ? (record[name] ?? null) : null;

/** Comparisons of a path; one that is missing is never as asked. */
const paths = (read: (subject: Subject) => string | null) => {
  const when =
    (holds: (own: string, asked: string) => boolean): Operator<string> =>
    (asked) => {
      const wanted = samePath(asked);
      return timeless((subject) => {
        const own = read(subject);
        return own !== null && holds(samePath(own), wanted);
      });
    };
  return {
    equals: when((own, asked) => own === asked),
    startsWith: when((own, asked) => own.startsWith(asked)),
    contains: when((own, asked) => own.includes(asked)),
  };
};

const NO_TAGS: ReadonlySet<string> = new Set();
const TAGS = new WeakMap<ProductFacts, ReadonlySet<string>>();

function tagsOf(product: ProductFacts): ReadonlySet<string> {
  const known = TAGS.get(product) ?? new Set(product.tags.map(sameName));
  TAGS.set(product, known);
  return known;
}

/** Tags: some, all or none of those asked for, told apart as people would. */
const tags =
  (holds: (asked: readonly string[], has: ReadonlySet<string>) => boolean): Operator<readonly string[]> =>
  (asked) => {
    const names = asked.map(sameName);
    return timeless(({ product }) => holds(names, product ? tagsOf(product) : NO_TAGS));
  };

const within =
  (wanted: boolean): Operator<readonly string[]> =>
  (asked) =>
    timeless(
      ({ product }) =>
        (product?.categories ?? []).some((own) => asked.some((ancestor) => isWithin(own, ancestor))) === wanted,
    );

const status =
  (wanted: boolean): Operator<readonly string[]> =>
  (asked) => {
    const set = new Set(asked);
    return timeless(
      ({ variant }) => (variant ? stockStatuses(variant.stock) : []).some((own) => set.has(own)) === wanted,
    );
  };

/** Comparisons of a number; one that is missing is never as asked. */
const compared = (read: (subject: Subject) => number | null) => {
  const when =
    <Value>(holds: (own: number, asked: Value) => boolean): Operator<Value> =>
    (asked) =>
      timeless((subject) => {
        const own = read(subject);
        return own !== null && holds(own, asked);
      });
  return {
    lt: when<number>((own, asked) => own < asked),
    lte: when<number>((own, asked) => own <= asked),
    gt: when<number>((own, asked) => own > asked),
    gte: when<number>((own, asked) => own >= asked),
    eq: when<number>((own, asked) => own === asked),
    between: when<[number, number]>((own, [low, high]) => low <= own && own <= high),
  };
};

const quantityOf = ({ variant }: Subject) => (variant?.stock.tracked ? variant.stock.quantity : null);

/** Over the product's tracked variants. */
function totalOf({ product }: Subject): number | null {
  const tracked = (product?.variants ?? []).filter(({ stock }) => stock.tracked);
  return tracked.length === 0 ? null : tracked.reduce((sum, { stock }) => sum + stock.quantity, 0);
}

/** Those who wait for the variant itself, and for the product, which means any of its variants. */
const waitingFor = ({ product, variant }: Subject) => (product && variant ? product.waiting + variant.waiting : null);

const reservedOf = ({ variant }: Subject) => variant?.reserved ?? null;

/** Whether the visitor has a turn to buy the variant, by its own waitlist or its product's, and until when. */
const isInvited: TimedPredicate = ({ visitor, product, variant, moment }) => {
  const open = visitor.invitations.filter(({ to, id }) => id === (to === 'variant' ? variant?.id : product?.id));
  return inWindows(
    open.map(({ until }) => ({ from: -Infinity, until: until ?? Infinity })),
    moment,
  );
};

/** A BCP 47 range matches itself and what is narrower: `fr` matches `fr-CA` (RFC 4647, basic filtering). */
const inRange = (locale: string, range: string) =>
  locale.toLowerCase() === range.toLowerCase() || locale.toLowerCase().startsWith(`${range.toLowerCase()}-`);

/** Whether a role is held at a moment, and until when. */
const holdsRole =
  (code: string): TimedPredicate =>
  ({ visitor, moment }) =>
    inWindows(visitor.roles.filter((role) => role.code === code).map(windowOf), moment);

const windowOf = ({ from, until }: RoleMembership) => ({ from: from ?? -Infinity, until: until ?? Infinity });

const OPERATORS: OperatorTable = {
  product: { every: () => timeless(() => true) },
  'product.id': {
    in: oneOf(({ product }) => product?.id ?? null, true),
    notIn: oneOf(({ product }) => product?.id ?? null, false),
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
      return timeless(({ product }) => (product?.categories ?? []).some((own) => set.has(own)));
    },
  },
  'product.brand': {
    in: oneOfNames(({ product }) => product?.brand ?? null, true),
    notIn: oneOfNames(({ product }) => product?.brand ?? null, false),
  },
  'product.kind': {
    in: oneOfNames(({ product }) => product?.kind ?? null, true),
    notIn: oneOfNames(({ product }) => product?.kind ?? null, false),
  },
  'product.seller': {
    in: oneOfNames(({ product }) => product?.seller ?? null, true),
    notIn: oneOfNames(({ product }) => product?.seller ?? null, false),
  },
  'product.path': paths(({ product }) => product?.path ?? null),
  'page.path': paths(({ page }) => page),
  'product.attribute': {
    in: valueOfName(({ product }) => product?.attributes ?? {}, true),
    notIn: valueOfName(({ product }) => product?.attributes ?? {}, false),
  },
  'variant.id': {
    in: oneOf(({ variant }) => variant?.id ?? null, true),
    notIn: oneOf(({ variant }) => variant?.id ?? null, false),
  },
  'variant.option': {
    in: valueOfName(({ variant }) => variant?.options ?? {}, true),
    notIn: valueOfName(({ variant }) => variant?.options ?? {}, false),
  },
  'variant.price': compared(({ variant }) => variant?.price ?? null),
  'stock.status': { in: status(true), notIn: status(false) },
  'stock.quantity': compared(quantityOf),
  'stock.productTotal': compared(totalOf),
  'preorder.reserved': compared(reservedOf),
  'waitlist.length': compared(waitingFor),
  'visitor.signedIn': { is: (asked) => timeless(({ visitor }) => visitor.signedIn === asked) },
  'visitor.roles': {
    hasAny: (asked) => anyOf(asked.map(holdsRole)),
    hasAll: (asked) => allOf(asked.map(holdsRole)),
    hasNone: (asked) => noneOf(asked.map(holdsRole)),
  },
  'visitor.customer': {
    in: oneOf(({ visitor }) => visitor.customerId, true),
    notIn: oneOf(({ visitor }) => visitor.customerId, false),
  },
  'visitor.invited': { is: (asked) => (asked ? isInvited : noneOf([isInvited])) },
  'visitor.locale': {
    in: (asked) =>
      timeless(({ visitor: { locale } }) => locale !== null && asked.some((range) => inRange(locale, range))),
  },
  surface: {
    in: (asked) => {
      const set = new Set<string>(asked);
      return timeless(({ surface }) => set.has(surface));
    },
  },
  moment: {
    between: (asked, { zone }) => {
      const window = betweenWindow(zone, asked);
      return ({ moment }) => inWindow(window, moment);
    },
    weekly: (asked, { zone }) => {
      const held = memoize((moment: number) => inWindows(weeklyWindows(zone, asked, moment), moment));
      return ({ moment }) => held(moment);
    },
    yearly: (asked, { zone }) => {
      const held = memoize((moment: number) => inWindows(yearlyWindows(zone, asked, moment), moment));
      return ({ moment }) => held(moment);
    },
    around: (asked, { zone }) => {
      const windowAround = memoize((date: string | undefined) => aroundWindow(zone, asked, date));
      return ({ moment, product }) => inWindow(windowAround(product?.dates[asked.date]), moment);
    },
  },
};

/** What a fact was, for people who ask why. */
const ACTUAL: {
  readonly [F in Fact]: (subject: Subject, shop: ShopFacts, leaf: Extract<Leaf, { fact: F }>) => Actual;
} = {
  product: ({ product }) => product?.id ?? null,
  'product.id': ({ product }) => product?.id ?? null,
  'product.tags': ({ product }) => product?.tags ?? [],
  'product.categories': ({ product }) => product?.categories ?? [],
  'stock.status': ({ variant }) => (variant ? stockStatuses(variant.stock) : null),
  'stock.quantity': quantityOf,
  'stock.productTotal': totalOf,
  'product.brand': ({ product }) => product?.brand ?? null,
  'product.kind': ({ product }) => product?.kind ?? null,
  'product.seller': ({ product }) => product?.seller ?? null,
  'product.path': ({ product }) => product?.path ?? null,
  'page.path': ({ page }) => page,
  'product.attribute': ({ product }, _shop, { value }) => own(product?.attributes ?? {}, value.name),
  'variant.id': ({ variant }) => variant?.id ?? null,
  'variant.option': ({ variant }, _shop, { value }) => own(variant?.options ?? {}, value.name),
  'variant.price': ({ variant }) => variant?.price ?? null,
  'preorder.reserved': reservedOf,
  'waitlist.length': waitingFor,
  'visitor.invited': (subject) => isInvited(subject).matches,
  'visitor.customer': ({ visitor }) => visitor.customerId,
  'visitor.locale': ({ visitor }) => visitor.locale,
  surface: ({ surface }) => surface,
  'visitor.signedIn': ({ visitor }) => visitor.signedIn,
  'visitor.roles': ({ visitor, moment }) => {
    const held = visitor.roles.filter((role) => inWindows([windowOf(role)], moment).matches);
    return [...new Set(held.map(({ code }) => code))];
  },
  moment: ({ product, moment }, { zone }, leaf) =>
    leaf.op === 'around' ? (product?.dates[leaf.value.date] ?? null) : formatInstant(zone, moment),
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
export function testOf(leaf: Leaf, shop: ShopFacts): TimedPredicate {
  const operators = OPERATORS[leaf.fact] as Readonly<Record<string, Operator<unknown>>>;
  const operator = operators[leaf.op];
  if (!operator) throw new TypeError(`no operator ${leaf.op} for ${leaf.fact}`);
  return operator(leaf.value, shop);
}
