import { SignJWT } from 'jose';
import pg from 'pg';
import { afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Preorder, PreorderGoods } from '#core/contract/preorderCalls.ts';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import { cloneDatabase } from '../support/databases.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, preparedShop, startServer, type TestServer } from '../support/testServer.ts';

const CATALOG = [
  'variant_id,product_id,path,title,tags,dates,price,stock_tracked,stock_quantity,sell_past_zero',
  'dahlia-3,dahlia,/plants/dahlia,Dahlia,tuber,ships=2027-05-20,1450,true,0,false',
  'dibber-1,dibber,/tools/dibber,Dibber,,,1600,true,40,false',
].join('\n');
const PEOPLE = 'customer_id,name,email\nc-1,Ada Finch,ada@quillfern.example\nc-2,Bram Oakes,bram@quillfern.example';
const TUBERS: Condition = { fact: 'product.tags', op: 'hasAny', value: ['tuber'] };
const RULES = book(
  make('reserve', { control: { kind: 'preorder', label: 'Reserve', cap: { units: 10, per: 'variant' } } }, TUBERS),
  make('gone', { control: { kind: 'notice', text: 'All spoken for' } }, TUBERS),
);

let template: string;
let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  template = await preparedShop(async (shop) => {
    await importCsv(shop, 'catalog', CATALOG);
    await importCsv(shop, 'people', PEOPLE);
    await shop.publish(RULES);
  });
});
beforeEach(async () => {
  mail = await startMailbox();
  server = await startServer(await cloneDatabase(template), { smtpUrl: mail.smtpUrl });
});
afterEach(async () => {
  await server.stop();
  await mail.stop();
});

interface Taken {
  ok: boolean;
  lines: {
    variantId: string;
    ok: boolean;
    code: string | null;
    reserved: number;
    preorder: { ships: string } | null;
  }[];
}
const shopToken = async (audience = 'understudy-shop') => {
  const { body } = await server.send('GET', '/api/connection');
  return new SignJWT()
    .setProtectedHeader({ alg: 'HS256' })
    .setAudience(audience)
    .setExpirationTime(Math.floor(server.now / 1000) + 60)
    .sign(new TextEncoder().encode((body as { visitorSecret: string }).visitorSecret));
};
const order = async (number: string, more: object = {}, copy = server, token?: string) => {
  const { status, body } = await copy.send('POST', '/v1/preorders', {
    body: { order: number, lines: [{ variantId: 'dahlia-3', quantity: 1 }], email: 'wren@quillfern.example', ...more },
    headers: { Authorization: `Bearer ${token ?? (await shopToken())}` },
  });
  return { status, taken: body as Taken };
};
const preorders = async (query = '') =>
  (await server.send('GET', `/api/preorders?variant=dahlia-3${query}`)).body as {
    preorders: Preorder[];
    total: number;
  };
const goods = async (query = '') =>
  ((await server.send('GET', `/api/preorders/goods${query}`)).body as { goods: PreorderGoods[] }).goods;
const control = async (visitor?: string) => {
  const body = { surface: 'product', products: [{ path: '/plants/dahlia' }], visitor };
  return ((await server.send('POST', '/v1/decisions', { body })).body as DecisionsAnswer).decisions[0]!.control;
};

describe('an order', () => {
  it('for more than can be kept is refused, and no failure', async () => {
    for (const quantity of [1_000_001, 2 ** 31, Number.MAX_SAFE_INTEGER]) {
      const { status, taken } = await order(`huge-${quantity}`, { lines: [{ variantId: 'dahlia-3', quantity }] });
      expect({ status, code: taken.lines[0]?.code }).toEqual({ status: 200, code: 'badQuantity' });
    }
  });

  it('that would reserve for nobody is a fault of the call', async () => {
    const { status, taken } = await order('N-1', { email: undefined });
    expect(status).toBe(422);
    expect(taken).toMatchObject({ errors: [{ pointer: '/email' }] });
    expect((await preorders()).total).toBe(0);
  });

  it('of 300 who come at once for the last ten is reserved for ten, on two copies of the server', async () => {
    const other = await startServer(server.databaseUrl);
    const token = await shopToken();
    const answers = await Promise.all(
      Array.from({ length: 300 }, (_, index) => order(`N-${index}`, {}, index % 2 ? server : other, token)),
    );
    await other.stop();
    expect(answers.filter(({ status }) => status !== 200)).toEqual([]);
    expect(answers.filter(({ taken }) => taken.ok)).toHaveLength(10);
    const refused = answers.filter(({ taken }) => !taken.ok);
    expect(new Set(refused.map(({ taken }) => taken.lines[0]?.code))).toEqual(new Set(['notForSale']));
    expect((await preorders()).preorders.reduce((sum, { units }) => sum + units, 0)).toBe(10);
    // At the cap the next rule speaks at once.
    expect(await control()).toMatchObject({ kind: 'notice', html: 'All spoken for' });
  });

  /** Locks the product as another transaction does, until `release` is called. */
  const lockDahlia = async () => {
    const holder = new pg.Client({ connectionString: server.databaseUrl });
    await holder.connect();
    await holder.query("BEGIN; SELECT FROM products WHERE external_id = 'dahlia' FOR UPDATE");
    const waitingSessions = async () => {
      const { rows } = await server.db.query<{ count: number }>(
        "SELECT count(*) AS count FROM pg_stat_activity WHERE datname = current_database() AND wait_event_type = 'Lock'",
      );
      return rows[0]!.count;
    };
    const release = async () => {
      await holder.query('ROLLBACK');
      await holder.end();
    };
    return { waitingSessions, release };
  };
  const ofDibbers = { lines: [{ variantId: 'dibber-1', quantity: 1 }] };

  it('of one product needs one connection however many wait, and holds up no other product', async () => {
    const { waitingSessions, release } = await lockDahlia();
    const token = await shopToken();
    const waiting = Array.from({ length: 60 }, (_, index) => order(`N-${index}`, {}, server, token));
    await expect.poll(waitingSessions).toBeGreaterThan(0);
    expect((await order('D-1', ofDibbers, server, token)).taken.ok).toBe(true);
    expect(await waitingSessions()).toBe(1);
    await release();
    const answers = await Promise.all(waiting);
    expect(answers.filter(({ taken }) => taken.ok)).toHaveLength(10);
    expect((await preorders()).total).toBe(10);
  });

  it('that is invalid spoils none that waited with it', async () => {
    const { waitingSessions, release } = await lockDahlia();
    const token = await shopToken();
    const first = order('N-0', {}, server, token);
    await expect.poll(waitingSessions).toBe(1);
    // Fewer than the cap, so that their order does not matter.
    const waiting = Array.from({ length: 6 }, (_, index) =>
      order(`N-${index + 1}`, index === 3 ? { email: undefined } : {}, server, token),
    );
    expect((await order('D-1', ofDibbers, server, token)).taken.ok).toBe(true);
    await release();
    const answers = await Promise.all([first, ...waiting]);
    expect(answers.map(({ status }) => status).filter((status) => status !== 200)).toEqual([422]);
    expect(answers.filter(({ status, taken }) => status === 200 && taken.ok)).toHaveLength(6);
    expect((await preorders()).total).toBe(6);
  });

  it('sent twice, or at once several times, is taken once and answered alike', async () => {
    const token = await shopToken();
    const answers = await Promise.all(Array.from({ length: 5 }, () => order('N-1', {}, server, token)));
    expect(new Set(answers.map(({ taken }) => JSON.stringify(taken)))).toHaveProperty('size', 1);
    expect((await preorders()).total).toBe(1);
    await mail.letter(({ subject }) => subject === 'Reserved for you: Dahlia');
  });

  it('is all of it or nothing, and reserves only what is pre-ordered', async () => {
    const mixed = [
      { variantId: 'dahlia-3', quantity: 2 },
      { variantId: 'dibber-1', quantity: 1 },
    ];
    const tooMany = [mixed[0], { variantId: 'dibber-1', quantity: 41 }];
    const refused = await order('N-1', { lines: tooMany });
    expect(refused.taken).toMatchObject({
      ok: false,
      lines: [{ code: null, reserved: 0 }, { code: 'notEnoughStock' }],
    });
    expect((await preorders()).total).toBe(0);
    const { taken } = await order('N-1', { lines: mixed, visitor: await server.token('c-1'), email: undefined });
    expect(taken).toMatchObject({ ok: true, lines: [{ reserved: 2 }, { reserved: 0, preorder: null }] });
    expect(taken.lines[0]?.preorder?.ships).toBe('It ships from 20 May 2027.');
    expect((await preorders()).preorders).toMatchObject([
      { order: 'N-1', customer: 'c-1', name: 'Ada Finch', units: 2, unitPrice: 1450_00, ships: { from: '2027-05-20' } },
    ]);
    const { standing, html } = await control(await server.token('c-1'));
    expect({ standing, html }).toEqual({ standing: { state: 'reserved', units: 2 }, html: 'You have reserved 2.' });
    expect((await control(await server.token('c-2'))).standing).toBeNull();
  });

  it('is taken only from the shop’s server', async () => {
    expect((await order('N-1', {}, server, await server.token('c-1'))).status).toBe(401);
    expect((await order('N-1', {}, server, await shopToken('picker'))).status).toBe(401);
    expect((await order('N-1', {}, server, 'x')).status).toBe(401);
    expect((await order('N-1', { lines: [] })).status).toBe(422);
  });

  it('uses up the turn that a waitlist gave', async () => {
    const byTurn = make('list', { control: { kind: 'waitlist', per: 'product' } }, {
      all: [
        { fact: 'product.id', op: 'in', value: ['dibber'] },
        { fact: 'visitor.invited', op: 'is', value: false },
      ],
    } as never);
    await server.publish(book(byTurn));
    const visitor = await server.token('c-1');
    await server.send('POST', '/v1/waitlist-entries', { body: { path: '/tools/dibber', visitor } });
    await server.send('POST', '/api/waitlists/invitations', { body: { product: 'dibber', next: 1, hours: null } });
    const lines = [{ variantId: 'dibber-1', quantity: 1 }];
    expect((await order('N-1', { lines })).taken.ok).toBe(false);
    expect((await order('N-2', { lines, visitor })).taken.ok).toBe(true);
    expect((await order('N-3', { lines, visitor })).taken.ok).toBe(false);
    const { body } = await server.send('GET', '/api/waitlists/entries?product=dibber');
    expect(body).toMatchObject({ entries: [{ state: 'bought' }] });
  });
});

describe('the owner', () => {
  it('finds what is reserved page by page, and by name', async () => {
    await server.db.query(`
      INSERT INTO preorders (variant_id, email, name, units, state, created_at, order_number, ships_from)
      SELECT v.id, 'person@quillfern.example', 'Person', 2, 'reserved', now(), 'N-' || v.id, p.ships
      FROM variants v JOIN (VALUES ('dahlia-3', date '2027-05-20'), ('dibber-1', NULL)) p (id, ships) ON p.id = v.external_id`);
    const variants = async (query: string) => (await goods(query)).map(({ variant }) => variant);
    expect(await variants('')).toEqual(['dahlia-3', 'dibber-1']);
    expect((await server.send('GET', '/api/preorders/goods?limit=1')).body).toMatchObject({
      goods: [{ variant: 'dahlia-3' }],
      total: 2,
      reserved: 4,
      more: true,
    });
    expect(await variants('?limit=1&after=1')).toEqual(['dibber-1']);
    expect(await variants('?search=DIB')).toEqual(['dibber-1']);
    expect(await variants('?product=dahlia')).toEqual(['dahlia-3']);
    expect(await variants('?variant=dibber-1')).toEqual(['dibber-1']);
    expect(await variants('?search=nothing')).toEqual([]);
  });

  it('sets stock aside first come, first served, after a look, with an exception by hand', async () => {
    for (const [number, quantity] of [
      ['N-1', 2],
      ['N-2', 3],
      ['N-3', 1],
    ] as const)
      await order(number, { lines: [{ variantId: 'dahlia-3', quantity }] });
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'dahlia-3', quantity: 4 }] });
    expect(await goods()).toMatchObject([{ reserved: 6, allocated: 0, cap: 10, stock: 4, free: 4, people: 3 }]);
    const [first, second, third] = (await preorders()).preorders;
    const allocate = async (more: object) =>
      (await server.send('POST', '/api/preorders/allocation', { body: { variant: 'dahlia-3', units: 4, ...more } }))
        .body;
    expect(await allocate({ preview: true })).toEqual({ served: [first?.id], left: 2 });
    expect((await preorders('&state=allocated')).total).toBe(0);
    expect(await allocate({ first: [third?.id] })).toEqual({ served: [third?.id, first?.id], left: 1 });
    expect(await goods()).toMatchObject([{ reserved: 3, allocated: 3, free: 1 }]);
    await mail.letter(({ subject }) => subject === 'It is here: Dahlia');
    const move = async (id: string | undefined, to: string) =>
      (await server.send('POST', '/api/preorders/states', { body: { preorders: [id], to } })).body;
    expect(await move(first?.id, 'fulfilled')).toEqual({ moved: 1 });
    expect(await move(second?.id, 'cancelled')).toEqual({ moved: 1 });
    await mail.letter(({ subject }) => subject === 'Your reservation of Dahlia is cancelled');
    expect(await move(second?.id, 'fulfilled')).toEqual({ moved: 0 });
    expect(await move(second?.id, 'reserved')).toEqual({ moved: 1 });
    // Sent reservations no longer count against the cap.
    expect((await goods())[0]?.cap).toBe(10);
    expect(await control()).toMatchObject({ kind: 'preorder', left: 6 });
  });

  it('reads a product’s own ship date in letters, lists and files, and what new customers are promised', async () => {
    await order('N-1', { locale: 'en' });
    const letter = await mail.letter(({ subject }) => subject === 'Reserved for you: Dahlia');
    expect(letter.text).toContain('20 May 2027');
    expect(await goods()).toMatchObject([
      { ships: { from: '2027-05-20', until: null }, promise: { rule: null, from: '2027-05-20', until: null } },
    ]);
    expect(String((await server.send('GET', '/api/preorders.csv?variant=dahlia-3')).body)).toContain('2027-05-20');

    const changes = { dates: { ships: '2027-06-10' } };
    const change = { goods: { ids: ['dahlia'] }, changes };
    expect((await server.send('POST', '/api/products/fact-changes', { body: change })).status).toBe(202);
    await expect.poll(async () => (await goods())[0]?.promise).toEqual({ rule: null, from: '2027-06-10', until: null });
    const dated = { control: { kind: 'preorder', ships: { from: '2027-07-01', until: '2027-07-09' } } } as const;
    await server.publish(book(make('reserve', dated, TUBERS)));
    expect(await goods()).toMatchObject([
      { ships: { from: '2027-05-20' }, promise: { rule: 'reserve', from: '2027-07-01', until: '2027-07-09' } },
    ]);
    await server.publish(book());
    expect(await goods()).toMatchObject([{ promise: null }]);
  });

  it('takes every step back to the state before it', async () => {
    await order('N-1', { lines: [{ variantId: 'dahlia-3', quantity: 2 }] });
    const [{ id } = { id: '' }] = (await preorders()).preorders;
    const move = async (to: string) =>
      (await server.send('POST', '/api/preorders/states', { body: { preorders: [id], to, notify: false } })).body;
    for (const before of ['reserved', 'allocated'])
      for (const to of ['cancelled', 'fulfilled']) {
        await move(before);
        expect(await move(to)).toEqual({ moved: 1 });
        expect(await move(before)).toEqual({ moved: 1 });
        expect((await preorders()).preorders).toMatchObject([{ state: before }]);
      }
  });

  it('moves the ship date of those who wait, in their own words, and takes the list away', async () => {
    await order('N-1', { locale: 'fr', name: 'Luce Martin' });
    const body = { variant: 'dahlia-3', from: '2027-06-01', until: null, words: 'Le printemps est tardif.' };
    expect((await server.send('PUT', '/api/preorders/dates', { body })).body).toEqual({ notified: 1 });
    const letter = await mail.letter(({ subject }) => subject === 'Une nouvelle date pour Dahlia');
    expect(letter.text).toContain('Expédition à partir du 1 juin 2027.');
    expect(letter.text).toContain('Le printemps est tardif.');
    expect((await preorders()).preorders[0]?.ships).toEqual({ from: '2027-06-01', until: null });
    const csv = await server.send('GET', '/api/preorders.csv?variant=dahlia-3');
    expect(String(csv.body).split('\n')[1]).toContain('N-1,reserved,Luce Martin,wren@quillfern.example');
    expect((await server.send('PUT', '/api/preorders/dates', { body: { ...body, variant: 'none' } })).status).toBe(404);
  });
});
