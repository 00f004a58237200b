import { textsOf } from '#core/texts/languages.ts';
import type { Names } from '#core/facts/wording.ts';
import fc from 'fast-check';
import type { Condition } from '#core/rulebook/condition.ts';
import type { Leaf } from '#core/facts/facts.ts';
import type { Control } from '#core/aspects/control.ts';
import type { Outcome } from '#core/aspects/outcome.ts';
import { RULE_KINDS } from '#core/controls/controls.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { SELLER_ASPECTS, type SellerAllowance, type SellerRules } from '#core/rulebook/sellers.ts';
import { STOCK_STATUSES, type ProductSubject, type ShopFacts } from '#core/model/subject.ts';
import { zoneData } from '../../server/shopData/zoneData.ts';

/** Small worlds, in which rules meet often. */
const TAGS = ['rare', 'Rare ', 'ships-spring', 'café', 'cafe\u0301'];
const CATEGORIES = ['plants', 'plants/bulbs', 'plants/bulbs/tulips', 'plants/bulbous', 'seeds'];
const ROLES = ['member', 'trade', 'staff'];
const PRODUCTS = ['a', 'b'];
const NAMES = ['Quillfern', 'quillfern ', 'H5'];

export const LISBON: ShopFacts = {
  name: 'Quillfern Nursery',
  zone: zoneData('Europe/Lisbon'),
  locales: ['en', 'fr'],
  currency: 'EUR',
  exponent: 2,
  texts: textsOf(['en', 'fr']),
};

/** Sentences as this shop has them, with names as they are. */
export const OF_LISBON: Names = { shop: LISBON };

const some = (values: readonly string[]) => fc.uniqueArray(fc.constantFrom(...values), { minLength: 1, maxLength: 3 });
const pad = (value: number, length = 2) => String(value).padStart(length, '0');

/** Around the days on which Lisbon's clocks change. */
export const instant = fc.oneof(
  fc.integer({ min: Date.UTC(2026, 0, 1), max: Date.UTC(2028, 11, 31) }),
  fc.integer({ min: -4, max: 4 }).map((half) => Date.UTC(2027, 2, 28, 1) + half * 1_800_000),
  fc.integer({ min: -4, max: 4 }).map((half) => Date.UTC(2027, 9, 31, 1) + half * 1_800_000),
);
const localTime = instant.map((at) => new Date(at).toISOString().slice(0, 16));
const localDate = localTime.map((text) => text.slice(0, 10));
const timeOfDay = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.constantFrom(0, 15, 30, 45))
  .map(([hour, minute]) => `${pad(hour)}:${pad(minute)}`);
const yearDay = fc.constantFrom('01-01', '02-28', '02-29', '03-01', '03-28', '10-31', '12-31');
const duration = fc
  .record({
    sign: fc.constantFrom('', '-'),
    months: fc.integer({ min: 0, max: 3 }),
    days: fc.integer({ min: 0, max: 40 }),
    hours: fc.integer({ min: 0, max: 30 }),
  })
  .map(({ sign, months, days, hours }) => `${sign}P${months}M${days}DT${hours}H`);

const bounded = (bound: fc.Arbitrary<string>) =>
  fc.oneof(fc.record({ from: bound }), fc.record({ until: bound }), fc.record({ from: bound, until: bound }));

const names = (fact: string, ops: readonly string[], values: readonly string[]) =>
  fc.record({ fact: fc.constant(fact), op: fc.constantFrom(...ops), value: some(values) });

export const leaf = fc.oneof(
  fc.constant({ fact: 'product', op: 'every', value: true }),
  names('product.id', ['in', 'notIn'], PRODUCTS),
  names('product.tags', ['hasAny', 'hasAll', 'hasNone'], TAGS),
  names('product.categories', ['within', 'notWithin', 'exactly'], CATEGORIES),
  names('product.brand', ['in', 'notIn'], NAMES),
  names('product.kind', ['in', 'notIn'], NAMES),
  names('product.seller', ['in', 'notIn'], NAMES),
  fc.record({
    fact: fc.constant('product.weight'),
    op: fc.constantFrom('lt', 'lte', 'gt', 'gte'),
    value: fc.integer({ min: 499, max: 501 }),
  }),
  fc.record({
    fact: fc.constant('product.weight'),
    op: fc.constant('between'),
    value: fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 499, max: 501 })),
  }),
  fc.record({
    fact: fc.constant('product.path'),
    op: fc.constantFrom('equals', 'startsWith', 'contains'),
    value: fc.constantFrom('/plants', '/plants/', '/plants/a', '/caf%C3%A9', '/'),
  }),
  fc.record({
    fact: fc.constantFrom('product.attribute', 'variant.option'),
    op: fc.constantFrom('in', 'notIn'),
    value: fc.record({ name: fc.constantFrom('Size', 'hardiness'), values: some(NAMES) }),
  }),
  names('variant.id', ['in', 'notIn'], ['a-1', 'b-1']),
  fc.record({
    fact: fc.constant('variant.price'),
    op: fc.constantFrom('lt', 'lte', 'gt', 'gte'),
    value: fc.integer({ min: 548, max: 552 }),
  }),
  fc.record({
    fact: fc.constantFrom('stock.productTotal', 'preorder.reserved', 'waitlist.length'),
    op: fc.constantFrom('lt', 'lte', 'gt', 'gte', 'eq'),
    value: fc.integer({ min: -2, max: 8 }),
  }),
  fc.record({ fact: fc.constant('visitor.invited'), op: fc.constant('is'), value: fc.boolean() }),
  names('visitor.customer', ['in', 'notIn'], ['c-1', 'c-2']),
  names('visitor.locale', ['in'], ['en', 'fr', 'FR-ca']),
  names('surface', ['in'], ['listing', 'product', 'cart']),
  names('stock.status', ['in', 'notIn'], STOCK_STATUSES),
  fc.record({
    fact: fc.constant('stock.quantity'),
    op: fc.constantFrom('lt', 'lte', 'gt', 'gte', 'eq'),
    value: fc.integer({ min: -2, max: 6 }),
  }),
  fc.record({
    fact: fc.constant('stock.quantity'),
    op: fc.constant('between'),
    value: fc.tuple(fc.integer({ min: -2, max: 3 }), fc.integer({ min: 0, max: 6 })),
  }),
  fc.record({ fact: fc.constant('visitor.signedIn'), op: fc.constant('is'), value: fc.boolean() }),
  names('visitor.roles', ['hasAny', 'hasAll', 'hasNone'], ROLES),
  fc.record({ fact: fc.constant('moment'), op: fc.constant('between'), value: bounded(localTime) }),
  fc.record({
    fact: fc.constant('moment'),
    op: fc.constant('weekly'),
    value: fc.record({
      days: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
      from: timeOfDay,
      until: timeOfDay,
    }),
  }),
  fc.record({
    fact: fc.constant('moment'),
    op: fc.constant('yearly'),
    value: fc.record({ from: yearDay, until: yearDay }).filter(({ from, until }) => from !== until),
  }),
  fc.record({
    fact: fc.constant('moment'),
    op: fc.constant('around'),
    value: fc.tuple(fc.constantFrom('ships', 'releases'), bounded(duration)).map(([date, ends]) => ({ date, ...ends })),
  }),
) as fc.Arbitrary<Leaf>;

export const condition: fc.Arbitrary<Condition> = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    leaf,
    fc
      .tuple(fc.constantFrom('all', 'any', 'none'), fc.array(tie('node'), { minLength: 1, maxLength: 3 }))
      .map(([join, members]) => ({ [join]: members }) as Condition),
  ),
})).node;

const pagePath = fc.record({
  fact: fc.constant('page.path'),
  op: fc.constantFrom('equals', 'startsWith', 'contains'),
  value: fc.constantFrom('/plants', '/society/'),
}) as fc.Arbitrary<Leaf>;

const words = fc.constantFrom<string | Record<string, string>>(
  'Reserve',
  'Reserve ”now“ \\',
  { en: 'Reserve', fr: 'Réserver' },
  { fr: 'Réserver', en: 'Reserve' },
  { en: 'Only {stock.quantity} left, {preorder.left} to reserve, {waitlist.length} waiting' },
);
const maybe = <T>(name: string, value: fc.Arbitrary<T>) =>
  fc.option(value, { nil: undefined }).map((field) => (field === undefined ? {} : { [name]: field }));
const merged = (...parts: fc.Arbitrary<object>[]) =>
  fc.tuple(...parts).map((all) => Object.assign({}, ...all) as object);

const count = fc.integer({ min: 1, max: 6 });
const per = fc.constantFrom('variant', 'product');
const colour = fc.constantFrom('#16323a', '#FFFFFF');
const worded = [
  maybe('label', words),
  maybe(
    'look',
    fc.oneof(fc.record({ fill: colour }), fc.record({ ink: colour }), fc.record({ fill: colour, ink: colour })),
  ),
];
const beside = maybe('beside', fc.boolean());
const kind = (name: string) => fc.constant({ kind: name });

/** Every kind of stand-in, without what it is on listings. */
const plainControls = {
  labelled: fc.oneof(
    merged(kind('buy'), ...worded),
    merged(
      kind('preorder'),
      ...worded,
      beside,
      fc.oneof(
        fc.constant({}),
        merged(fc.record({ cap: fc.record({ units: count, per }) }), maybe('atCap', fc.constant('next'))),
        fc.record({ cap: fc.record({ units: count, per }), atCap: fc.constant('close'), closedText: words }),
      ),
      maybe(
        'ships',
        fc.constantFrom<object>(
          { from: '2027-05-20' },
          { from: '2027-05-20', until: '2027-06-01' },
          { within: 'P14D' },
        ),
      ),
    ),
    merged(
      kind('waitlist'),
      ...worded,
      beside,
      fc.record({ per }),
      maybe('text', words),
      maybe('account', fc.constantFrom('optional', 'required')),
      maybe('signInAt', fc.constantFrom('/sign-in?back={product.path}', '/join')),
    ),
    merged(kind('quote'), ...worded, beside),
    merged(
      kind('enquiry'),
      ...worded,
      beside,
      fc.record({
        form: fc.constantFrom<unknown>('contact', { page: '/contact?about={product.id}' }),
        open: fc.constantFrom('inline', 'dialog'),
      }),
      maybe('place', fc.constantFrom('belowControl', 'inDescription')),
    ),
    merged(
      fc.constantFrom<object>(
        { kind: 'link', href: '/contact' },
        { kind: 'signIn', href: '/in' },
        { kind: 'signIn', href: '/in', join: { href: '/circle' } },
      ),
      ...worded,
      beside,
    ),
    merged(fc.record({ kind: fc.constant('link'), href: fc.constant('/contact'), newTab: fc.boolean() }), ...worded),
    merged(kind('ownPrice'), ...worded, beside, maybe('min', fc.constant(100)), maybe('suggested', fc.constant(300))),
    merged(kind('severalAtOnce'), ...worded, beside),
  ),
  notice: merged(fc.record({ kind: fc.constant('notice'), text: words }), beside),
  silent: kind('nothing'),
};
const listing = fc.oneof(...Object.values(plainControls));

export const control = fc.oneof(
  {
    arbitrary: merged(plainControls.labelled, maybe('onListing', fc.oneof(listing, fc.record({ label: words })))),
    weight: 8,
  },
  merged(plainControls.notice, maybe('onListing', fc.oneof(listing, fc.record({ text: words })))),
  merged(plainControls.silent, maybe('onListing', listing)),
) as fc.Arbitrary<Control>;

const price = fc.oneof(
  merged(
    fc.constant({ show: true }),
    maybe('showWas', fc.boolean()),
    maybe('suffix', words),
    maybe('onListing', fc.record({ suffix: words })),
  ),
  merged(fc.constant({ show: false }), maybe('text', words)),
  fc.record({
    adjust: fc.oneof(
      fc.record({ percent: fc.constantFrom(-150, -20, -0.5, 0, 12.5) }),
      fc.record({ amount: fc.integer({ min: -700, max: 700 }) }),
      fc.record({ fixed: fc.integer({ min: 0, max: 900 }) }),
    ),
  }),
);
const notes = fc.array(fc.record({ place: fc.constantFrom('aboveControl', 'belowPrice', 'badge'), text: words }), {
  minLength: 1,
  maxLength: 3,
});
const style = fc.uniqueArray(fc.constantFrom('sold-out', 'rare', 'is_new'), { minLength: 1, maxLength: 2 });
const visibility = merged(
  fc.record({ state: fc.constantFrom('shown', 'offListings', 'blocked') }),
  maybe('redirectTo', fc.constant('/away')),
);

export const outcome = merged(
  maybe('control', control),
  maybe('express', fc.constantFrom('show', 'hide')),
  maybe('price', price),
  maybe('notes', notes),
  maybe(
    'limits',
    fc.oneof(fc.record({ min: count }), fc.record({ max: count }), fc.record({ step: count, min: count })),
  ),
  maybe('visibility', visibility),
  maybe('afterOrder', fc.record({ text: words })),
  maybe('style', style),
  maybe('cart', merged(fc.record({ open: fc.boolean() }), maybe('redirectTo', fc.constant('/away')))),
  maybe(
    'checkout',
    merged(
      fc.record({ open: fc.boolean() }),
      maybe('submitOrder', merged(fc.record({ show: fc.boolean() }), maybe('text', words))),
      maybe('hideMethods', fc.constantFrom(['card'], ['card', 'invoice'])),
    ),
  ),
) as fc.Arbitrary<Outcome>;

const gathers = ({ then }: Pick<Rule, 'then'>) => then.notes !== undefined || then.style !== undefined;

const ruleOf = (when: fc.Arbitrary<Condition>, then: fc.Arbitrary<Outcome>): fc.Arbitrary<Rule> =>
  fc
    .record({
      id: fc.uuid(),
      name: fc.constant('A rule'),
      on: fc.boolean(),
      when,
      then,
      stopHere: fc.boolean(),
      gather: fc.boolean(),
    })
    .map(({ gather, ...rule }) => (gathers(rule) ? { ...rule, gather } : rule));

/** Outcomes allowed in a rule that depends on the page's address. */
const aboutPages = merged(
  maybe('notes', notes),
  maybe('style', style),
  maybe('visibility', visibility),
) as fc.Arbitrary<Outcome>;

export const rule: fc.Arbitrary<Rule> = fc.oneof(
  { arbitrary: ruleOf(condition, outcome), weight: 5 },
  ruleOf(
    fc.tuple(condition, pagePath).map(([rest, page]) => ({ all: [rest, page] })),
    aboutPages,
  ),
);

/** Of the owner's own rules alone. */
export type PlainRulebook = Omit<Rulebook, 'rules'> & { rules: Rule[] };

export const rulebook: fc.Arbitrary<PlainRulebook> = fc
  .uniqueArray(rule, { maxLength: 6, selector: ({ id }) => id })
  .map((rules) => ({ format: 'understudy-rulebook' as const, version: 1 as const, rules }));

const stock = fc.record({
  tracked: fc.boolean(),
  quantity: fc.integer({ min: -2, max: 6 }),
  sellPastZero: fc.boolean(),
});
const bound = fc.option(instant, { nil: null });
const maybeName = fc.constantFrom(null, ...NAMES);

export const subject: fc.Arbitrary<ProductSubject> = fc
  .record({
    id: fc.constantFrom(...PRODUCTS),
    tags: fc.array(fc.constantFrom(...TAGS), { maxLength: 2 }),
    categories: fc.array(fc.constantFrom(...CATEGORIES), { maxLength: 2 }),
    dates: fc.oneof(
      fc.constant({}),
      fc.record({ ships: localDate }),
      fc.record({ ships: localTime, releases: localDate }),
    ),
    stock,
    other: stock,
    brand: maybeName,
    seller: maybeName,
    grams: fc.constantFrom(null, 0, 499, 500, 501),
    named: fc.oneof(fc.constant({}), fc.record({ Size: fc.constantFrom(...NAMES) })),
    path: fc.constantFrom(null, '/plants/a/', '/plants', '/café'),
    customerId: fc.constantFrom('c-1', 'c-3'),
    signedIn: fc.boolean(),
    roles: fc.array(fc.record({ code: fc.constantFrom(...ROLES), from: bound, until: bound }), { maxLength: 3 }),
    moment: instant,
    surface: fc.constantFrom('product' as const, 'listing' as const),
    locale: fc.constantFrom(null, 'en', 'fr-CA', 'de'),
    page: fc.constantFrom(null, '/plants/', '/society'),
    people: fc.tuple(...[0, 1, 2, 3].map(() => fc.integer({ min: 0, max: 4 }))),
    invitations: fc.array(
      fc.record({
        to: fc.constantFrom('variant' as const, 'product' as const, 'any' as const),
        id: fc.constantFrom('a', 'a-1'),
        until: bound,
      }),
      { maxLength: 2 },
    ),
  })
  .map((facts) => {
    const { id, tags, categories, dates, signedIn, roles, moment, surface, locale, named, brand, seller, grams } =
      facts;
    const options = named as Record<string, string>;
    const [waiting = 0, waitingHere = 0, reserved = 0, reservedThere = 0] = facts.people;
    const variant = {
      id: `${id}-1`,
      title: '1 tuber',
      options,
      price: 550,
      priceBefore: 600,
      stock: facts.stock,
      reserved,
      waiting: waitingHere,
    };
    const other = { ...variant, id: `${id}-2`, stock: facts.other, reserved: reservedThere };
    return {
      product: {
        id,
        title: { en: 'Dahlia' },
        path: facts.path,
        brand,
        kind: brand,
        seller,
        grams,
        tags,
        attributes: options,
        categories,
        dates,
        waiting,
        variants: [variant, other],
      },
      variant,
      visitor: {
        signedIn,
        roles: signedIn ? roles : [],
        customerId: signedIn ? facts.customerId : null,
        locale,
        invitations: signedIn ? facts.invitations : [],
      },
      moment,
      surface,
      page: facts.page,
    };
  });

/** Allowances, from nothing to everything. */
export const allowance: fc.Arbitrary<SellerAllowance> = fc.record({
  kinds: fc.subarray([...RULE_KINDS]),
  aspects: fc.subarray(SELLER_ASPECTS),
  hidesPrices: fc.boolean(),
  ownWords: fc.boolean(),
  mostUnits: fc.constantFrom(null, 1, 3),
});

/** Two sellers of the small world, one of whom the catalog spells in two ways. */
export const sellers: fc.Arbitrary<SellerRules[]> = fc
  .tuple(
    ...[['Quillfern'], ['h5', 'H6']].map((named, index) =>
      fc.record({
        id: fc.constant(`grower-${index}`),
        names: fc.constant(named),
        allowed: allowance,
        rules: fc.uniqueArray(rule, { maxLength: 4, selector: ({ id }) => id }),
      }),
    ),
  )
  .map((all) => [...all]);

/** A rulebook in which the sellers have their place, mostly. */
export const marketplace: fc.Arbitrary<Rulebook> = fc
  .tuple(rulebook, fc.nat(), fc.integer({ min: 0, max: 9 }))
  .map(([{ rules, ...rest }, place, chance]) => ({
    ...rest,
    rules: rules.toSpliced(place % (rules.length + 1), 0, { id: 'sellers', sellers: true, on: chance > 0 } as never),
  }));
