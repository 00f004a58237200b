import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { MessageSettings } from '#core/contract/channelCalls.ts';
import type { Message } from '#core/contract/messageCalls.ts';
import { tell } from '../../server/sweep.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { startReceiver, type Receiver } from '../support/receiver.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, OWNER, startServer, startShop, type TestServer } from '../support/testServer.ts';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** At ten in the shop, as in UTC in winter. */
const WEDNESDAY = Date.parse('2026-11-25T10:00:00Z');
const MONDAY = Date.parse('2026-11-30T07:30:00Z');

let mail: Mailbox;
let outside: Receiver;
let server: TestServer;
beforeAll(async () => {
  [mail, outside] = await Promise.all([startMailbox(), startReceiver()]);
  server = await startShop({ smtpUrl: mail.smtpUrl, privateHosts: [outside.host] });
  const rows = [
    'dahlia-1,dahlia,/dahlia,Dahlia,tuber,4.00,true,50',
    'trillium-1,trillium,/trillium,Trillium,rare,24.00,true,0',
  ];
  await importCsv(
    server,
    'catalog',
    ['variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity', ...rows].join('\n'),
  );
  await importCsv(server, 'people', 'customer_id,email,name\nc-1,wren@quillfern.example,Wren Hollis\n');
  const tagged = (tag: string) => ({ fact: 'product.tags' as const, op: 'hasAny' as const, value: [tag] });
  const tubers = make('reserve', { control: { kind: 'preorder', ships: { within: 'P9D' } } }, tagged('tuber'));
  const paused = make(
    'paused',
    { control: { kind: 'nothing' } },
    {
      all: [
        tagged('rare'),
        { fact: 'moment', op: 'between', value: { from: '2026-12-02T08:00', until: '2026-12-24T08:00' } },
      ],
    },
  );
  await server.publish(
    book(
      { ...paused, name: 'Paused for the frost' },
      { ...tubers, name: 'Tubers before they ship' },
      make('list', { control: { kind: 'waitlist', per: 'product' } }, tagged('rare')),
    ),
  );
});
afterAll(async () => {
  await server.stop();
  await Promise.all([mail.stop(), outside.stop()]);
});

const post = (path: string, body: object, headers: Readonly<Record<string, string>> = {}) =>
  server.send('POST', path, { body, headers: { 'User-Agent': 'Mozilla/5.0', ...headers }, asNobody: true });
const see = (event: 'seen' | 'pressed', times: number, ago = 0) =>
  post('/v1/events', {
    id: crypto.randomUUID(),
    events: Array.from({ length: times }, () => ({
      event,
      path: '/dahlia',
      variant: null,
      surface: 'product',
      control: 'preorder',
      rule: 'reserve',
      ago,
    })),
  });
const choose = async (channels: readonly string[]) => {
  const settings = (await server.send('GET', '/api/messages/settings')).body as MessageSettings;
  const choices = { ...settings.choices, 'insights.week': { channels, to: null } };
  expect((await server.send('PUT', '/api/messages/settings', { body: { ...settings, choices } })).status).toBe(204);
};
const letters = async () =>
  ((await server.send('GET', '/api/messages?event=insights.week')).body as { messages: Message[] }).messages;

describe('the letter on Monday', () => {
  it('goes to nobody who did not ask for it', async () => {
    server.now = WEDNESDAY - 7 * DAY_MS;
    await see('pressed', 3);
    server.now = WEDNESDAY;
    await see('seen', 40);
    await see('pressed', 5);
    const visitor = await server.token('c-1');
    const order = { order: 'N-1', lines: [{ variantId: 'dahlia-1', quantity: 2 }], visitor };
    await post('/v1/preorders', order, { Authorization: `Bearer ${await shopToken(server)}` });
    await post('/v1/waitlist-entries', { path: '/trillium', visitor });
    server.now = MONDAY;
    await tell(server.needs);
    expect(await letters()).toEqual([]);
  });

  it('says what was on, what came in, what waits and what changes, once, whichever copy writes it', async () => {
    await choose(['email']);
    server.now = MONDAY - HOUR_MS;
    await tell(server.needs);
    expect(await letters()).toEqual([]);
    const other = await startServer(server.databaseUrl);
    server.now = other.now = MONDAY;
    await Promise.all([tell(server.needs), tell(other.needs), tell(server.needs)]);
    await tell(server.needs);
    await other.stop();
    expect(await letters()).toHaveLength(1);
    const letter = await mail.letter(({ to, subject }) => to === OWNER.email && subject.startsWith('Last week'));
    expect(letter.subject).toBe('Last week at Quillfern Nursery: 2 orders and requests');
    expect(letter.text).toContain('What was on: 40 buttons seen, 5 of them pressed (3 the week before).');
    expect(letter.text).toContain('By rule: Tagged rare (1); Tubers before they ship (1)');
    expect(letter.text).toContain('What came in: 2 orders and requests (0 the week before).');
    expect(letter.text).toContain('on waitlists: 1 · units reserved: 2 · quotes to price: 0 · enquiries to answer: 0');
    expect(letter.text).toContain('What changes this week: 2 December 2026 at 08:00: Paused for the frost');
    expect(letter.text).toContain('/insights?period=week');
  });

  it('comes on Tuesday after a Monday without a server, and not in the middle of the week', async () => {
    server.now = MONDAY + 7 * DAY_MS + 25 * HOUR_MS;
    await tell(server.needs);
    expect(await letters()).toHaveLength(2);
    server.now = MONDAY + 14 * DAY_MS + 3 * DAY_MS;
    await tell(server.needs);
    expect(await letters()).toHaveLength(2);
    server.now = MONDAY;
    await choose([]);
  });
});

describe('what was counted in an hour', () => {
  interface Told {
    readonly type: string;
    readonly data: {
      readonly hour: string;
      readonly rows: readonly { readonly rule: string | null; readonly seen: number }[];
    };
  }
  const told = () => outside.all.filter(({ path }) => path === '/counts').map(({ body }) => JSON.parse(body) as Told);

  it('is told to a program that wants it, once the hour is over, and again when more of it came late', async () => {
    server.now = Date.parse('2026-12-09T10:20:00Z');
    const hook = { url: `${outside.url}/counts`, events: ['insights.hour'] };
    expect((await server.send('POST', '/api/web-hooks', { body: hook })).status).toBe(201);
    await see('seen', 4);
    await tell(server.needs);
    expect(told()).toEqual([]);
    server.now += HOUR_MS;
    await see('seen', 2, 3000);
    await see('seen', 9);
    await Promise.all([tell(server.needs), tell(server.needs)]);
    await outside.call(({ path }) => path === '/counts');
    expect(told()).toMatchObject([
      {
        type: 'insights.hour',
        data: {
          hour: '2026-12-09T10:00:00.000Z',
          rows: [{ rule: 'reserve', control: 'preorder', audience: 'Guest', seen: 6 }],
        },
      },
    ]);
    server.now += HOUR_MS;
    await see('pressed', 1, 2 * 3600);
    await tell(server.needs);
    await outside.call(({ body }) => body.includes('"pressed":1'));
    const last = new Map(told().map(({ data }) => [data.hour, data.rows]));
    expect(last.get('2026-12-09T10:00:00.000Z')).toMatchObject([{ seen: 6, pressed: 1 }]);
    await outside.call(({ body }) => body.includes('11:00:00'));
    server.now += HOUR_MS;
    const listed = async (query: string) =>
      ((await server.send('GET', `/api/messages?${query}`)).body as { messages: Message[] }).messages.filter(
        ({ event, state }) => event === 'insights.hour' && state === 'sent',
      ).length;
    await expect.poll(() => listed('event=insights.hour')).toBeGreaterThan(1);
    expect(await listed('')).toBe(0);
    const before = told().length;
    await tell(server.needs);
    expect(told()).toHaveLength(before);
  });
});
