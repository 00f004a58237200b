import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { GuardAnswer } from '#core/contract/storefront.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import { book, make } from '../support/oneVariant.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

type Verdict = z.infer<typeof GuardAnswer>;

const PLENTY = Array.from({ length: 500 }, (_, index) => `plug-${index}`);
const CATALOG = [
  'variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity',
  'hedge-60,hedge,/plants/hedge,Hornbeam,hedging,500,true,900',
  'seed-1,seed,/seeds/seed,Fern spores,society,320,true,40',
  'early-1,early,/plants/early,Snowdrop,early,800,true,40',
  'swift-1,swift,/plants/swift,Sold swiftly,swift,900,true,40',
  'quiet-1,quiet,/plants/quiet,Priced on asking,quiet,700,true,40',
  'shut-1,shut,/plants/shut,Not at the checkout,shut,700,true,40',
  'held-1,held,/plants/held,No order button,held,700,true,40',
  'invoice-1,invoice,/plants/invoice,By invoice,invoice,700,true,40',
  ...PLENTY.map(
    (id) => `${id},${id},/plants/${id},Plug,${Number(id.slice(5)) % 5 === 0 ? 'society' : 'plug'},100,false,`,
  ),
].join('\n');

const tagged = (tag: string): Condition => ({ fact: 'product.tags', op: 'hasAny', value: [tag] });
const RULES = book(
  make(
    'trade-price',
    { price: { adjust: { percent: -20 } } },
    { all: [tagged('hedging'), { fact: 'visitor.roles', op: 'hasAny', value: ['trade'] }] },
  ),
  make(
    'society',
    { control: { kind: 'signIn', href: '/sign-in' } },
    { all: [tagged('society'), { fact: 'visitor.roles', op: 'hasNone', value: ['member'] }] },
  ),
  make('swift', { control: { kind: 'nothing' }, express: 'show' }, tagged('swift')),
  make('quiet', { price: { show: false } }, tagged('quiet')),
  make('shut', { checkout: { open: false } }, tagged('shut')),
  make('held', { checkout: { submitOrder: { show: false, text: 'Telephone us' } } }, tagged('held')),
  make('invoice', { checkout: { hideMethods: ['card'] } }, tagged('invoice')),
  make(
    'over-at-eleven',
    { control: { kind: 'notice', text: 'Over' } },
    { all: [tagged('early'), { fact: 'moment', op: 'between', value: { from: '2026-11-25T11:00' } }] },
  ),
);

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  expect((await importCsv(server, 'catalog', CATALOG)).status).toBe(200);
  expect((await importCsv(server, 'people', 'customer_id,roles\nc-1,member\nc-2,trade\nc-3,\n')).status).toBe(200);
  expect((await server.publish(RULES)).status).toBe(201);
});
afterAll(() => server.stop());

const ask = async (lines: unknown, more: object = {}) => {
  const { status, body } = await server.send('POST', '/v1/guard', {
    body: { via: 'cart', lines, ...more },
    asNobody: true,
  });
  return { status, verdict: body as Verdict };
};
const place = async (number: string, lines: object[], more: object = {}) =>
  server.send('POST', '/v1/preorders', {
    body: { order: number, lines, ...more },
    headers: { Authorization: `Bearer ${await shopToken(server)}` },
  });
const codes = ({ verdict }: { verdict: Verdict }) => verdict.lines.map(({ code }) => code);
const one = (variantId: string, more: object = {}) => [{ variantId, quantity: 1, ...more }];

describe('carts', () => {
  it('of five hundred lines get a verdict for each; one more is too many', async () => {
    const lines = PLENTY.map((variantId) => ({ variantId, quantity: 2 }));
    const { status, verdict } = await ask(lines);
    expect(status).toBe(200);
    expect(verdict.ok).toBe(false);
    expect(verdict.lines).toHaveLength(500);
    expect(verdict.lines.filter(({ ok }) => !ok).map(({ variantId }) => variantId)).toEqual(
      PLENTY.filter((_, index) => index % 5 === 0),
    );
    expect(verdict.lines.every(({ code }) => code === null || code === 'signInFirst')).toBe(true);
    expect((await ask([...lines, ...one('hedge-60')])).status).toBe(422);
  });

  it('are told the price by role, and only that price is confirmed', async () => {
    const visitor = await server.token('c-2');
    const forTrade = await ask(one('hedge-60'), { visitor });
    expect(forTrade.verdict.lines[0]).toMatchObject({ ok: true, unitPrice: 40_000 });
    expect(codes(await ask(one('hedge-60', { unitPrice: 40_000 }), { visitor }))).toEqual([null]);
    expect((await ask(one('hedge-60', { unitPrice: 40_000 }))).verdict.lines[0]).toMatchObject({
      ok: false,
      code: 'priceChanged',
      unitPrice: 50_000,
    });
  });

  it('that were right an hour ago are refused with the reason now, in the visitor’s language', async () => {
    const before = server.now;
    expect(codes(await ask(one('early-1')))).toEqual([null]);
    server.now = before + 3_600_000;
    const english = await ask(one('early-1'));
    const french = await ask(one('early-1'), { locale: 'fr-CA' });
    server.now = before;
    expect(codes(english)).toEqual(['notForSale']);
    expect(english.verdict.lines[0]?.text).toMatch(/\w/);
    expect(french.verdict.lines[0]?.text).not.toBe(english.verdict.lines[0]?.text);
  });
});

describe('orders', () => {
  let sent = 0;
  /** The same asked of the guard, and then ordered. */
  const order = async (lines: object[], more: object = {}) => {
    const { verdict } = await ask(lines, { via: 'order', ...more });
    const { body } = await place(`o-${++sent}`, lines, more);
    const { ok, refusal } = body as Verdict;
    expect({ ok, refusal }).toEqual({ ok: verdict.ok, refusal: verdict.refusal });
    return [ok, refusal?.code ?? null, ...codes({ verdict })];
  };
  const express = { via: 'express' };

  it('are refused where the checkout withholds them, whichever way they come', async () => {
    for (const way of [{}, express]) {
      expect(await order(one('shut-1', way))).toEqual([false, 'checkoutClosed', null]);
      expect(await order(one('held-1', way), { method: 'card' })).toEqual([false, 'orderWithheld', null]);
      expect(await order(one('invoice-1', way), { method: 'card' })).toEqual([false, 'methodWithheld', null]);
      expect(await order(one('invoice-1', way), { method: 'invoice' })).toEqual([true, null, null]);
    }
    const all = [...one('hedge-60'), ...one('invoice-1')];
    expect(await order(all, { method: 'card' })).toEqual([false, 'methodWithheld', null, null]);
    const { verdict } = await ask(one('held-1'), { via: 'order', locale: 'fr' });
    expect(verdict.refusal?.text).toContain('commande');
    expect((await ask(one('shut-1'))).verdict).toMatchObject({ ok: true, refusal: null });
  });

  it('are judged line by line by the way that each came', async () => {
    expect(await order(one('swift-1', express))).toEqual([true, null, null]);
    expect(await order(one('swift-1'))).toEqual([false, null, 'notForSale']);
    expect(await order([...one('swift-1', express), ...one('hedge-60')])).toEqual([true, null, null, null]);
    expect(await order(one('seed-1', express))).toEqual([false, null, 'signInFirst']);
  });
});

describe('a price that the page hides', () => {
  it('is told to nobody who asks, and to the shop that takes the order', async () => {
    const { verdict } = await ask(one('quiet-1'));
    expect(verdict.lines[0]).toMatchObject({ ok: true, unitPrice: null });
    expect((await ask(one('quiet-1', { unitPrice: 1 }))).verdict.lines[0]).toMatchObject({
      ok: false,
      unitPrice: null,
    });
    const { body } = await place('hidden', one('quiet-1'));
    expect(body).toMatchObject({ ok: true, lines: [{ unitPrice: 70_000 }] });
  });
});

describe('what a shop’s server should not send', () => {
  it.each([0, -1, -0.5, 1.5, 1e21, 2 ** 53, Number.MIN_VALUE])('a quantity of %d is refused', async (quantity) => {
    expect(codes(await ask([{ variantId: 'plug-1', quantity }]))).toEqual(['badQuantity']);
  });

  it('a quantity that is no number is a fault of the call, and never an error page', async () => {
    for (const quantity of ['2', null, {}, []]) {
      const { status, verdict } = await ask([{ variantId: 'plug-1', quantity }]);
      expect({ quantity, status }).toEqual({ quantity, status: 422 });
      expect(verdict).toMatchObject({ title: 'Not valid' });
    }
  });

  it.each(['', 'no-such-pot', 'plug-1 ', "'; DROP TABLE variants; --", '𝕡𝕝𝕦𝕘', 'x'.repeat(200)])(
    'the unknown variant %j is refused',
    async (variantId) => {
      expect(codes(await ask(one(variantId)))).toEqual(['unknownVariant']);
    },
  );

  it('a character that no text can hold is a fault of the call', async () => {
    expect((await ask(one('\u0000'))).status).toBe(422);
  });

  it('a price that nobody decided is refused', async () => {
    for (const unitPrice of [0, -10_000, 9_999, 10_000.5])
      expect(codes(await ask(one('plug-1', { unitPrice })))).toEqual(['priceChanged']);
    expect(codes(await ask(one('plug-1', { unitPrice: 10_000 })))).toEqual([null]);
  });
});

describe('tokens', () => {
  it('of a member let members’ goods through; expired, they are a guest’s', async () => {
    const visitor = await server.token('c-1');
    expect(codes(await ask(one('seed-1'), { visitor }))).toEqual([null]);
    const before = server.now;
    server.now = before + 3_601_000;
    expect(codes(await ask(one('seed-1'), { visitor }))).toEqual(['signInFirst']);
    server.now = before;
  });

  it('of somebody else say who they are: another person’s rights are not one’s own', async () => {
    expect(codes(await ask(one('seed-1'), { visitor: await server.token('c-3') }))).toEqual(['membersOnly']);
  });

  it('signed by another, tampered with, without an end, or no tokens at all are a guest’s', async () => {
    const token = await server.token('c-3');
    const members = await server.token('c-1');
    const [head = '', , signature = ''] = token.split('.');
    const forged = [head, members.split('.')[1], signature].join('.');
    const none = [Buffer.from('{"alg":"none"}').toString('base64url'), members.split('.')[1], ''].join('.');
    const others = await server.token('c-1', undefined, 'another-shop’s-secret-that-is-long-enough');
    for (const visitor of [forged, none, others, '', 'x', '…'.repeat(500)])
      expect(codes(await ask(one('seed-1'), { visitor }))).toEqual(['signInFirst']);
  });

  it('sent again answer the same, since nothing is used up by asking', async () => {
    const visitor = await server.token('c-1');
    const first = await ask([{ variantId: 'seed-1', quantity: 40 }], { visitor });
    const again = await Promise.all(
      Array.from({ length: 5 }, () => ask([{ variantId: 'seed-1', quantity: 40 }], { visitor })),
    );
    for (const { verdict } of again) expect(verdict).toEqual(first.verdict);
    expect(codes(first)).toEqual([null]);
  });
});
