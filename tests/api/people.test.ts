import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PersonData } from '#core/contract/peopleCalls.ts';
import type { Person } from '#core/contract/shopCalls.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, everything, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
  await importCsv(
    server,
    'catalog',
    'variant_id,product_id,path,title,price\nfern-1,fern,/plants/fern,Shield fern,5.00',
  );
  await importCsv(
    server,
    'people',
    'customer_id,name,email,roles\nc-1,Ada Finch,ada@quillfern.example,trade\nc-2,Bram Oakes,bram@quillfern.example,',
  );
  await server.publish(
    book(
      make(
        'list',
        { control: { kind: 'waitlist', per: 'product' } },
        { all: [everything, { fact: 'visitor.roles', op: 'hasNone', value: ['member'] }] },
      ),
      make('members', { control: { kind: 'quote' } }),
    ),
  );
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const roles = (id: string, body: object) => server.send('PUT', `/api/people/${id}/roles`, { body });
const person = async (id: string) =>
  ((await server.send('GET', `/api/people?search=${id}`)).body as { people: Person[] }).people[0];
const kept = async (whose: object) =>
  (await server.send('POST', '/api/people/export', { body: whose })).body as PersonData;

describe('roles', () => {
  it('are granted and ended by a call, with dates, and count at once', async () => {
    const control = async () => {
      const body = { surface: 'product', products: [{ path: '/plants/fern' }], visitor: await server.token('c-1') };
      const answer = (await server.send('POST', '/v1/decisions', { body })).body;
      return (answer as { decisions: { control: { kind: string } }[] }).decisions[0]?.control.kind;
    };
    expect(await control()).toBe('waitlist');
    const until = new Date(server.now + 86_400_000).toISOString();
    expect((await roles('c-1', { grant: [{ role: 'member', until }] })).status).toBe(204);
    // Sent twice, it is granted once.
    await roles('c-1', { grant: [{ role: 'member', until }] });
    expect((await person('c-1'))?.roles).toHaveLength(2);
    expect(await control()).toBe('quote');
    expect((await roles('c-1', { end: [{ role: 'member' }] })).status).toBe(204);
    expect(await control()).toBe('waitlist');
    expect((await roles('nobody', { grant: [{ role: 'member' }] })).status).toBe(404);
    expect((await roles('c-1', { grant: [{ role: 'member', from: until, until }] })).status).toBe(422);
  });
});

describe('the timeline of a customer', () => {
  it('has their requests, orders, letters and roles, the newest first, page by page, and nobody else’s', async () => {
    const { body } = await server.send('POST', '/api/people', {
      body: { id: 'c-9', name: 'Cleo Marsh', email: 'cleo@quillfern.example' },
    });
    expect(body).toEqual({ id: 'c-9' });
    const visitor = await server.token('c-9');
    await server.send('POST', '/v1/waitlist-entries', { body: { path: '/plants/fern', visitor } });
    await mail.letter(({ to }) => to === 'cleo@quillfern.example');
    const day = (days: number) => new Date(server.now + days * 86_400_000).toISOString();
    await roles('c-9', { grant: [{ role: 'member', from: day(-9), until: day(-2) }] });
    await roles('c-9', { grant: [{ role: 'staff', from: day(5) }] });
    await server.db.query(
      `INSERT INTO preorders (variant_id, customer_id, units, order_number, state, changed_at)
       SELECT v.id, c.id, 2, 'N-7', 'allocated', $1 FROM variants v, customers c WHERE c.external_id = 'c-9'`,
      [day(1)],
    );
    const read = async (query = '') => (await server.send('GET', `/api/people/c-9/timeline${query}`)).body;
    const all = (await read()) as { entries: { kind: string }[]; total: number };
    expect(all).toMatchObject({
      entries: [
        { kind: 'role', title: 'staff', state: 'coming' },
        { kind: 'preorder', state: 'allocated', title: 'Shield fern', variant: 'fern-1', units: 2, order: 'N-7' },
        { kind: 'message', title: 'You are on the waitlist for Shield fern' },
        { kind: 'waitlist', state: 'waiting', title: 'Shield fern', product: 'fern', variant: null },
        { kind: 'role', title: 'member', state: 'over' },
      ],
      total: 5,
      more: false,
    });
    expect(await read('?after=1&limit=2')).toEqual({ entries: all.entries.slice(1, 3), total: 5, more: true });
    expect((await server.send('GET', '/api/people/nobody/timeline')).status).toBe(404);
    await server.send('POST', '/api/people/erasure', { body: { customer: 'c-9' } });
    expect(await read()).toMatchObject({ entries: [], total: 0 });
  });
});

describe('what is kept of a person', () => {
  it('is told and forgotten on request, theirs alone; what was ordered stays without their name', async () => {
    for (const id of ['c-1', 'c-2'])
      await server.send('POST', '/v1/waitlist-entries', {
        body: { path: '/plants/fern', visitor: await server.token(id) },
      });
    await server.db.query(
      `INSERT INTO preorders (variant_id, customer_id, units, order_number) SELECT v.id, c.id, 2, 'N-1' FROM variants v, customers c WHERE c.external_id = 'c-1'`,
    );
    await mail.letter(({ to }) => to === 'ada@quillfern.example');
    expect(await kept({ customer: 'c-1' })).toMatchObject({
      customers: [{ id: 'c-1', name: 'Ada Finch' }],
      waitlists: [{ product: 'fern', state: 'waiting' }],
      preorders: [{ variant: 'fern-1', units: 2 }],
      messages: [{ event: 'waitlist.joined' }, { event: 'waitlist.new', recipient: 'olive@quillfern.example' }],
    });
    // All have gone out, so that nothing changes by itself from here on.
    const waiting = "SELECT FROM messages WHERE state <> 'sent'";
    await expect.poll(async () => (await server.db.query(waiting)).rowCount).toBe(0);
    const others = await kept({ email: 'bram@quillfern.example' });
    expect((await server.send('POST', '/api/people/erasure', { body: { customer: 'c-1' } })).status).toBe(200);
    expect(await kept({ customer: 'c-1' })).toMatchObject({
      customers: [{ name: null, email: null }],
      roles: [],
      waitlists: [],
      preorders: [],
      messages: [],
    });
    expect(await kept({ email: 'ada@quillfern.example' })).toMatchObject({
      customers: [],
      messages: [],
      waitlists: [],
    });
    const { rows } = await server.db.query("SELECT units, name, customer_id FROM preorders WHERE order_number = 'N-1'");
    expect(rows).toEqual([{ units: 2, name: null, customer_id: null }]);
    expect(await kept({ email: 'bram@quillfern.example' })).toEqual(others);
    expect((await server.send('POST', '/api/people/erasure', { body: {} })).status).toBe(422);
  });
});
