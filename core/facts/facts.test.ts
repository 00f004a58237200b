import { describe, expect, it } from 'vitest';
import { LISBON } from '#tests/support/arbitraries.ts';
import type { Leaf } from '../facts/facts.ts';
import { testOf } from '../facts/facts.ts';
import type { StockFacts, Subject } from '../model/subject.ts';

const stock = (quantity: number, sellPastZero = false): StockFacts => ({ tracked: true, quantity, sellPastZero });
const untracked: StockFacts = { tracked: false, quantity: 9, sellPastZero: false };

interface Facts {
  brand?: string;
  path?: string;
  page?: string;
  reserved?: number;
  /** On the product's waitlist, and on the variant's. */
  waiting?: [product: number, variant: number];
  invited?: [to: 'variant' | 'product', id: string, until: string | null][];
  attributes?: Record<string, string>;
  options?: Record<string, string>;
  total?: StockFacts[];
  locale?: string;
  surface?: Subject['surface'];
  tags?: string[];
  categories?: string[];
  dates?: Record<string, string>;
  stock?: StockFacts;
  roles?: (string | [code: string, from: string | null, until: string | null])[];
  guest?: true;
  at?: string;
}

function subject(facts: Facts): Subject {
  const { tags = [], categories = [], dates = {}, roles = [], guest, at = '2027-01-15T12:00Z' } = facts;
  const variant = (id: string, stock: StockFacts) => ({
    id,
    title: '',
    options: facts.options ?? {},
    price: 100,
    priceBefore: null,
    stock,
    reserved: facts.reserved ?? 0,
    waiting: facts.waiting?.[1] ?? 0,
  });
  const askedVariant = variant('v', facts.stock ?? stock(1));
  const instant = (text: string | null) => (text === null ? null : Date.parse(text));
  return {
    product: {
      id: 'p',
      title: 'P',
      path: facts.path ?? null,
      grams: null,
      brand: facts.brand ?? null,
      kind: facts.brand ?? null,
      seller: facts.brand ?? null,
      tags,
      attributes: facts.attributes ?? {},
      categories,
      dates,
      waiting: facts.waiting?.[0] ?? 0,
      variants: [askedVariant, ...(facts.total ?? []).map((stock, index) => variant(`v${index}`, stock))],
    },
    variant: askedVariant,
    visitor: {
      signedIn: !guest,
      roles: roles.map((role) =>
        typeof role === 'string'
          ? { code: role, from: null, until: null }
          : { code: role[0], from: instant(role[1]), until: instant(role[2]) },
      ),
      customerId: guest ? null : 'c-1',
      locale: facts.locale ?? null,
      invitations: (facts.invited ?? []).map(([to, id, until]) => ({ to, id, until: instant(until) })),
    },
    moment: Date.parse(at),
    surface: facts.surface ?? 'product',
    page: facts.page ?? null,
  };
}

type Row = [fact: string, op: string, value: unknown, facts: Facts, holds: boolean];
const rows: Row[] = [
  ['product', 'every', true, {}, true],
  ['product.id', 'in', ['p', 'q'], {}, true],
  ['product.id', 'in', ['q'], {}, false],
  ['product.id', 'notIn', ['q'], {}, true],
  // Tags: case, spaces and composed accents make no difference; no tags is an empty set.
  ['product.tags', 'hasAny', ['RARE '], { tags: ['rare'] }, true],
  ['product.tags', 'hasAny', ['cafe\u0301'], { tags: ['Café'] }, true],
  ['product.tags', 'hasAny', ['rar'], { tags: ['rare'] }, false],
  ['product.tags', 'hasAny', ['rare'], {}, false],
  ['product.tags', 'hasAll', ['a', 'b'], { tags: ['b', 'c', 'a'] }, true],
  ['product.tags', 'hasAll', ['a', 'b'], { tags: ['a'] }, false],
  ['product.tags', 'hasNone', ['a', 'b'], { tags: ['b'] }, false],
  ['product.tags', 'hasNone', ['a'], {}, true],
  // Categories: five levels down, and never by a name that only begins alike.
  ['product.categories', 'within', ['plants'], { categories: ['plants/bulbs/tubers/dahlias/dinnerplate'] }, true],
  ['product.categories', 'within', ['plants/bulb'], { categories: ['plants/bulbs'] }, false],
  ['product.categories', 'within', ['plants/bulbs'], { categories: ['plants'] }, false],
  ['product.categories', 'within', ['seeds', 'plants'], { categories: ['plants'] }, true],
  ['product.categories', 'notWithin', ['plants'], { categories: ['plants/bulbs', 'seeds'] }, false],
  ['product.categories', 'notWithin', ['plants'], {}, true],
  ['product.categories', 'exactly', ['plants'], { categories: ['plants/bulbs'] }, false],
  ['product.categories', 'exactly', ['plants'], { categories: ['seeds', 'plants'] }, true],
  // Names are compared as tags are; a missing one is none of those asked for.
  ...['product.brand', 'product.kind', 'product.seller'].flatMap((fact): Row[] => [
    [fact, 'in', ['quillfern '], { brand: 'Quillfern' }, true],
    [fact, 'in', ['Quillfern'], {}, false],
    [fact, 'notIn', ['Quillfern'], {}, true],
    [fact, 'notIn', ['Quillfern'], { brand: 'QUILLFERN' }, false],
  ]),
  // Paths: encoding and a trailing slash make no difference, case does.
  ['product.path', 'equals', '/caf%C3%A9/', { path: '/café' }, true],
  ['product.path', 'equals', '/Café', { path: '/café' }, false],
  ['product.path', 'equals', '/', {}, false],
  ['product.path', 'startsWith', '/plants/', { path: '/plants/a' }, true],
  ['product.path', 'startsWith', '/', { path: '/plants/a' }, true],
  ['product.path', 'contains', 'ants', { path: '/plants/a' }, true],
  ['product.path', 'contains', 'seeds', { path: '/plants/a' }, false],
  // A name is exact, its values are compared as tags are.
  ['product.attribute', 'in', { name: 'hardiness', values: ['h5'] }, { attributes: { hardiness: 'H5' } }, true],
  ['product.attribute', 'in', { name: 'Hardiness', values: ['H5'] }, { attributes: { hardiness: 'H5' } }, false],
  ['product.attribute', 'notIn', { name: 'hardiness', values: ['H5'] }, {}, true],
  ['product.attribute', 'in', { name: 'toString', values: ['H5'] }, {}, false],
  ['variant.option', 'in', { name: 'Size', values: ['9 CM pot'] }, { options: { Size: '9 cm pot' } }, true],
  ['variant.option', 'notIn', { name: 'Size', values: ['9 cm pot'] }, { options: { Size: '9 cm pot' } }, false],
  ['variant.id', 'in', ['v'], {}, true],
  ['variant.id', 'in', ['V'], {}, false],
  ['variant.id', 'notIn', ['w'], {}, true],
  ['variant.price', 'lt', 100, {}, false],
  ['variant.price', 'lte', 100, {}, true],
  ['variant.price', 'gt', 99, {}, true],
  ['variant.price', 'gte', 101, {}, false],
  ['variant.price', 'between', [100, 100], {}, true],
  // The total is over tracked variants; with none, there is no total.
  ['stock.productTotal', 'eq', 3, { stock: stock(1), total: [stock(2), untracked] }, true],
  ['stock.productTotal', 'lt', 3, { stock: stock(1), total: [stock(2)] }, false],
  ['stock.productTotal', 'lte', 0, { stock: stock(1), total: [stock(-1)] }, true],
  ['stock.productTotal', 'gt', 1, { stock: untracked, total: [stock(2)] }, true],
  ['stock.productTotal', 'gte', 0, { stock: untracked, total: [untracked] }, false],
  ['stock.productTotal', 'between', [1, 4], { stock: stock(1), total: [stock(3)] }, true],
  ['visitor.customer', 'in', ['c-1'], {}, true],
  ['visitor.customer', 'in', ['c-1'], { guest: true }, false],
  ['visitor.customer', 'notIn', ['c-1'], { guest: true }, true],
  ['visitor.locale', 'in', ['fr'], { locale: 'fr-CA' }, true],
  ['visitor.locale', 'in', ['FR-ca'], { locale: 'fr-CA' }, true],
  ['visitor.locale', 'in', ['fr-CA'], { locale: 'fr' }, false],
  ['visitor.locale', 'in', ['f'], { locale: 'fr' }, false],
  ['visitor.locale', 'in', ['en'], {}, false],
  ['surface', 'in', ['listing', 'cart'], { surface: 'listing' }, true],
  ['surface', 'in', ['listing'], { surface: 'quickView' }, false],
  // Stock: what sells past zero is out of stock and on backorder at once; untracked is neither.
  ['stock.status', 'in', ['inStock'], { stock: stock(1) }, true],
  ['stock.status', 'in', ['inStock'], { stock: stock(0) }, false],
  ['stock.status', 'in', ['outOfStock'], { stock: stock(0) }, true],
  ['stock.status', 'in', ['outOfStock'], { stock: stock(-3, true) }, true],
  ['stock.status', 'in', ['backorder'], { stock: stock(0, true) }, true],
  ['stock.status', 'in', ['backorder'], { stock: stock(1, true) }, false],
  ['stock.status', 'notIn', ['backorder'], { stock: stock(0) }, true],
  ['stock.status', 'notIn', ['backorder'], { stock: stock(0, true) }, false],
  ['stock.status', 'in', ['outOfStock', 'inStock', 'backorder'], { stock: untracked }, false],
  ['stock.status', 'in', ['untracked'], { stock: untracked }, true],
  ['stock.quantity', 'lt', 5, { stock: stock(4) }, true],
  ['stock.quantity', 'lt', 5, { stock: stock(5) }, false],
  ['stock.quantity', 'lte', 5, { stock: stock(5) }, true],
  ['stock.quantity', 'gt', 5, { stock: stock(5) }, false],
  ['stock.quantity', 'gte', 5, { stock: stock(5) }, true],
  ['stock.quantity', 'eq', 0, { stock: stock(0) }, true],
  ['stock.quantity', 'eq', -1, { stock: stock(-1) }, true],
  ['stock.quantity', 'between', [1, 3], { stock: stock(3) }, true],
  ['stock.quantity', 'between', [1, 3], { stock: stock(4) }, false],
  ['stock.quantity', 'between', [3, 1], { stock: stock(2) }, false],
  ...['lt', 'lte', 'gt', 'gte', 'eq'].map((op): Row => ['stock.quantity', op, 9, { stock: untracked }, false]),
  ['stock.quantity', 'between', [0, 99], { stock: untracked }, false],
  // People: a guest has no roles; memberships hold from, until just before.
  ['visitor.signedIn', 'is', true, {}, true],
  ['visitor.signedIn', 'is', true, { guest: true }, false],
  ['visitor.signedIn', 'is', false, { guest: true }, true],
  ['visitor.roles', 'hasAny', ['member', 'trade'], { roles: ['trade'] }, true],
  ['visitor.roles', 'hasAny', ['member'], { guest: true }, false],
  ['visitor.roles', 'hasAll', ['member', 'trade'], { roles: ['trade'] }, false],
  ['visitor.roles', 'hasAll', ['member', 'trade'], { roles: ['trade', 'member'] }, true],
  ['visitor.roles', 'hasNone', ['staff'], { guest: true }, true],
  ['visitor.roles', 'hasNone', ['staff'], { roles: ['staff'] }, false],
  ['visitor.roles', 'hasAny', ['member'], { roles: [['member', '2027-01-15T12:00Z', null]] }, true],
  ['visitor.roles', 'hasAny', ['member'], { roles: [['member', null, '2027-01-15T12:00Z']] }, false],
  [
    'visitor.roles',
    'hasAny',
    ['member'],
    {
      roles: [
        ['member', null, '2026-01-01T00:00Z'],
        ['member', '2027-01-01T00:00Z', null],
      ],
    },
    true,
  ],
  // Moments: half open, in the shop's zone.
  ['moment', 'between', { from: '2027-01-15T12:00' }, {}, true],
  ['moment', 'between', { until: '2027-01-15T12:00' }, {}, false],
  ['moment', 'between', { from: '2027-07-15T13:00' }, { at: '2027-07-15T12:00Z' }, true],
  ['moment', 'between', { from: '2027-02-01', until: '2027-01-01' }, {}, false],
  // Friday noon; a night that runs into the next day; a whole day.
  ['moment', 'weekly', { days: [5], from: '12:00', until: '13:00' }, {}, true],
  ['moment', 'weekly', { days: [5], from: '11:00', until: '12:00' }, {}, false],
  ['moment', 'weekly', { days: [5], from: '11:45', until: '12:15' }, { at: '2027-01-15T11:44Z' }, false],
  ['moment', 'weekly', { days: [5], from: '11:45', until: '12:15' }, { at: '2027-01-15T11:45Z' }, true],
  ['moment', 'weekly', { days: [5], from: '11:45', until: '12:15' }, { at: '2027-01-15T12:14Z' }, true],
  ['moment', 'weekly', { days: [5], from: '11:45', until: '12:15' }, { at: '2027-01-15T12:15Z' }, false],
  ['moment', 'weekly', { days: [4], from: '22:00', until: '13:00' }, {}, true],
  ['moment', 'weekly', { days: [5], from: '22:00', until: '13:00' }, {}, false],
  ['moment', 'weekly', { days: [4], from: '12:00', until: '12:00' }, { at: '2027-01-15T11:59Z' }, true],
  // Seasons may wrap the year's end; 29 February is 1 March in a year that lacks it.
  ['moment', 'yearly', { from: '12-20', until: '01-16' }, {}, true],
  ['moment', 'yearly', { from: '12-20', until: '01-15' }, {}, false],
  ['moment', 'yearly', { from: '01-15', until: '12-20' }, {}, true],
  ['moment', 'yearly', { from: '02-01', until: '02-29' }, { at: '2027-02-28T23:59Z' }, true],
  ['moment', 'yearly', { from: '02-29', until: '03-02' }, { at: '2027-02-28T23:59Z' }, false],
  ['moment', 'yearly', { from: '02-29', until: '03-02' }, { at: '2028-02-29T00:00Z' }, true],
  ['moment', 'yearly', { from: '02-29', until: '03-01' }, { at: '2027-03-01T12:00Z' }, false],
  // Around a product's own date; none has no window.
  ['moment', 'around', { date: 'ships', from: '-P14D', until: 'P0D' }, { dates: { ships: '2027-01-20' } }, true],
  ['moment', 'around', { date: 'ships', from: 'P0D' }, { dates: { ships: '2027-01-16' } }, false],
  ['moment', 'around', { date: 'ships', until: 'PT12H' }, { dates: { ships: '2027-01-15' } }, false],
  ['moment', 'around', { date: 'ships', until: 'PT12H1M' }, { dates: { ships: '2027-01-15' } }, true],
  ['moment', 'around', { date: 'ships', until: 'P0D' }, { dates: { releases: '2028-01-15' } }, false],
  // Hours are exact across a change of the clocks, days are not.
  [
    'moment',
    'around',
    { date: 'ships', from: 'P1D' },
    { dates: { ships: '2027-03-27T12:00' }, at: '2027-03-28T11:00Z' },
    true,
  ],
  [
    'moment',
    'around',
    { date: 'ships', from: 'PT24H' },
    { dates: { ships: '2027-03-27T12:00' }, at: '2027-03-28T11:00Z' },
    false,
  ],
];

rows.push(
  // The visitor's page, spelt anyhow; no page is never as asked.
  ['page.path', 'equals', '/society', { page: '/society/?from=mail' }, true],
  ['page.path', 'equals', '/caf%C3%A9', { page: '/café' }, true],
  ['page.path', 'startsWith', '/society', { page: '/society/seeds' }, true],
  ['page.path', 'startsWith', '/society', { page: '/Society/seeds' }, false],
  ['page.path', 'contains', 'seeds', { page: '/society/seeds' }, true],
  ['page.path', 'contains', 'seeds', {}, false],
  ['preorder.reserved', 'gte', 5, { reserved: 5 }, true],
  ['preorder.reserved', 'gt', 5, { reserved: 5 }, false],
  ['preorder.reserved', 'eq', 0, {}, true],
  ['preorder.reserved', 'between', [1, 3], { reserved: 3 }, true],
  // People waiting for the product count for each of its variants too.
  ['waitlist.length', 'eq', 3, { waiting: [1, 2] }, true],
  ['waitlist.length', 'lt', 3, { waiting: [1, 2] }, false],
  ['waitlist.length', 'lte', 0, {}, true],
  ['waitlist.length', 'between', [2, 9], { waiting: [0, 1] }, false],
  // Invited to the variant, or to the product, which covers it; an invitation lapses.
  ['visitor.invited', 'is', true, { invited: [['variant', 'v', null]] }, true],
  ['visitor.invited', 'is', true, { invited: [['product', 'p', null]] }, true],
  ['visitor.invited', 'is', true, { invited: [['variant', 'p', null]] }, false],
  ['visitor.invited', 'is', true, { invited: [['variant', 'v', '2027-01-15T12:00Z']] }, false],
  ['visitor.invited', 'is', false, { invited: [['variant', 'v', '2027-01-15T12:00Z']] }, true],
  ['visitor.invited', 'is', false, {}, true],
);

/** A visit without goods, as with an empty cart: what is asked of goods is missing. */
const withoutGoods: [fact: string, op: string, value: unknown, holds: boolean][] = [
  ['product', 'every', true, true],
  ['product.id', 'in', ['p'], false],
  ['product.id', 'notIn', ['p'], true],
  ['product.tags', 'hasAny', ['rare'], false],
  ['product.tags', 'hasNone', ['rare'], true],
  ['product.categories', 'within', ['plants'], false],
  ['product.categories', 'notWithin', ['plants'], true],
  ['product.brand', 'in', ['Quillfern'], false],
  ['product.brand', 'notIn', ['Quillfern'], true],
  ['product.path', 'startsWith', '/', false],
  ['product.attribute', 'notIn', { name: 'hardiness', values: ['H5'] }, true],
  ['variant.id', 'in', ['v'], false],
  ['variant.option', 'in', { name: 'Size', values: ['9 cm pot'] }, false],
  ['variant.price', 'gte', 0, false],
  ['stock.status', 'in', ['untracked'], false],
  ['stock.status', 'notIn', ['untracked'], true],
  ['stock.quantity', 'lte', 0, false],
  ['stock.productTotal', 'eq', 0, false],
  ['preorder.reserved', 'eq', 0, false],
  ['waitlist.length', 'eq', 0, false],
  ['visitor.invited', 'is', false, true],
  ['moment', 'around', { date: 'ships', until: 'P0D' }, false],
];

describe('each operator', () => {
  it.each(withoutGoods)('%s %s %j without goods', (fact, op, value, holds) => {
    const nothing = { ...subject({ invited: [['product', 'p', null]] }), product: null, variant: null };
    expect(testOf({ fact, op, value } as Leaf, LISBON)(nothing).matches).toBe(holds);
  });
  it.each(rows)('%s %s %j of %j', (fact, op, value, facts, holds) => {
    expect(testOf({ fact, op, value } as Leaf, LISBON)(subject(facts)).matches).toBe(holds);
  });
});
