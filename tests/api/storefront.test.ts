import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { Problem } from '#core/contract/call.ts';
import { CALLS } from '#core/contract/calls.ts';
import type { DecisionsAnswer, GuardAnswer } from '#core/contract/storefront.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

type Verdict = z.infer<typeof GuardAnswer>;

let server: TestServer;
const CATALOG = `variant_id,product_id,path,title,tags,dates,options,price,price_before,stock_tracked,stock_quantity,sell_past_zero
pl-1,paper-lantern,/plants/paper-lantern,Dahlia <b>‘Paper Lantern’</b>,tuber,ships=2026-12-20,Pack=1 tuber,5.50,6,true,12,
pl-3,paper-lantern,/plants/paper-lantern,Dahlia <b>‘Paper Lantern’</b>,tuber,ships=2026-12-20,Pack=3 tubers,14.50,,true,0,
hosta,hosta,/plants/hosta,Hosta,,,Size=2 litre,13,,true,0,true
twine,twine,/tools/jute%20twine,Jute twine,,,,3.50,,false,,
seed,seed,/seeds/ferns,Fern spores,society,,,3.20,,true,5,
tree,tree,/plants/maple,Field maple,tree,,,420,,true,3,`;
const RULES = [
  {
    id: 'society',
    on: true,
    when: {
      all: [
        { fact: 'product.tags', op: 'hasAny', value: ['society'] },
        { fact: 'visitor.roles', op: 'hasNone', value: ['member'] },
      ],
    },
    then: { control: { kind: 'signIn', href: '/sign-in', onListing: { label: { en: 'Members', fr: 'Membres' } } } },
  },
  {
    id: 'sold-out',
    on: true,
    when: {
      all: [
        { fact: 'stock.status', op: 'in', value: ['outOfStock'] },
        { none: [{ fact: 'stock.status', op: 'in', value: ['backorder'] }] },
      ],
    },
    then: { control: { kind: 'notice', text: { en: '**{product.title}** is gone', fr: 'Épuisé' } } },
  },
  {
    id: 'early',
    on: true,
    when: {
      all: [
        { fact: 'product.tags', op: 'hasAny', value: ['Tuber '] },
        { fact: 'moment', op: 'around', value: { date: 'ships', from: '-P30D', until: 'P0D' } },
      ],
    },
    then: { control: { kind: 'buy', label: 'Reserve' }, express: 'hide' },
  },
  {
    id: 'trees',
    on: true,
    when: { fact: 'product.tags', op: 'hasAny', value: ['tree'] },
    then: {
      control: { kind: 'link', href: '/collection', onListing: { kind: 'nothing' } },
      price: { show: false, text: 'On request' },
    },
  },
];

beforeAll(async () => {
  server = await startShop();
  await importCsv(server, 'catalog', CATALOG);
  await importCsv(server, 'people', 'customer_id,roles\nada,member@2026-01-01/2026-11-25T10:00\nbram,member');
  expect((await server.publish({ format: 'understudy-rulebook', version: 1, rules: RULES })).status).toBe(201);
});
afterAll(() => server.stop());

const ask = async (body: unknown) =>
  (await server.send('POST', '/v1/decisions', { body, asNobody: true })).body as DecisionsAnswer;
const one = async (id: string, more: object = {}) => {
  const answer = await ask({ surface: 'product', products: [{ id }], ...more });
  return answer.decisions[answer.products[0]?.variants[0]?.decision ?? -1];
};
const guard = async (lines: unknown[], more: object = {}) =>
  (await server.send('POST', '/v1/guard', { body: { via: 'cart', lines, ...more }, asNobody: true })).body as Verdict;
const codes = async (lines: unknown[], more: object = {}) => (await guard(lines, more)).lines.map(({ code }) => code);

describe('decisions', () => {
  it('come for every variant, the distinct ones once, with reasons and expiry', async () => {
    const answer = await ask({ surface: 'product', products: [{ path: '/plants/paper-lantern/' }, { id: 'nothing' }] });
    expect(answer.unknown).toEqual(['nothing']);
    expect(answer.edition).toBe(1);
    expect(answer.products).toMatchObject([
      { id: 'paper-lantern', decision: null, variants: [{ id: 'pl-1' }, { id: 'pl-3' }] },
    ]);
    const [lantern] = answer.products;
    expect(answer.decisions[lantern?.variants[0]?.decision ?? -1]).toEqual({
      control: { kind: 'buy', label: 'Reserve', html: null, beside: false, look: null, standing: null },
      express: 'hide',
      price: { show: true, amount: 550, was: 600, from: false, currency: 'EUR', suffix: null, text: null },
      notes: [],
      limits: { min: 1, max: null, step: 1 },
      visibility: { state: 'shown', redirectTo: null },
      afterOrder: null,
      style: [],
      availability: 'InStock',
      reasons: {
        control: ['early'],
        express: ['early'],
        price: [],
        notes: [],
        limits: [],
        visibility: [],
        afterOrder: [],
        style: [],
      },
      validUntil: '2026-12-20T00:00:00.000+00:00',
    });
    expect(answer.decisions[lantern?.variants[1]?.decision ?? -1]).toMatchObject({
      control: { kind: 'notice', html: '<strong>Dahlia &lt;b&gt;‘Paper Lantern’&lt;/b&gt;</strong> is gone' },
      availability: 'OutOfStock',
      reasons: { control: ['sold-out'], express: ['early'] },
    });
    expect(answer.validUntil).toBe('2026-12-20T00:00:00.000+00:00');
  });

  it('on a listing speak for the product, and in the visitor’s language', async () => {
    const answer = await ask({
      surface: 'listing',
      locale: 'fr-CA',
      products: [{ id: 'paper-lantern' }, { id: 'seed' }, { id: 'tree' }],
    });
    const wholes = answer.products.map(({ decision }) => answer.decisions[decision ?? -1]);
    expect(wholes).toMatchObject([
      {
        control: { kind: 'choose', label: 'Voir les tailles et les prix', href: '/plants/paper-lantern' },
        express: 'hide',
        price: { amount: 550, from: true },
      },
      { control: { kind: 'signIn', label: 'Membres', href: '/sign-in' } },
      { control: { kind: 'nothing' }, price: { show: false, amount: null, text: 'On request' } },
    ]);
    expect(answer.locale).toBe('fr');
  });

  it('hide a price from the answer’s source too', async () => {
    expect(JSON.stringify(await one('tree'))).not.toContain('42000');
  });

  it('find paths however they are written', async () => {
    for (const path of ['/tools/jute%20twine', '/tools/jute twine/', '/tools/jute%20twine?colour=green#top']) {
      expect((await ask({ surface: 'product', products: [{ path }] })).unknown).toEqual([]);
    }
    expect((await ask({ surface: 'product', products: [{ path: '/TOOLS/jute%20twine' }] })).unknown).toHaveLength(1);
  });

  it('take roles from the token if it has any, else from the database at the moment', async () => {
    const kind = async (visitor: string) => (await one('seed', { visitor }))?.control.kind;
    expect(await kind(await server.token('stranger', ['member']))).toBe('buy');
    expect(await kind(await server.token('bram'))).toBe('buy');
    expect(await kind(await server.token('bram', ['trade']))).toBe('signIn');
    // Ada's membership ended at this very instant, and held until just before.
    expect(await kind(await server.token('ada'))).toBe('signIn');
    const token = await server.token('ada');
    server.now -= 1;
    expect(await one('seed', { visitor: token })).toMatchObject({
      control: { kind: 'buy' },
      validUntil: '2026-11-25T10:00:00.000+00:00',
    });
    server.now += 1;
  });

  it('take whoever forges, borrows or outstays a token for a guest', async () => {
    const valid = await server.token('bram', ['member']);
    const [head, , signature] = valid.split('.');
    const stolen = `${head}.${Buffer.from('{"sub":"bram","roles":["member"],"exp":9999999999}').toString('base64url')}.${signature}`;
    const unsigned = `${Buffer.from('{"alg":"none"}').toString('base64url')}.${stolen.split('.')[1]}.`;
    const forged = await server.token('bram', ['member'], 'another-secret-that-is-long-enough');
    for (const visitor of [stolen, unsigned, forged, 'nonsense', '', null]) {
      expect((await one('seed', { visitor }))?.control.kind, String(visitor)).toBe('signIn');
    }
    server.now += 2 * 60 * 60 * 1000;
    expect((await one('seed', { visitor: valid }))?.control.kind).toBe('signIn');
    server.now -= 2 * 60 * 60 * 1000;
  });

  it('for guests are cacheable, with an ETag that changes with what they say', async () => {
    const get = (headers = {}) =>
      server.send('GET', '/v1/decisions?surface=product&path=/plants/paper-lantern&id=twine&locale=fr', {
        headers,
        asNobody: true,
      });
    const first = await get();
    expect(first.headers.get('Cache-Control')).toBe('public, max-age=5');
    expect(first.headers.get('Access-Control-Allow-Origin')).toBe('*');
    const etag = first.headers.get('ETag') ?? '';
    expect((await get({ 'If-None-Match': etag })).status).toBe(304);
    await importCsv(server, 'catalog', 'variant_id,stock_quantity\npl-1,11');
    expect((await get({ 'If-None-Match': etag })).status).toBe(304);
    await importCsv(server, 'catalog', 'variant_id,price\ntwine,3.60');
    const second = await get({ 'If-None-Match': etag });
    expect(second.status).toBe(200);
    expect(second.headers.get('ETag')).not.toBe(etag);
    server.now = Date.parse('2026-12-19T23:59:58.500Z');
    const late = await get();
    expect(late.headers.get('Cache-Control')).toBe('public, max-age=1');
    server.now = Date.parse('2026-12-20T00:00:00Z');
    expect((await get({ 'If-None-Match': late.headers.get('ETag') ?? '' })).status).toBe(200);
    server.now = Date.parse('2026-11-25T10:00:00Z');
  });

  it('that still stand say when they were sent, to pages of other origins too', async () => {
    const get = (headers = {}) =>
      server.send('GET', '/v1/decisions?surface=product&path=/plants/paper-lantern', { headers, asNobody: true });
    const first = await get();
    server.now += 3_600_000;
    const still = await get({ 'If-None-Match': first.headers.get('ETag') ?? '' });
    expect(still.status).toBe(304);
    expect(first.headers.get('Understudy-At')).toBe('2026-11-25T10:00:00.000Z');
    expect(still.headers.get('Understudy-At')).toBe('2026-11-25T11:00:00.000Z');
    expect(still.headers.get('Access-Control-Expose-Headers')).toBe('Understudy-At, Understudy-Held-Since');
    server.now -= 3_600_000;
  });

  it('refuse what is odd with a problem, never with a failure', async () => {
    const odd: unknown[] = [
      {},
      [],
      null,
      { surface: 'moon', products: [] },
      { surface: 'product', products: [{}] },
      { surface: 'product', products: [{ id: 'a', path: '/a' }] },
      { surface: 'product', products: Array(501).fill({ id: 'a' }) },
      { surface: 'product', products: [], locale: '../../etc' },
      { surface: 'product', products: [], extra: true },
    ];
    for (const body of odd)
      expect((await server.send('POST', '/v1/decisions', { body })).status, JSON.stringify(body)).toBe(422);
    expect((await server.send('GET', '/v1/decisions')).status).toBe(422);
    const nul = await server.send('POST', '/v1/decisions', {
      body: { surface: 'product', products: [{ id: 'a\0b' }, { path: '/%00' }] },
    });
    expect(nul.status).toBeLessThan(500);
  });
});

describe('public calls with a body', () => {
  const calls = CALLS.filter(({ auth, body }) => auth === 'public' && body);
  const send = (method: string, path: string, body: unknown) =>
    server.send(method.toUpperCase(), path.replaceAll(/\{\w+\}/g, '1'), { body, asNobody: true });

  it('refuse more than 100 kB', async () => {
    const body = { text: 'x'.repeat(100_000) };
    for (const { method, path } of calls) expect((await send(method, path, body)).status, path).toBe(413);
    expect(calls.length).toBeGreaterThan(10);
  });

  it('refuse too many members before reading them', async () => {
    const bodies = [
      { lines: Array(40_000).fill(0) },
      { products: Array(30_000).fill({}) },
      Object.fromEntries(Array.from({ length: 7_000 }, (_, index) => [`k${index}`, 0])),
    ];
    const refused = new Set<string>();
    for (const { method, path } of calls)
      for (const body of bodies) {
        const answer = await send(method, path, body);
        // A call's rate limit comes before its body.
        if (answer.status === 429) continue;
        refused.add(path);
        expect([answer.status, (answer.body as Problem).type], path).toEqual([
          422,
          'urn:understudy:problem:too-costly',
        ]);
      }
  });

  it('take a full page with a full cart', async () => {
    const lines = Array(500).fill({ variantId: 'twine', quantity: 1, unitPrice: 250, terms: 'x'.repeat(16) });
    const products = Array(500).fill({ path: `/tools/${'garden-twine'.repeat(4)}`, surface: 'listing' });
    const body = { surface: 'listing', page: '/tools', locale: 'en', products, cart: lines };
    expect((await send('post', '/v1/decisions', body)).status).toBe(200);
    const order = lines.map((line: object) => ({ ...line, via: 'express' }));
    expect((await send('post', '/v1/guard', { via: 'order', lines: order })).status).toBe(200);
  });
});

describe('the guard', () => {
  it('lets through what a page offers, and refuses what it withholds, with a text for the shopper', async () => {
    const verdict = await guard([
      { variantId: 'pl-1', quantity: 2, unitPrice: 550 },
      { variantId: 'pl-3', quantity: 1 },
      { variantId: 'hosta', quantity: 40 },
      { variantId: 'seed', quantity: 1 },
      { variantId: 'tree', quantity: 1 },
    ]);
    expect(verdict.ok).toBe(false);
    expect(verdict.lines.map(({ code }) => code)).toEqual([null, 'notForSale', null, 'signInFirst', 'notForSale']);
    expect(verdict.lines.every(({ ok, text }) => ok === (text === null))).toBe(true);
    expect(verdict.lines[0]?.unitPrice).toBe(550);
  });

  it('speaks the visitor’s language', async () => {
    const { lines } = await guard([{ variantId: 'seed', quantity: 1 }], { locale: 'fr' });
    expect(lines[0]?.text).toContain('connecter');
  });

  it('lets a member buy, and lets through what only the listing offers', async () => {
    expect(await codes([{ variantId: 'seed', quantity: 5 }], { visitor: await server.token('bram') })).toEqual([null]);
    const listed = { ...RULES[3], then: { control: { kind: 'link', href: '/c', onListing: { kind: 'buy' } } } };
    await server.publish({ format: 'understudy-rulebook', version: 1, rules: [...RULES.slice(0, 3), listed] });
    expect(await codes([{ variantId: 'tree', quantity: 1 }])).toEqual([null]);
    await server.publish({ format: 'understudy-rulebook', version: 1, rules: RULES });
  });

  it('counts all lines of a variant together against the stock', async () => {
    const lines = [
      { variantId: 'pl-1', quantity: 6 },
      { variantId: 'pl-1', quantity: 6 },
    ];
    expect(await codes(lines)).toEqual(['notEnoughStock', 'notEnoughStock']);
    expect(
      await codes([
        { variantId: 'pl-1', quantity: 5 },
        { variantId: 'pl-1', quantity: 6 },
      ]),
    ).toEqual([null, null]);
    expect(await codes([{ variantId: 'twine', quantity: 100_000 }])).toEqual([null]);
  });

  it('refuses odd quantities, unknown variants and other prices', async () => {
    const lines = [0, -1, 1.5, 1e300].map((quantity) => ({ variantId: 'pl-1', quantity }));
    expect(await codes(lines)).toEqual(Array(4).fill('badQuantity'));
    expect(await codes([{ variantId: 'nothing', quantity: 1 }])).toEqual(['unknownVariant']);
    expect(await codes([{ variantId: 'pl-1', quantity: 1, unitPrice: 549 }])).toEqual(['priceChanged']);
  });

  it('refuses express pay where it is hidden', async () => {
    const lines = [
      { variantId: 'pl-1', quantity: 1 },
      { variantId: 'twine', quantity: 1 },
      { variantId: 'seed', quantity: 1 },
    ];
    expect(await codes(lines, { via: 'express' })).toEqual(['noExpress', null, 'signInFirst']);
  });

  it('takes carts of up to 500 lines', async () => {
    const lines = Array(500).fill({ variantId: 'twine', quantity: 1 }) as unknown[];
    expect((await guard(lines)).ok).toBe(true);
    expect(
      (await server.send('POST', '/v1/guard', { body: { via: 'cart', lines: [...lines, lines[0]] } })).status,
    ).toBe(422);
  });
});

describe('the storefront script', () => {
  it('takes no page map that it could not read', async () => {
    const body = { productPage: { path: '^/(', area: 'main' }, card: { area: 'li', link: 'a' }, control: 'button' };
    const answer = await server.send('PUT', '/api/page-map', { body });
    expect((answer.body as Problem).errors?.map(({ pointer }) => pointer)).toEqual(['/productPage/path']);
  });

  it('comes with the shop’s page map', async () => {
    const pageMap = {
      productPage: { path: '^/plants/', area: 'main' },
      card: { area: '.card', link: 'a' },
      control: 'button.buy</script>',
    };
    expect((await server.send('PUT', '/api/page-map', { body: pageMap })).status).toBe(204);
    const { headers, body } = await server.send('GET', '/embed.js', { asNobody: true });
    expect(headers.get('Content-Type')).toContain('javascript');
    const texts = { en: { from: 'from', waiting: 'waiting' }, fr: { from: 'dès', waiting: 'en attente' } };
    const settings = { origin: 'http://understudy.test', pageMap, texts, fits: true };
    expect(body).toBe(`start(${JSON.stringify(settings)})`);
  });
});
