import type { Condition } from '#core/rulebook/condition.ts';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import type { ProductSubject, ProductFacts, ShopFacts, VisitorFacts } from '#core/model/subject.ts';
import { zoneData } from '../server/shopData/zoneData.ts';

/** A generated job, the same for a seed: a shop, its goods, six audiences, and rules that meet. */
export interface Job {
  readonly shop: ShopFacts;
  readonly rulebook: Rulebook;
  readonly products: readonly ProductFacts[];
  readonly visitors: readonly VisitorFacts[];
  readonly moment: number;
}

const MOMENT = Date.UTC(2026, 10, 25, 10);
const DAY = 86_400_000;

/** Mulberry32: numbers in [0, 1) from a seed. */
function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

export function makeJob({ rules, products }: { rules: number; products: number }, seed = 1): Job {
  const random = randomFrom(seed);
  const below = (count: number) => Math.floor(random() * count);
  const pick = <T>(list: readonly T[]): T => list[below(list.length)] as T;
  /** Few are common and most are rare, as tags are. */
  const skewed = (count: number) => Math.floor(count * random() ** 3);
  const several = <T>(least: number, most: number, make: () => T): T[] =>
    Array.from({ length: least + below(most - least + 1) }, make);

  const tag = () => `tag ${skewed(2000)}`;
  const brand = () => `Brand ${skewed(120)}`;
  const kind = () => pick(['plant', 'seed', 'bulb', 'tool', 'pot', 'book', 'tree', 'gift']);
  const categories = categoryTree(1500, random);
  const isoDay = (shift: number) => new Date(MOMENT + shift * DAY).toISOString().slice(0, 10);

  const goods = Array.from({ length: products }, (_, index): ProductFacts => {
    const id = `product-${index}`;
    return {
      id,
      title: `Product ${index}`,
      path: `/plants/${id}`,
      brand: brand(),
      grams: null,
      kind: kind(),
      seller: null,
      tags: [...new Set(several(1, 6, tag))],
      attributes: { hardiness: `H${1 + below(7)}` },
      categories: several(1, 2, () => pick(categories)),
      dates: random() < 0.5 ? { ships: isoDay(below(300) - 100) } : {},
      waiting: 0,
      variants: several(1, 5, () => 0).map((_zero, size) => ({
        id: `${id}-${size}`,
        title: `Size ${size}`,
        options: { Size: `Size ${size}` },
        price: 200 + below(9800),
        priceBefore: null,
        stock: { tracked: random() < 0.9, quantity: Math.max(0, below(60) - 8), sellPastZero: random() < 0.1 },
        reserved: 0,
        waiting: 0,
      })),
    };
  });

  const leaves: readonly (() => Condition)[] = [
    () => ({ fact: 'product.tags', op: pick(['hasAny', 'hasAny', 'hasAny', 'hasNone']), value: several(1, 4, tag) }),
    () => ({ fact: 'product.tags', op: 'hasAny', value: several(1, 3, tag) }),
    () => ({ fact: 'product.categories', op: 'within', value: several(1, 2, () => pick(categories)) }),
    () => ({ fact: 'product.brand', op: pick(['in', 'in', 'notIn']), value: several(1, 3, brand) }),
    () => ({ fact: 'product.kind', op: 'in', value: [kind()] }),
    () => ({ fact: 'product.attribute', op: 'in', value: { name: 'hardiness', values: [`H${1 + below(7)}`] } }),
    () => ({ fact: 'variant.price', op: pick(['lt', 'gte']), value: 200 + below(9800) }),
    () => ({ fact: 'stock.status', op: 'in', value: [pick(['outOfStock', 'inStock', 'backorder'] as const)] }),
    () => ({ fact: 'stock.quantity', op: 'lt', value: below(20) }),
    () => ({ fact: 'visitor.roles', op: pick(['hasAny', 'hasNone']), value: several(1, 2, () => pick(ROLES)) }),
    () => ({ fact: 'visitor.signedIn', op: 'is', value: random() < 0.5 }),
    () => ({ fact: 'moment', op: 'between', value: { from: isoDay(below(60) - 50), until: isoDay(below(60) + 1) } }),
    () => ({
      fact: 'moment',
      op: 'around',
      value: { date: 'ships', from: '-P120D', until: 'P0D' },
    }),
  ];
  /** The first always narrows the goods, so that most rules match few of them. */
  const narrow = () => pick(leaves.slice(0, 4))();
  const condition = (): Condition => {
    const more = several(0, 5, () => pick(leaves)());
    if (more.length < 3 || random() < 0.5) return { all: [narrow(), ...more] };
    const [a, b, ...rest] = more as [Condition, Condition, ...Condition[]];
    const inner: Condition = random() < 0.5 ? { any: [a, b] } : { any: [a, { none: [b] }] };
    return { all: [narrow(), inner, ...rest] };
  };
  const outcomes: readonly (() => Outcome)[] = [
    () => ({ control: { kind: 'preorder', label: { en: 'Reserve', fr: 'Réserver' } } }),
    () => ({ control: { kind: 'notice', text: 'Not **now**' }, price: { show: false } }),
    () => ({ express: 'hide' }),
    () => ({ price: { adjust: { percent: -10 } } }),
    () => ({ limits: { max: 3 }, visibility: { state: 'offListings' } }),
    () => ({ control: { kind: 'waitlist', per: 'variant' }, express: 'hide' }),
  ];
  const list = Array.from({ length: rules }, (_, index): Rule => ({
    id: `rule-${index}`,
    on: true,
    when: condition(),
    then: pick(outcomes)(),
  }));
  return {
    shop: {
      name: 'Quillfern Nursery',
      zone: zoneData('Europe/Lisbon'),
      locales: ['en', 'fr'],
      currency: 'EUR',
      exponent: 2,
    },
    rulebook: { format: 'understudy-rulebook', version: 1, rules: list },
    products: goods,
    visitors: VISITORS,
    moment: MOMENT,
  };
}

const ROLES = ['member', 'trade', 'staff', 'friend'];
const VISITORS: readonly VisitorFacts[] = [[], [], ['member'], ['trade'], ['member', 'trade'], ['staff']].map(
  (roles, index) => ({
    signedIn: index > 0,
    roles: roles.map((code) => ({ code, from: null, until: null })),
    customerId: index > 0 ? `c-${index}` : null,
    locale: 'en',
    invitations: [],
  }),
);

/** Paths of a tree at most six deep. */
function categoryTree(count: number, random: () => number): string[] {
  const paths = ['plants', 'seeds', 'tools'];
  while (paths.length < count) {
    const parent = paths[Math.floor(random() * paths.length)] ?? 'plants';
    if (parent.split('/').length < 6) paths.push(`${parent}/c${paths.length}`);
  }
  return paths;
}

/** Subjects in an order that no cache of the machine's likes, the same for a seed. */
export function subjectsOf({ products, visitors, moment }: Job, count: number, seed = 2): ProductSubject[] {
  const random = randomFrom(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  return Array.from({ length: count }, () => {
    const product = pick(products);
    return {
      product,
      variant: pick(product.variants),
      visitor: pick(visitors),
      moment,
      surface: 'product',
      page: null,
    };
  });
}
