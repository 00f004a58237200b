import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { postEvents } from '#core/contract/countCalls.ts';
import type { getCountSeries, getFunnel, getRuleProducts } from '#core/contract/insightCalls.ts';
import { sweep } from '../../server/sweep.ts';
import { makeRoomForCounts } from '../../server/insights/countService.ts';
import { book, make } from '../support/oneVariant.ts';
import { runs } from '../support/sampling.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

type Batch = z.infer<(typeof postEvents)['body']>;
type Told = Batch['events'][number];
const HOUR_MS = 3_600_000;
const WREN = { email: 'wren@quillfern.example', name: 'Wren Hollis' };
const tagged = (tag: string) => ({ fact: 'product.tags' as const, op: 'hasAny' as const, value: [tag] });

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    [
      'variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity',
      'hedge-60,hedge,/hedge,Hornbeam,bulk,5.00,true,900',
      'hedge-90,hedge,/hedge,Hornbeam,bulk,9.00,true,100',
      'dahlia-1,dahlia,/dahlia,Dahlia,tuber,4.00,true,0',
      'trillium-1,trillium,/trillium,Trillium,rare,24.00,true,0',
      'fork-1,fork,/fork,Hand fork,tool,30.00,true,0',
      'spade-1,spade,/spade,Border spade,,39.00,true,5',
    ].join('\n'),
  );
  await importCsv(server, 'people', `customer_id,email,name,roles\nc-1,${WREN.email},${WREN.name},trade\n`);
  await server.send('PUT', '/api/audiences', {
    body: [
      { name: 'Guest', signedIn: false, roles: [] },
      { name: 'Signed in', signedIn: true, roles: [] },
      { name: 'Trade', signedIn: true, roles: ['trade'] },
    ],
  });
  await server.publish(
    book(
      make('by-quote', { control: { kind: 'quote' } }, tagged('bulk')),
      make('reserve', { control: { kind: 'preorder', ships: { within: 'P9D' } } }, tagged('tuber')),
      make('list', { control: { kind: 'waitlist', per: 'product' } }, tagged('rare')),
      make('ask', { control: { kind: 'enquiry', form: 'contact', open: 'dialog' } }, tagged('tool')),
    ),
  );
});
afterAll(() => server.stop());

const post = (path: string, body: object, headers: Readonly<Record<string, string>> = {}) =>
  server.send('POST', path, { body, headers, asNobody: true });
const tell = (batch: Batch, userAgent = 'Mozilla/5.0') => post('/v1/events', batch, { 'User-Agent': userAgent });
const dayOf = (ms: number) => new Date(ms).toISOString().slice(0, 10);
/** Three days around now, in a zone that is ahead of UTC by no more than an hour. */
const period = () => `from=${dayOf(server.now - 48 * HOUR_MS)}&until=${dayOf(server.now + 48 * HOUR_MS)}`;
const read = async <T>(path: string) => (await server.send('GET', path)).body as T;
const funnel = async () =>
  (await read<z.infer<(typeof getFunnel)['replies'][200]>>(`/api/insights/funnel?${period()}`)).rows;
const products = async (more = '') =>
  (await read<z.infer<(typeof getRuleProducts)['replies'][200]>>(`/api/insights/products?${period()}${more}`)).products;
const days = async () =>
  (await read<z.infer<(typeof getCountSeries)['replies'][200]>>(`/api/insights/series?${period()}`)).days;
const empty = () => server.needs.db.query('TRUNCATE rule_counts, rule_days, product_days, counted_batches');

/** Counts equal items of a list. */
function tally<T>(list: readonly T[], keyOf: (one: T) => string): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const one of list) counts[keyOf(one)] = (counts[keyOf(one)] ?? 0) + 1;
  return counts;
}
/** The same of rows that say how often of each event. */
function spread<R extends Readonly<Record<'seen' | 'pressed', number>>>(rows: readonly R[], keyOf: (row: R) => string) {
  return Object.fromEntries(
    rows.flatMap((row) =>
      (['seen', 'pressed'] as const).flatMap((event) =>
        row[event] > 0 ? [[`${keyOf(row)} ${event}`, row[event]]] : [],
      ),
    ),
  );
}

const STANDS = [
  { product: 'hedge', variant: 'hedge-60', control: 'quote', rule: 'by-quote' },
  { product: 'hedge', variant: 'hedge-90', control: 'quote', rule: 'by-quote' },
  { product: 'dahlia', variant: 'dahlia-1', control: 'preorder', rule: 'reserve' },
  { product: 'trillium', variant: null, control: 'waitlist', rule: 'list' },
  { product: 'spade', variant: 'spade-1', control: 'buy', rule: null },
] as const;

/** Event of a page about one of them. */
const toldOf = (
  more: Pick<Told, 'event' | 'surface' | 'ago'>,
  { product, ...stand }: (typeof STANDS)[number],
): Told => ({ ...more, ...stand, path: `/${product}` });

/** Something that happened so many seconds ago. */
const happened = fc.record({
  event: fc.constantFrom('seen' as const, 'pressed' as const),
  stand: fc.constantFrom(...STANDS),
  surface: fc.constantFrom('product' as const, 'listing' as const),
  ago: fc.nat(20 * 3600),
});
const pages = fc.array(
  fc.record({
    id: fc.uuid(),
    isTrade: fc.boolean(),
    events: fc.array(happened, { minLength: 1, maxLength: 12 }),
    /** Number of deliveries, and their delay. */
    times: fc.integer({ min: 1, max: 3 }),
    late: fc.nat(3000),
  }),
  { minLength: 1, maxLength: 8 },
);

describe('what is counted', () => {
  it('agrees with what happened, by hour, by rule, by product and in all, whatever arrives twice, late or out of order', async () => {
    const visitor = await server.token('c-1');
    const start = server.now;
    await fc.assert(
      fc.asyncProperty(pages, fc.infiniteStream(fc.nat()), async (told, chance) => {
        await empty();
        const sent = [...new Map(told.map((page) => [page.id, page])).values()];
        const arrivals = sent.flatMap((page) => Array.from({ length: page.times }, () => page));
        const order = arrivals
          .map((page) => ({ page, at: chance.next().value as number }))
          .sort((a, b) => a.at - b.at)
          .map(({ page }) => page);
        const log = new Map<
          string,
          { at: number; audience: string; event: string; stand: (typeof STANDS)[number] }[]
        >();
        for (const { id, isTrade, events, late } of order) {
          // The page says how long ago by its own clock, when it sends; the first to arrive is what counts.
          server.now = start + late * 1000;
          const rows = events.map(({ event, surface, ago, stand }) => toldOf({ event, surface, ago }, stand));
          expect((await tell({ id, visitor: isTrade ? visitor : null, events: rows })).status).toBe(204);
          const audience = isTrade ? 'Trade' : 'Guest';
          if (!log.has(id))
            log.set(
              id,
              events.map(({ event, ago, stand }) => ({ at: server.now - ago * 1000, audience, event, stand })),
            );
        }
        server.now = start;
        const all = [...log.values()].flat();
        expect(spread(await funnel(), ({ rule, control }) => `${rule ?? ''} ${control}`)).toEqual(
          tally(all, ({ event, stand }) => `${stand.rule ?? ''} ${stand.control} ${event}`),
        );
        expect(spread(await products(), ({ product }) => product)).toEqual(
          tally(all, ({ event, stand }) => `${stand.product} ${event}`),
        );
        const inAll = (rows: readonly { seen: number; pressed: number }[]) =>
          rows.reduce((sum, { seen, pressed }) => sum + seen + pressed, 0);
        expect(inAll(await days())).toBe(all.length);
        const { rows: hours } = await server.needs.db.query<{ hour: Date; audience: string; count: number }>(
          'SELECT hour, audience, sum(seen + pressed)::int AS count FROM rule_counts GROUP BY hour, audience',
        );
        expect(
          Object.fromEntries(hours.map(({ hour, audience, count }) => [`${hour.getTime()} ${audience}`, count])),
        ).toEqual(tally(all, ({ at, audience }) => `${Math.floor(at / HOUR_MS) * HOUR_MS} ${audience}`));
      }),
      runs(8, 2),
    );
  });

  it('is only what the live rules can show for a product on a surface', async () => {
    await empty();
    const seen = { event: 'seen', variant: null, surface: 'product', ago: 0 } as const;
    const forged: Told[] = [
      { ...seen, path: '/spade', control: 'preorder', rule: 'reserve' },
      { ...seen, path: '/dahlia', control: 'quote', rule: 'reserve' },
      { ...seen, path: '/dahlia', control: 'waitlist', rule: null },
      { ...seen, path: '/dahlia', control: 'choose', rule: 'reserve' },
      { ...seen, path: '/spade', control: 'buy', rule: null, variant: 'hedge-60' },
    ];
    const real: Told[] = [
      { ...seen, path: '/dahlia', control: 'preorder', rule: 'reserve' },
      { ...seen, path: '/hedge', control: 'choose', rule: 'by-quote', surface: 'listing' },
    ];
    expect((await tell({ id: crypto.randomUUID(), events: [...forged, ...real] })).status).toBe(204);
    expect((await funnel()).map(({ rule, control, seen: times }) => [rule, control, times]).sort()).toEqual([
      ['by-quote', 'choose', 1],
      ['reserve', 'preorder', 1],
    ]);
  });

  it('grows by few new rows a minute from one network, and by any number of counts', async () => {
    await empty();
    const many = Array.from(
      { length: 400 },
      (_, index) => `many-${index},many-${index},/many/${index},Sedge ${index},,5.00,,`,
    );
    await importCsv(
      server,
      'catalog',
      ['variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity', ...many].join('\n'),
    );
    const batch = (ago: number, variant: boolean): Batch => ({
      id: crypto.randomUUID(),
      events: many.map((_row, index) => ({
        event: 'seen',
        path: `/many/${index}`,
        variant: variant ? `many-${index}` : null,
        surface: 'product',
        control: 'buy',
        rule: null,
        ago,
      })),
    });
    const from = (network: string, sent: Batch) =>
      post('/v1/events', sent, { 'User-Agent': 'Mozilla/5.0', 'X-Forwarded-For': network });
    const statuses: number[] = [];
    // Each of these is 400 rows of its own: of two days, of the product and of its variant.
    for (let round = 0; round < 4; round += 1)
      for (const [ago, variant] of [
        [0, false],
        [0, true],
        [80_000, false],
        [80_000, true],
      ] as const) {
        if (round > 0 && statuses.at(-1) === 204) await server.db.query('DELETE FROM product_days');
        statuses.push((await from('192.0.2.7', batch(ago, variant))).status);
      }
    expect(statuses.filter((status) => status === 204)).toHaveLength(8);
    expect(statuses.at(-1)).toBe(429);
    // Rows that exist already are not charged.
    await from('192.0.2.8', batch(0, false));
    for (let round = 0; round < 20; round += 1) expect((await from('192.0.2.8', batch(0, false))).status).toBe(204);
  });

  it('is deleted for the days that the owner says, and no others', async () => {
    await empty();
    const spade = {
      event: 'seen',
      path: '/spade',
      variant: 'spade-1',
      surface: 'product',
      control: 'buy',
      rule: null,
    } as const;
    await tell({
      id: crypto.randomUUID(),
      events: [
        { ...spade, ago: 0 },
        { ...spade, ago: 24 * 3600 },
      ],
    });
    const today = dayOf(server.now);
    const tomorrow = dayOf(server.now + 24 * HOUR_MS);
    expect((await server.send('DELETE', `/api/insights/counts?from=${tomorrow}&until=${today}`)).status).toBe(422);
    expect((await server.send('DELETE', `/api/insights/counts?from=${today}&until=${tomorrow}`)).status).toBe(204);
    expect((await days()).filter(({ seen: times }) => times > 0).map(({ day }) => day)).toEqual([
      dayOf(server.now - 24 * HOUR_MS),
    ]);
    expect((await funnel()).map(({ seen: times }) => times)).toEqual([1]);
    expect((await products('&control=buy&rule=')).map(({ seen: times }) => times)).toEqual([1]);
    const { body } = await server.send('GET', '/api/record');
    expect(JSON.stringify(body)).toContain('delete /api/insights/counts');
  });

  it('is nothing of robots, of rules that are not live, of products that are not there, or of no known shape', async () => {
    await empty();
    const event = toldOf({ event: 'seen', surface: 'product', ago: 0 }, STANDS[0]);
    const id = () => crypto.randomUUID();
    await tell({ id: id(), events: [event] }, 'Examplebot/2.1');
    await tell({ id: id(), events: [{ ...event, rule: 'made-up' }] });
    await tell({ id: id(), events: [{ ...event, path: '/made-up' }] });
    expect(await funnel()).toEqual([]);
    const faults = [
      { events: [event] },
      { id: 'x', events: [event] },
      { id: id(), events: [{ ...event, ago: -1 }] },
      { id: id(), events: [{ ...event, control: 'made-up' }] },
      { id: id(), events: [{ ...event, email: WREN.email }] },
      { id: id(), events: [] },
    ];
    // A variant that is not there, or of another product, is forged.
    const shown = toldOf({ event: 'seen', surface: 'product', ago: 0 }, STANDS[0]);
    const variants = [null, 'made-up', 'spade-1', 'hedge-60'].map((variant) => ({ ...shown, variant }));
    expect((await tell({ id: id(), events: variants })).status).toBe(204);
    expect(await products()).toMatchObject([{ product: 'hedge', seen: 2 }]);
    await empty();
    for (const odd of [{ path: '/\0' }, { variant: '\0' }, { path: '/%00' }, { rule: '\0' }])
      expect((await post('/v1/events', { id: id(), events: [{ ...event, ...odd }] })).status).toBeOneOf([204, 422]);
    expect(await products()).toEqual([]);
    for (const fault of faults) expect((await post('/v1/events', fault)).status).toBe(422);
  });

  it('comes as a beacon sends it, which says that it is text', async () => {
    await empty();
    const batch = {
      id: crypto.randomUUID(),
      events: [toldOf({ event: 'pressed', surface: 'product', ago: 0 }, STANDS[2])],
    };
    const headers = { 'Content-Type': 'text/plain;charset=UTF-8' };
    const told = await fetch(`${server.url}/v1/events`, { method: 'POST', headers, body: JSON.stringify(batch) });
    expect([told.status, told.headers.get('Access-Control-Allow-Origin')]).toEqual([204, '*']);
    expect(await funnel()).toMatchObject([{ rule: 'reserve', pressed: 1, seen: 0 }]);
    // Nothing else that is called so.
    const other = await fetch(`${server.url}/v1/misses`, { method: 'POST', headers, body: '{}' });
    expect(other.status).toBe(415);
  });

  it('is also what came of it, where that is certain: orders, lists, quotes, enquiries, and what was refused', async () => {
    await empty();
    const visitor = await server.token('c-1');
    const headers = { Authorization: `Bearer ${await shopToken(server)}` };
    const order = (number: string, variantId: string) =>
      post('/v1/preorders', { order: number, lines: [{ variantId, quantity: 1 }], visitor }, headers);
    await order('N-1', 'dahlia-1');
    await order('N-1', 'dahlia-1');
    await order('N-2', 'spade-1');
    await order('N-3', 'trillium-1');
    for (const _time of [1, 2]) await post('/v1/waitlist-entries', { path: '/trillium', visitor });
    for (const _time of [1, 2])
      await post('/v1/quotes', { ...WREN, lines: [{ variantId: 'hedge-60', quantity: 9 }], key: 'made-up-1' });
    await post('/v1/enquiries', { ...WREN, path: '/fork', answers: { question: 'When?' } });
    const outcomes = (await funnel()).map(({ rule, control, finished, refused }) => [rule, control, finished, refused]);
    expect(outcomes.sort()).toEqual(
      [
        [null, 'buy', 1, 0],
        ['ask', 'enquiry', 1, 0],
        ['by-quote', 'quote', 1, 0],
        ['list', 'waitlist', 1, 1],
        ['reserve', 'preorder', 1, 0],
      ].sort(),
    );
    expect(await products('&rule=list&control=waitlist')).toMatchObject([
      { product: 'trillium', finished: 1, refused: 1 },
    ]);
    const { headers: file, body } = await server.send('GET', `/api/insights/funnel.csv?${period()}`);
    expect(file.get('Content-Type')).toContain('text/csv');
    expect(body).toContain('list,waitlist,0,0,1,1,0,0,0,0');
  });

  it('can be asked of one audience, and puts first what something came of, then what was pressed', async () => {
    await empty();
    const visitor = await server.token('c-1');
    const seen = (stand: (typeof STANDS)[number]) => toldOf({ event: 'seen', surface: 'listing', ago: 0 }, stand);
    const pressed = (stand: (typeof STANDS)[number]) => toldOf({ event: 'pressed', surface: 'listing', ago: 0 }, stand);
    const id = () => crypto.randomUUID();
    await tell({ id: id(), events: [...STANDS.slice(0, 3).map(seen), seen(STANDS[4]), seen(STANDS[4])] });
    await tell({ id: id(), visitor, events: [seen(STANDS[3]), pressed(STANDS[2])] });
    const order = { order: 'N-77', lines: [{ variantId: 'spade-1', quantity: 1 }], visitor };
    await post('/v1/preorders', order, { Authorization: `Bearer ${await shopToken(server)}` });
    expect((await products()).map(({ product }) => product)).toEqual(['spade', 'dahlia', 'hedge', 'trillium']);
    expect((await products('&limit=1')).map(({ product }) => product)).toEqual(['spade']);
    const limited = await server.send('GET', `/api/insights/products?${period()}&limit=3`);
    expect(limited.body).toMatchObject({ more: true });
    const of = async (audience: string) =>
      (
        await read<z.infer<(typeof getFunnel)['replies'][200]>>(`/api/insights/funnel?${period()}&audience=${audience}`)
      ).rows
        .map(({ rule, seen: n }) => `${rule ?? ''} ${n}`)
        .sort();
    expect(await of('Trade')).toEqual([' 0', 'list 1', 'reserve 0']);
    expect(await of('Guest')).toEqual([' 2', 'by-quote 2', 'reserve 1']);
    const { body: file } = await server.send('GET', `/api/insights/products.csv?${period()}`);
    expect(String(file).split('\n')[1]).toBe('spade,Border spade,2,0,1,0');
  });

  it('is forgotten when the owner says, whole months and parts of one', async () => {
    await empty();
    const now = server.now;
    const once = () =>
      tell({ id: crypto.randomUUID(), events: [toldOf({ event: 'seen', surface: 'product', ago: 0 }, STANDS[4])] });
    const DAYS = [0, 20, 29, 31, 45, 95];
    await server.needs.db.query("SELECT make_count_months('2026-08-01', '2026-12-01')");
    for (const days of DAYS) {
      server.now = now - days * 24 * HOUR_MS;
      await once();
    }
    server.now = now;
    const details = (await server.send('GET', '/api/shop/details')).body as { keep: object };
    await server.send('PUT', '/api/shop/details', { body: { ...details, keep: { ...details.keep, counts: 30 } } });
    await sweep(server.needs);
    const left = async (sql: string) => (await server.needs.db.query<{ n: number }>(sql)).rows[0]?.n;
    for (const table of ['rule_counts', 'rule_days', 'product_days'])
      expect(await left(`SELECT count(*)::int AS n FROM ${table}`)).toBe(3);
    const parts =
      "SELECT count(*)::int AS n FROM pg_class WHERE relname IN ('rule_counts_2026_08', 'product_days_2026_09')";
    expect(await left(parts)).toBe(0);
    await server.send('PUT', '/api/shop/details', { body: details });
  });

  it('has room in any month, whether or not somebody made it', async () => {
    await empty();
    const now = server.now;
    server.now += 400 * 24 * HOUR_MS;
    const once = () =>
      tell({ id: crypto.randomUUID(), events: [toldOf({ event: 'seen', surface: 'product', ago: 0 }, STANDS[4])] });
    await once();
    await makeRoomForCounts(server.needs);
    await once();
    expect(await funnel()).toMatchObject([{ rule: null, seen: 2 }]);
    server.now = now;
  });

  it('stands beside the period before, day by day, with the editions that came in', async () => {
    await empty();
    const at = (days: number) => ({
      id: crypto.randomUUID(),
      events: [toldOf({ event: 'seen', surface: 'product', ago: 0 }, STANDS[2])],
      days,
    });
    const now = server.now;
    for (const { days: before, ...batch } of [at(0), at(1), at(1), at(7)]) {
      server.now = now - before * 24 * HOUR_MS;
      await tell(batch);
    }
    server.now = now;
    const week = `from=${dayOf(now - 6 * 24 * HOUR_MS)}&until=${dayOf(now + 24 * HOUR_MS)}`;
    const { rows } = await read<{ rows: object[] }>(`/api/insights/funnel?${week}`);
    expect(rows).toMatchObject([{ rule: 'reserve', seen: 3, before: { seen: 1 } }]);
    const series = await read<z.infer<(typeof getCountSeries)['replies'][200]>>(`/api/insights/series?${week}`);
    expect(series.days.map(({ seen }) => seen)).toEqual([0, 0, 0, 0, 0, 2, 1]);
    expect(series.editions.map(({ number }) => number)).toEqual([1]);
    const backwards = await server.send('GET', '/api/insights/funnel?from=2027-02-01&until=2027-01-01');
    expect(backwards.status).toBe(422);
  });
});
