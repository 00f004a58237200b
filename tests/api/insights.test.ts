import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { postEvents } from '#core/contract/countCalls.ts';
import type { Answers, Demand, getWords } from '#core/contract/demandCalls.ts';
import type { EditionEffect } from '#core/contract/insightCalls.ts';
import { book, make } from '../support/oneVariant.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

type Told = z.infer<(typeof postEvents)['body']>['events'][number];
const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const ADA = { email: 'ada.lyle@quillfern.example', name: 'Ada Lyle' };
const tagged = (tag: string) => ({ fact: 'product.tags' as const, op: 'hasAny' as const, value: [tag] });
const RULES = [
  make('by-quote', { control: { kind: 'quote' } }, tagged('bulk')),
  make('reserve', { control: { kind: 'preorder', ships: { within: 'P9D' } } }, tagged('tuber')),
  make('list', { control: { kind: 'waitlist', per: 'product' } }, tagged('rare')),
  make('ask', { control: { kind: 'enquiry', form: 'contact', open: 'dialog' } }, tagged('tool')),
];

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    [
      'variant_id,product_id,path,title,categories,tags,price,stock_tracked,stock_quantity',
      'hedge-60,hedge,/hedge,Hornbeam,Plants > Hedging,bulk,5.00,true,900',
      'hedge-90,hedge,/hedge,Hornbeam,Plants > Hedging,bulk,9.00,true,100',
      'dahlia-1,dahlia,/dahlia,Dahlia,Plants > Tubers|Gifts,tuber|cut flower,4.00,true,50',
      'trillium-9,trillium,/trillium,Trillium,Plants > Shade,rare,24.00,true,0',
      'trillium-2l,trillium,/trillium,Trillium,Plants > Shade,rare,60.00,true,0',
      'fork-1,fork,/fork,Hand fork,Tools,tool,30.00,true,0',
      'spade-1,spade,/spade,Border spade,Tools,,39.00,true,5',
    ].join('\n'),
  );
  const people = ['c-1,Wren Hollis', 'c-2,Hugo Vale', 'c-3,Cleo Marsh'].map((line) => {
    const [id = '', name = ''] = line.split(',');
    return `${id},${name.split(' ')[0]?.toLowerCase() ?? ''}@quillfern.example,${name}`;
  });
  await importCsv(server, 'people', `customer_id,email,name\n${people.join('\n')}\n`);
  await server.publish(book(...RULES));
});
afterAll(() => server.stop());

const post = (path: string, body: object, headers: Readonly<Record<string, string>> = {}) =>
  server.send('POST', path, { body, headers, asNobody: true });
const browser = { 'User-Agent': 'Mozilla/5.0' };
const dayOf = (ms: number) => new Date(ms).toISOString().slice(0, 10);
const period = (days = 2) => `from=${dayOf(server.now - days * DAY_MS)}&until=${dayOf(server.now + 2 * DAY_MS)}`;
const read = async <T>(path: string) => (await server.send('GET', path)).body as T;

describe('where demand waits', () => {
  const demand = (more = '') => read<Demand>(`/api/insights/demand?${period()}${more}`);
  const amount = (units: number, worth: number) => ({ units, worth });
  const none = amount(0, 0);

  it('is nowhere before anybody asked', async () => {
    const nothing = { waiting: none, reserved: none, asked: none, enquired: none, refused: none, worth: 0 };
    expect(await demand()).toEqual({ rows: [], total: 0, all: nothing });
  });

  it('is what waits, is reserved, is asked and was refused, in units and at today’s price', async () => {
    const headers = { Authorization: `Bearer ${await shopToken(server)}` };
    const order = async (number: string, variantId: string, quantity: number, customer: string) =>
      post(
        '/v1/preorders',
        { order: number, lines: [{ variantId, quantity }], visitor: await server.token(customer) },
        headers,
      );
    for (const customer of ['c-1', 'c-2'])
      await post('/v1/waitlist-entries', { path: '/trillium', visitor: await server.token(customer) });
    await order('N-1', 'dahlia-1', 3, 'c-1');
    await order('N-2', 'trillium-2l', 1, 'c-3');
    const sheet = [
      { variantId: 'hedge-60', quantity: 9 },
      { variantId: 'hedge-90', quantity: 10 },
    ];
    await post('/v1/quotes', { ...ADA, lines: sheet, key: 'made-up-1' });
    await post('/v1/enquiries', { ...ADA, path: '/fork', answers: { question: 'When will the oak handles come?' } });

    const { rows, total, all } = await demand();
    expect(total).toBe(4);
    expect(rows.map(({ key, worth }) => [key, worth])).toEqual([
      ['hedge', 4500 + 9000],
      // Two who wait for any of it, at the lowest price, and one who was refused the large one.
      ['trillium', 2 * 2400 + 6000],
      ['fork', 3000],
      ['dahlia', 1200],
    ]);
    expect(rows[0]).toMatchObject({ title: 'Hornbeam', within: null, asked: amount(19, 13_500), waiting: none });
    expect(rows[1]).toMatchObject({ waiting: amount(2, 4800), refused: amount(1, 6000), reserved: none });
    expect(rows[2]).toMatchObject({ enquired: amount(1, 3000) });
    expect(rows[3]).toMatchObject({ reserved: amount(3, 1200) });
    expect(all).toEqual({
      waiting: amount(2, 4800),
      reserved: amount(3, 1200),
      asked: amount(19, 13_500),
      enquired: amount(1, 3000),
      refused: amount(1, 6000),
      worth: 28_500,
    });
  });

  it('is also that of tags, and of categories with all that is in them', async () => {
    expect((await demand('&by=tag')).rows.map(({ key, title, worth }) => [key, title, worth])).toEqual([
      ['bulk', 'bulk', 13_500],
      ['rare', 'rare', 10_800],
      ['tool', 'tool', 3000],
      ['cut flower', 'cut flower', 1200],
      ['tuber', 'tuber', 1200],
    ]);
    const { rows } = await demand('&by=category');
    expect(rows.map(({ title, within, worth }) => [title, within, worth])).toEqual([
      ['Plants', null, 13_500 + 10_800 + 1200],
      ['Hedging', 'Plants', 13_500],
      ['Shade', 'Plants', 10_800],
      ['Tools', null, 3000],
      ['Gifts', null, 1200],
      ['Tubers', 'Plants', 1200],
    ]);
  });

  it('is found, put in order by one kind of it, and leaves what is over', async () => {
    expect((await demand('&search=HORN')).rows.map(({ key }) => key)).toEqual(['hedge']);
    expect((await demand('&search=100%25')).rows).toEqual([]);
    expect((await demand('&sort=waiting')).rows.map(({ key }) => key)).toEqual(['trillium']);
    expect(await demand('&limit=1')).toMatchObject({ rows: [{ key: 'hedge' }], total: 4 });
    const before = `from=${dayOf(server.now - 9 * DAY_MS)}&until=${dayOf(server.now - 7 * DAY_MS)}`;
    const { all } = await read<Demand>(`/api/insights/demand?${before}`);
    expect([all.refused, all.waiting]).toEqual([none, amount(2, 4800)]);
    const { body: file } = await server.send('GET', `/api/insights/demand.csv?${period()}&sort=reserved`);
    expect(String(file).split('\n').slice(0, 2)).toEqual([
      expect.stringContaining('key,title,within,waiting.units,waiting.worth,reserved.units'),
      'dahlia,Dahlia,,0,0,3,1200,0,0,0,0,0,0,1200',
    ]);
    const { body } = await server.send('GET', '/api/quotes');
    const [quote] = (body as { quotes: { id: string }[] }).quotes;
    await server.send('POST', `/api/quotes/${quote?.id ?? ''}/refusal`, { body: { words: 'Not this winter.' } });
    expect((await demand()).rows.map(({ key }) => key)).toEqual(['trillium', 'fork', 'dahlia']);
  });
});

describe('how those who ask are served', () => {
  it('counts what began in the period, what came of it, and how long half of it took at most', async () => {
    const now = server.now;
    await post('/v1/quotes', { ...ADA, lines: [{ variantId: 'hedge-60', quantity: 30 }], key: 'made-up-2' });
    server.now += 6 * HOUR_MS;
    const { quotes } = await read<{ quotes: { id: string; lines: { variant: string; units: number }[] }[] }>(
      '/api/quotes?state=asked',
    );
    const [quote] = quotes;
    const lines = quote?.lines.map(({ variant, units }) => ({ variant, units, unitPrice: 400 }));
    const price = { lines, delivery: 100, days: 9, words: '' };
    expect((await server.send('PUT', `/api/quotes/${quote?.id ?? ''}/price`, { body: price })).status).toBe(204);
    const { enquiries } = await read<{ enquiries: { id: string }[] }>('/api/enquiries');
    await server.send('POST', `/api/enquiries/${enquiries[0]?.id ?? ''}/answers`, { body: { words: 'In March.' } });
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'trillium-9', quantity: 2 }] });
    const turn = { product: 'trillium', next: 2, hours: 1 };
    await server.send('POST', '/api/waitlists/invitations', { body: turn });
    const answers = await read<Answers>(`/api/insights/answers?${period()}`);
    expect(answers).toMatchObject({
      invitations: { sent: 2, bought: 0, lapsed: 0, open: 2 },
      quotes: { asked: 2, answered: 2, accepted: 0, turnedDown: 1, lapsed: 0, declined: 0 },
      enquiries: { asked: 1, answered: 1, medianHours: 6 },
    });
    // One at once, one after six hours.
    expect(answers.quotes.medianHours).toBe(3);
    server.now = now;
    const nothing = await read<Answers>('/api/insights/answers?from=2026-01-01&until=2026-02-01');
    expect(nothing.quotes).toEqual({
      asked: 0,
      answered: 0,
      medianHours: null,
      accepted: 0,
      declined: 0,
      lapsed: 0,
      turnedDown: 0,
    });
    const { body: file } = await server.send('GET', `/api/insights/answers.csv?${period()}`);
    expect(file).toContain('invitations.sent,invitations.bought');
  });
});

describe('words that shoppers use', () => {
  const words = () => read<z.infer<(typeof getWords)['replies'][200]>>(`/api/insights/words?${period()}`);
  const search = (said: string, found: number, id: string = crypto.randomUUID(), agent: object = browser) =>
    post('/v1/searches', { id, words: said, found }, { ...agent });

  it('are counted as they were searched for, once each, more than once in all', async () => {
    const twice = crypto.randomUUID();
    for (const [said, found] of [
      ['blue  Poppy', 3],
      ['Blue poppy', 0],
      [' blue poppy ', 2],
      ['oak handle', 0],
      ['oak handle', 0],
      ['hellebore', 4],
    ] as const)
      expect((await search(said, found)).status).toBe(204);
    for (const _time of [1, 2]) await search('hellebore seed', 1, twice);
    expect((await words()).searched).toEqual([
      { words: 'blue poppy', times: 3, foundNone: 1 },
      { words: 'oak handle', times: 2, foundNone: 2 },
    ]);
  });

  it('are not those of robots, and nobody’s address or number', async () => {
    for (const said of ['ada.lyle@quillfern.example', '+351 21 000 00 42', 'order 123456'])
      for (const _time of [1, 2]) expect((await search(said, 0)).status).toBe(204);
    for (const _time of [1, 2]) await search('from a robot', 0, undefined, { 'User-Agent': 'Examplebot/1' });
    expect((await words()).searched.map(({ words: said }) => said)).toEqual(['blue poppy', 'oak handle']);
    for (const fault of [{ words: '' }, { words: 'x', found: -1 }, { words: 'x'.repeat(201) }, { words: '\0' }])
      expect((await post('/v1/searches', { id: crypto.randomUUID(), found: 0, ...fault })).status).toBeOneOf([
        204, 422,
      ]);
  });

  it('are those of enquiries too, without those that every sentence has', async () => {
    for (const [question, locale] of [
      ['Do you have handles of oak, and where are they?', 'en'],
      ['Avez-vous des manches en chêne ?', 'fr'],
      ['Les manches sont-ils en chêne ?', 'fr'],
    ] as const)
      await post('/v1/enquiries', { ...ADA, path: '/fork', answers: { question }, locale });
    const { asked } = await words();
    expect(asked).toEqual([
      { word: 'chêne', enquiries: 2 },
      { word: 'handles', enquiries: 2 },
      { word: 'manches', enquiries: 2 },
      { word: 'oak', enquiries: 2 },
    ]);
    const { body: file } = await server.send('GET', `/api/insights/words.csv?${period()}`);
    expect(file).toContain('searches,blue poppy,3,1,');
  });
});

describe('what an edition did', () => {
  const at = (path: string, control: Told['control'], rule: string | null): Omit<Told, 'event'> => ({
    path,
    variant: null,
    surface: 'product',
    control,
    rule,
    ago: 0,
  });
  /** A day on which each was seen sixty times, and pressed so often. */
  const day = async (dahlia: number, spade: number) => {
    const many = (told: Omit<Told, 'event'>, pressed: number): Told[] => [
      ...Array.from({ length: 60 }, () => ({ ...told, event: 'seen' as const })),
      ...Array.from({ length: pressed }, () => ({ ...told, event: 'pressed' as const })),
    ];
    const events = [...many(at('/dahlia', 'preorder', 'reserve'), dahlia), ...many(at('/spade', 'buy', null), spade)];
    await post('/v1/events', { id: crypto.randomUUID(), events }, browser);
    server.now += DAY_MS;
  };
  const effect = async (number: number, days = 14) =>
    read<EditionEffect>(`/api/insights/editions/${number}?days=${days}`);

  it('is measured on what it touched against all else, on as many whole days before and after', async () => {
    server.now += 30 * DAY_MS;
    for (const pressed of [6, 7, 5, 6, 6, 8, 5]) await day(pressed, 12 - pressed);
    const label = { en: 'Reserve yours', fr: 'Réservez le vôtre' };
    const [quote, , ...others] = RULES;
    const reserve = make(
      'reserve',
      { control: { kind: 'preorder', ships: { within: 'P9D' }, label } },
      tagged('tuber'),
    );
    await server.publish(book(quote!, reserve, ...others));
    const number = 2;
    expect((await effect(number)).effects.pressed).toEqual({ tooFew: 'days' });
    await day(30, 30);
    for (const pressed of [19, 16, 18, 20, 17, 18, 18]) await day(pressed, 6);
    const found = await effect(number);
    const publishedOn = dayOf(server.now - 8 * DAY_MS);
    expect(found).toMatchObject({
      edition: { number },
      touched: 1,
      before: {
        from: dayOf(Date.parse(publishedOn) - 7 * DAY_MS),
        until: publishedOn,
        touched: { seen: 420, pressed: 43 },
        others: { seen: 420, pressed: 41 },
      },
      after: { touched: { seen: 420, pressed: 126 }, others: { seen: 420, pressed: 42 } },
      effects: { finished: { tooFew: 'touched' } },
      meanwhile: [],
    });
    const { pressed } = found.effects;
    if ('tooFew' in pressed) throw new Error('there is enough to say');
    expect(pressed.times).toBeCloseTo(126 / 43 / (42 / 41), 6);
    expect(pressed.low).toBeGreaterThan(1.5);
    expect(pressed.high).toBeLessThan(6);
    const { body: file } = await server.send('GET', '/api/insights/editions/2/counts.csv');
    expect(String(file).split('\n').slice(1, 3)).toEqual([
      `before,${found.before.from},${publishedOn},touched,420,43,0,0`,
      `before,${found.before.from},${publishedOn},others,420,41,0,0`,
    ]);
  });

  it('names what else came in, and says when there is too little', async () => {
    await server.publish(book(...RULES));
    for (const _day of [1, 2, 3]) await day(6, 6);
    expect(await effect(3)).toMatchObject({ effects: { pressed: { tooFew: 'days' } }, meanwhile: [] });
    expect((await effect(2)).meanwhile.map(({ number }) => number)).toEqual([3]);
    expect((await server.send('GET', '/api/insights/editions/9')).status).toBe(404);
    // The first touched all that it had a rule for.
    expect((await effect(1)).touched).toBe(4);
  });
});
