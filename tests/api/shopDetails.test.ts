import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ShopDetails } from '#core/contract/shopDetails.ts';
import type { Product, Vocabulary } from '#core/contract/shopCalls.ts';
import { fullSentence } from '#core/rulebook/sentence.ts';
import { sweep } from '../../server/sweep.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, everything, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

const DAY = 86_400_000;
const DEFAULTS: ShopDetails = {
  address: null,
  signInAt: null,
  roles: {},
  dates: {},
  paymentMethods: [],
  tracking: 'whereCounted',
  outageMinutes: 5,
  keep: { messages: null, requests: null, record: null, counts: null },
};

let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
  await importCsv(server, 'people', 'customer_id,name,email,roles\nc-1,Ada Finch,ada@quillfern.example,member');
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const put = (changed: Partial<ShopDetails>) =>
  server.send('PUT', '/api/shop/details', { body: { ...DEFAULTS, ...changed } });
const vocabulary = async () => (await server.send('GET', '/api/vocabulary')).body as Vocabulary;
const products = async () => ((await server.send('GET', '/api/products')).body as { products: Product[] }).products;

describe('the details of a shop', () => {
  it('are ours until they are set', async () => {
    expect((await server.send('GET', '/api/shop/details')).body).toEqual(DEFAULTS);
  });

  it('name roles, those too that nobody has yet, and no two alike', async () => {
    const roles = { member: 'Circle member', press: 'Press' };
    expect((await put({ roles })).status).toBe(204);
    expect((await vocabulary()).roles).toEqual([
      { name: 'member', count: 1, title: 'Circle member' },
      { name: 'press', count: 0, title: 'Press' },
    ]);
    expect((await put({ roles: { member: 'Circle', press: 'circle' } })).status).toBe(422);
    expect((await put({ roles: { member: 'Press', press: 'Journalist' } })).status).toBe(422);
  });

  it('name dates and payment methods', async () => {
    await put({ dates: { frost: 'last frost' }, paymentMethods: [{ code: 'invoice', name: 'On account' }] });
    const { dates, paymentMethods } = await vocabulary();
    expect(dates).toContainEqual({ name: 'frost', count: 0, title: 'last frost' });
    expect(paymentMethods).toEqual([{ code: 'invoice', name: 'On account' }]);
  });

  it('are what sentences say', () => {
    const rule = make(
      'early',
      { control: { kind: 'nothing' } },
      {
        all: [
          everything,
          { fact: 'visitor.roles', op: 'hasAny', value: ['member'] },
          { fact: 'moment', op: 'around', value: { date: 'frost', until: 'P7D' } },
        ],
      },
    );
    const names = { role: () => '“Circle member”', date: () => 'last frost' };
    expect(fullSentence(rule, names)).toContain('for customers with the role “Circle member”');
    expect(fullSentence(rule, names)).toContain('7 days after its last frost');
    expect(fullSentence(rule)).toContain('its frost date');
  });

  it('say whether stock is tracked of what is new, and change nothing of what is there', async () => {
    const bring = (id: string, quantity: string) =>
      importCsv(
        server,
        'catalog',
        `variant_id,product_id,path,title,price,stock_quantity\n${id},${id},/${id},Fern,5.00,${quantity}`,
      );
    const bringWithout = (id: string) =>
      importCsv(server, 'catalog', `variant_id,product_id,path,title,price\n${id},${id},/${id},Fern,5.00`);
    await bring('counted', '3');
    await bringWithout('uncounted');
    await bring('blank', '');
    await bring('emptied', '3');
    await bring('emptied', '');
    await put({ tracking: 'always' });
    await bringWithout('always');
    await bring('alwaysBlank', '');
    await bringWithout('uncounted');
    await put({ tracking: 'never' });
    await bring('never', '3');
    await bring('counted', '4');
    const tracked = (await products()).map(({ id, variants }) => [id, variants[0]?.stock.tracked]);
    expect(Object.fromEntries(tracked)).toEqual({
      ...{ counted: true, uncounted: false, blank: false, emptied: false },
      ...{ always: true, alwaysBlank: true, never: false },
    });
  });

  it('put the address below every letter, in both of its forms', async () => {
    await put({ address: 'The Old Frame Yard\n1000 Lisbon' });
    await server.publish(book(make('list', { control: { kind: 'waitlist', per: 'product' } })));
    const visitor = await server.token('c-1');
    await server.send('POST', '/v1/waitlist-entries', { body: { path: '/counted', visitor } });
    const letter = await mail.letter(({ to }) => to === 'ada@quillfern.example');
    expect(letter.html).toContain('The Old Frame Yard<br>1000 Lisbon');
    expect(letter.text.trimEnd()).toMatch(/The Old Frame Yard\n1000 Lisbon$/);
  });

  it('forget what is over after as many days as they say, and nothing that is not', async () => {
    const kept = async () => {
      const { rows } = await server.db.query<Record<string, number>>(
        `SELECT (SELECT count(*) FROM messages) AS messages, (SELECT count(*) FROM audit) AS record,
           (SELECT count(*) FROM waitlist_entries) AS waiting`,
      );
      return rows[0]!;
    };
    await put({ keep: { messages: 30, requests: 30, record: 60, counts: null } });
    // One that can be ordered by for a year to come, and one that was ordered by.
    await server.db.query(
      `INSERT INTO quotes (answers, email, name, state, valid_until, order_number, created_at, changed_at)
       SELECT '[]', 'ada@quillfern.example', 'Ada', 'accepted', $1::timestamptz + interval '1 year', number, $1, $1
       FROM unnest(ARRAY[NULL, 'A-1']) AS number`,
      [new Date(server.now)],
    );
    const before = await kept();
    expect(Math.min(...Object.values(before))).toBeGreaterThan(0);
    server.now += 29 * DAY;
    await sweep(server.needs);
    expect(await kept()).toEqual(before);
    server.now += 2 * DAY;
    await sweep(server.needs);
    expect(await kept()).toEqual({ ...before, messages: 0 });
    // People who left are removed.
    const [entry] = (
      (await server.send('GET', '/api/waitlists/entries?product=counted')).body as {
        entries: { id: string }[];
      }
    ).entries;
    await server.send('PATCH', `/api/waitlists/entries/${entry!.id}`, { body: { state: 'removed' } });
    server.now += 31 * DAY;
    await sweep(server.needs);
    const quotes = 'SELECT email FROM quotes ORDER BY order_number NULLS FIRST';
    expect((await server.db.query<{ email: string }>(quotes)).rows.map(({ email }) => email)).toEqual([
      'ada@quillfern.example',
      'erased@nobody.invalid',
    ]);
    const after = await kept();
    expect(after.waiting).toBe(0);
    expect(after.record).toBeLessThan(before.record!);
  });
});
