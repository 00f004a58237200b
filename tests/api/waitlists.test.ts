import { afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { Waitlist, WaitlistEntry } from '#core/contract/waitlistCalls.ts';
import { expireInvitations } from '../../server/waitlists/waitlistService.ts';
import { cloneDatabase } from '../support/databases.ts';
import { linkIn, startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, preparedShop, startServer, type TestServer } from '../support/testServer.ts';

const CATALOG = [
  'variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity',
  'fern-1,fern,/plants/fern,Shield fern,rare,1850,true,0',
  'moss-s,moss,/plants/moss,Moss,rare-sizes,500,true,0',
  'moss-l,moss,/plants/moss,Moss,rare-sizes,900,true,3',
  'pot-1,pot,/plants/pot,Pot,,400,true,9',
].join('\n');
const CROWD = Array.from({ length: 40 }, (_, index) => `c-${index}`);
const PEOPLE = ['customer_id,name,email', ...CROWD.map((id) => `${id},Name ${id},${id}@quillfern.example`)].join('\n');
const uninvited = (tag: string) => ({
  all: [
    { fact: 'product.tags', op: 'hasAny', value: [tag] },
    { fact: 'visitor.invited', op: 'is', value: false },
  ],
});
const RULES = book(
  make('list', { control: { kind: 'waitlist', per: 'product' } }, uninvited('rare') as never),
  make(
    'sizes',
    { control: { kind: 'waitlist', per: 'variant', account: 'required' } },
    uninvited('rare-sizes') as never,
  ),
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

const FERN = { path: '/plants/fern' };
const join = async (body: object) => server.send('POST', '/v1/waitlist-entries', { body, asNobody: true });
const joinAs = async (customer: string, goods: object = FERN) =>
  join({ ...goods, visitor: await server.token(customer) });
const entries = async (query = 'product=fern') =>
  (await server.send('GET', `/api/waitlists/entries?${query}`)).body as { entries: WaitlistEntry[]; total: number };
const invite = (body: object) =>
  server.send('POST', '/api/waitlists/invitations', { body: { product: 'fern', hours: 48, ...body } });
const control = async (asker: object, path = '/plants/fern') => {
  const body = { surface: 'product', products: [{ path }], ...asker };
  const answer = (await server.send('POST', '/v1/decisions', { body, asNobody: true })).body as DecisionsAnswer;
  return answer.decisions[0]!.control;
};
const guard = async (asker: object) => {
  const body = { via: 'cart', lines: [{ variantId: 'fern-1', quantity: 1 }], ...asker };
  const { body: verdict } = await server.send('POST', '/v1/guard', { body, asNobody: true });
  return (verdict as { lines: { code: string | null }[] }).lines[0]?.code;
};
/** Takes an order, as the shop's own server does. */
const buy = async (asker: object, order: string) => {
  const body = { order, email: 'wren@quillfern.example', ...asker };
  const headers = { Authorization: `Bearer ${await shopToken(server)}` };
  return (await server.send('POST', '/v1/preorders', { body, asNobody: true, headers })).body;
};
const press = (link: string) => {
  const { pathname, search } = new URL(link);
  return server.send('POST', pathname + search, { asNobody: true });
};

describe('a list that asks for an account', () => {
  it('says where to sign in: as its rule does, or else as the shop’s details do', async () => {
    const at = async () => {
      const shown = await control({ visitor: undefined }, '/plants/fern');
      return 'signInAt' in shown ? shown.signInAt : undefined;
    };
    const list = (more: object) => ({ control: { kind: 'waitlist', per: 'product', account: 'required', ...more } });
    const publish = (more: object) => server.publish(book(make('list', list(more) as never)));
    await publish({});
    expect(await at()).toBeNull();
    const details = (await server.send('GET', '/api/shop/details')).body as object;
    const body = { ...details, signInAt: '/sign-in?back={product.path}' };
    expect((await server.send('PUT', '/api/shop/details', { body })).status).toBe(204);
    expect(await at()).toBe('/sign-in?back=/plants/fern');
    await publish({ signInAt: '/join' });
    expect(await at()).toBe('/join');
    const wrong = { ...details, signInAt: 'javascript:alert(1)' };
    expect((await server.send('PUT', '/api/shop/details', { body: wrong })).status).toBe(422);
  });
});

describe('a waitlist', () => {
  it('is joined by who is signed in, once, and everyone who joins at once has a place of their own', async () => {
    const first = await joinAs('c-0');
    expect(first).toMatchObject({ status: 200, body: { state: 'waiting', position: 1, length: 1 } });
    expect(await joinAs('c-0')).toMatchObject({ status: 200, body: { position: 1, length: 1 } });
    // Twice each, at once, over two copies of the server; an address may call some times a minute.
    const other = await startServer(server.databaseUrl);
    const crowd = CROWD.slice(1, 9);
    const tokens = await Promise.all(crowd.map((id) => server.token(id)));
    const answers = await Promise.all(
      tokens.flatMap((visitor) =>
        [server, other].map((copy) => copy.send('POST', '/v1/waitlist-entries', { body: { ...FERN, visitor } })),
      ),
    );
    await other.stop();
    expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 200));
    const list = await entries();
    expect(list.entries.map(({ position }) => position)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(new Set(list.entries.map(({ customer }) => customer)).size).toBe(9);
    await mail.letter(({ to, subject }) => to === 'c-8@quillfern.example' && subject.includes('Shield fern'));
  });

  it('tells those who are on it, and asks nobody to join twice', async () => {
    await joinAs('c-0');
    const { standing, html } = await control({ visitor: await server.token('c-0') });
    expect(standing).toMatchObject({ state: 'waiting', position: 1 });
    expect(html).toContain('number 1');
    expect((await control({ visitor: await server.token('c-1') })).standing).toBeNull();
    const { leave } = standing as { leave: string };
    // Following the link alone does nothing: mail programs follow links.
    const { pathname, search } = new URL(leave);
    expect((await server.send('GET', pathname + search)).status).toBe(200);
    expect((await entries('product=fern&state=waiting')).total).toBe(1);
    expect((await press(leave)).status).toBe(200);
    expect((await entries('product=fern&state=waiting')).total).toBe(0);
    expect((await control({ visitor: await server.token('c-0') })).standing).toBeNull();
  });

  it('is joined without an account only by the link that is sent, and tells nothing about others', async () => {
    await joinAs('c-0');
    const joined = await join({ ...FERN, email: 'Wren@Quillfern.example ', name: 'Wren', locale: 'fr' });
    expect(joined).toMatchObject({ status: 202, body: { state: 'confirm' } });
    expect((await entries()).total).toBe(1);
    const letter = await mail.letter(({ to }) => to === 'wren@quillfern.example');
    expect(letter.subject).toBe('Merci de confirmer : la liste d’attente pour Shield fern');
    const link = linkIn(letter, 'Oui, inscrivez-moi');
    expect((await press(link)).body).toContain('rang 2');
    expect((await press(link)).body).toContain('rang 2');
    expect((await entries()).entries.map(({ email }) => email)).toEqual([
      'c-0@quillfern.example',
      'wren@quillfern.example',
    ]);
    // Whether or not an address is on the list, the answer is the same.
    const again = await join({ ...FERN, email: 'wren@quillfern.example', locale: 'fr' });
    expect(again.body).toEqual(joined.body);
    const tampered = new URL(link);
    tampered.searchParams.set('token', `${tampered.searchParams.get('token') ?? ''}x`);
    expect((await press(tampered.href)).status).toBe(410);
    server.now += 4 * 86_400_000;
    expect((await press(link)).status).toBe(410);
  });

  it('of a variant is its own, and one that asks for an account takes nobody without', async () => {
    const small = { path: '/plants/moss', variantId: 'moss-s' };
    expect((await join({ ...small, email: 'wren@quillfern.example' })).status).toBe(403);
    expect((await joinAs('c-0', small)).status).toBe(200);
    expect((await entries('product=moss&variant=moss-s')).total).toBe(1);
    expect((await entries('product=moss&variant=moss-l')).total).toBe(0);
    expect((await entries('product=moss')).total).toBe(0);
    await server.publish(book());
    expect((await joinAs('c-1', small)).status).toBe(409);
    expect((await join({ path: '/no/such', email: 'wren@quillfern.example' })).status).toBe(404);
    expect((await join({ ...FERN, email: 'not an address' })).status).toBe(422);
  });
});

describe('an invitation', () => {
  it('lets just that person buy, for as long as it lasts, then lapses to the next', async () => {
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'fern-1', quantity: 5 }] });
    for (const id of ['c-0', 'c-1', 'c-2']) await joinAs(id);
    expect((await invite({ next: 1 })).body).toEqual({ invited: 1 });
    const invited = { visitor: await server.token('c-0') };
    const waiting = { visitor: await server.token('c-1') };
    expect((await control(invited)).kind).toBe('buy');
    expect((await control(waiting)).kind).toBe('waitlist');
    expect([await guard(invited), await guard(waiting), await guard({})]).toEqual([null, 'notForSale', 'notForSale']);
    expect((await entries()).entries.map(({ state, position }) => [state, position])).toEqual([
      ['invited', null],
      ['waiting', 1],
      ['waiting', 2],
    ]);
    // By the link of the message alone, without signing in.
    const letter = await mail.letter(({ subject }) => subject === 'It is your turn: Shield fern');
    const token = new URL(linkIn(letter, 'Buy it now')).searchParams.get('invitation');
    expect((await control({ invitations: [token] })).kind).toBe('buy');
    expect(await guard({ invitations: [token] })).toBeNull();
    expect(await guard({ invitations: ['made up', ''] })).toBe('notForSale');

    // A turn is for one unit, when nothing else is said.
    expect(await guard({ ...invited, lines: [{ variantId: 'fern-1', quantity: 2 }] })).toBe('moreThanInvited');

    server.now += 48 * 3_600_000;
    expect(await guard({ invitations: [token] })).toBe('notForSale');
    // Two copies at once let it lapse once.
    await Promise.all([expireInvitations(server.needs), expireInvitations(server.needs)]);
    expect((await entries()).entries.map(({ state }) => state)).toEqual(['lapsed', 'invited', 'waiting']);
    expect(await guard({ visitor: await server.token('c-1') })).toBeNull();
    await mail.letter(
      ({ to, subject }) => to === 'c-0@quillfern.example' && subject.startsWith('Your turn has passed'),
    );
  });

  it('to a list that asks for an account is that account’s alone, whoever has its link', async () => {
    const small = { path: '/plants/moss', variantId: 'moss-s' };
    await joinAs('c-0', small);
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'moss-s', quantity: 5 }] });
    expect((await invite({ product: 'moss', variant: 'moss-s', next: 1 })).body).toEqual({ invited: 1 });
    const letter = await mail.letter(({ subject }) => subject.startsWith('It is your turn'));
    const invitations = [new URL(linkIn(letter, 'Buy it now')).searchParams.get('invitation')];
    const lines = [{ variantId: 'moss-s', quantity: 1 }];
    const stranger = { invitations, lines };
    const other = { ...stranger, visitor: await server.token('c-1') };
    const invited = { ...stranger, visitor: await server.token('c-0') };
    expect([await guard(stranger), await guard(other), await guard(invited)]).toEqual([
      'notForSale',
      'notForSale',
      null,
    ]);
    // An order of something else by somebody who has the link does not use the turn up.
    const order = await buy({ ...other, lines: [{ variantId: 'pot-1', quantity: 1 }] }, 'o-1');
    expect(order).toMatchObject({ ok: true });
    expect(await guard(invited)).toBeNull();
    expect(await buy(invited, 'o-2')).toMatchObject({ ok: true });
    expect(await guard(invited)).toBe('notForSale');
  });

  it('for several units is used up unit by unit, and its units are promised until then', async () => {
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'fern-1', quantity: 5 }] });
    for (const id of ['c-0', 'c-1', 'c-2']) await joinAs(id);
    const list = async () =>
      ((await server.send('GET', '/api/waitlists?product=fern')).body as { lists: Waitlist[] }).lists[0];
    const waits = async () =>
      ((await server.send('GET', '/api/attention')).body as { invitations: number }).invitations;
    expect(await waits()).toBe(3);
    expect((await invite({ next: 1, units: 4 })).body).toEqual({ invited: 1 });
    // Four of five units are promised to one person.
    expect(await list()).toMatchObject({ invited: 1, promised: 4, stock: 5 });
    expect(await waits()).toBe(1);
    const invited = { visitor: await server.token('c-0') };
    const units = (quantity: number) => ({ ...invited, lines: [{ variantId: 'fern-1', quantity }] });
    expect(await buy(units(1), 'o-1')).toMatchObject({ ok: true });
    expect(await list()).toMatchObject({ invited: 1, promised: 3 });
    expect(await guard(units(4))).toBe('moreThanInvited');
    // The same order again uses nothing up.
    await buy(units(1), 'o-1');
    expect(await buy(units(3), 'o-2')).toMatchObject({ ok: true });
    expect(await list()).toMatchObject({ invited: 0, promised: 0, bought: 1 });
    expect(await guard(units(1))).toBe('notForSale');
  });

  it('goes to chosen people, can be given up, and is sent by itself as stock lands', async () => {
    for (const id of ['c-0', 'c-1', 'c-2', 'c-3']) await joinAs(id);
    const [, second] = (await entries()).entries;
    expect((await invite({ entries: [second?.id], hours: null })).body).toEqual({ invited: 1 });
    const letter = await mail.letter(
      ({ to, subject }) => to === 'c-1@quillfern.example' && subject.startsWith('It is'),
    );
    expect(letter.text).toContain('kept for you until you buy it, or leave the list.');
    await press(linkIn(letter, 'Let the next person have it'));
    expect((await entries()).entries.map(({ state }) => state)).toEqual(['invited', 'left', 'waiting', 'waiting']);
    const settings = { product: 'fern', variant: null, inviteForHours: 24 };
    expect((await server.send('PUT', '/api/waitlists/settings', { body: settings })).status).toBe(204);
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'fern-1', quantity: 2 }] });
    expect((await entries()).entries.map(({ state }) => state)).toEqual(['invited', 'left', 'invited', 'waiting']);
    // Reporting the same stock again invites nobody else.
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'fern-1', quantity: 2 }] });
    expect((await entries('product=fern&state=invited')).total).toBe(2);
    const { lists } = (await server.send('GET', '/api/waitlists')).body as { lists: Waitlist[] };
    const [list] = lists;
    expect(list).toMatchObject({
      title: 'Shield fern',
      waiting: 1,
      invited: 2,
      lapsed: 0,
      stock: 2,
      inviteForHours: 24,
    });
  });
});

describe('the lists', () => {
  const listed = async (query: string) =>
    (await server.send('GET', `/api/waitlists?${query}`)).body as {
      lists: Waitlist[];
      total: number;
      waiting: number;
      more: boolean;
    };

  it('are paged and searched, and counted over all pages', async () => {
    await server.db.query(`
      INSERT INTO waitlist_entries (product_id, email, name, state, joined_at)
      SELECT p.id, 'person-' || n || '@quillfern.example', 'Person ' || n, (ARRAY['waiting', 'invited', 'bought'])[n], now()
      FROM products p, generate_series(1, 3) n WHERE n = 1 OR p.external_id = 'fern'`);
    const all = await listed('');
    expect(all.total).toBeGreaterThan(1);
    const first = await listed('limit=1');
    expect([first.lists, first.total, first.waiting, first.more]).toEqual([
      all.lists.slice(0, 1),
      all.total,
      all.lists.reduce((sum, { waiting }) => sum + waiting, 0),
      true,
    ]);
    expect((await listed('limit=1&after=1')).lists).toEqual(all.lists.slice(1, 2));
    const moss = await listed('search=mOSS');
    expect(moss.lists.map(({ product }) => product)).toEqual(['moss']);
    expect((await listed('product=fern')).lists.map(({ product }) => product)).toEqual(['fern']);
    expect(await listed('search=nothing+of+the+kind')).toEqual({ lists: [], total: 0, waiting: 0, more: false });
    for (const state of ['invited', 'bought', 'lapsed'] as const)
      expect((await listed(`with=${state}`)).lists).toEqual(all.lists.filter((list) => list[state] > 0));
  });
});

describe('at the same moment', () => {
  it('turns lapse and are given up, and nobody waits for the other for ever', async () => {
    for (const id of CROWD.slice(0, 24)) await joinAs(id);
    expect((await invite({ next: 16 })).body).toEqual({ invited: 16 });
    const letters = await Promise.all(
      CROWD.slice(0, 16).map((id) =>
        mail.letter(({ to, subject }) => to === `${id}@quillfern.example` && subject.startsWith('It is your turn')),
      ),
    );
    server.now += 48 * 3_600_000;
    const given = letters.slice(8).map((letter) => press(linkIn(letter, 'Let the next person have it')));
    const all = await Promise.all([expireInvitations(server.needs), expireInvitations(server.needs), ...given]);
    expect(all).toHaveLength(10);
    const states = (await entries()).entries.map(({ state }) => state);
    expect(states.slice(0, 16).every((state) => state === 'lapsed' || state === 'left')).toBe(true);
    expect(states.slice(16)).toEqual(Array<string>(8).fill('invited'));
  });

  it('the same stock is told by many, and invites no more people than it has units', async () => {
    for (const id of CROWD.slice(0, 12)) await joinAs(id);
    await server.send('PUT', '/api/waitlists/settings', {
      body: { product: 'fern', variant: null, inviteForHours: 24 },
    });
    const landStock = () => server.send('PUT', '/api/stock', { body: [{ variantId: 'fern-1', quantity: 3 }] });
    await Promise.all(Array.from({ length: 8 }, landStock));
    expect((await entries('product=fern&state=invited')).total).toBe(3);
  });
});

describe('the owner', () => {
  it('notes, takes off and puts back in place, finds, and takes the list away as a file', async () => {
    for (const id of ['c-0', 'c-1', 'c-2']) await joinAs(id);
    const patch = (id: string | undefined, body: object) =>
      server.send('PATCH', `/api/waitlists/entries/${id ?? ''}`, { body });
    const [first, second] = (await entries()).entries;
    expect((await patch(first?.id, { note: '=HYPERLINK("x")' })).status).toBe(204);
    expect((await patch(second?.id, { state: 'removed' })).status).toBe(204);
    expect((await patch(second?.id, { state: 'removed' })).status).toBe(409);
    expect((await entries('product=fern&state=waiting')).entries.map(({ position }) => position)).toEqual([1, 2]);
    expect((await patch(second?.id, { state: 'waiting' })).status).toBe(204);
    expect((await entries('product=fern&search=name c-1')).entries).toMatchObject([{ position: 2, customer: 'c-1' }]);
    const { body, headers } = await server.send('GET', '/api/waitlists/entries.csv?product=fern');
    expect(headers.get('Content-Type')).toContain('text/csv');
    expect(String(body).split('\n')[1]).toContain('1,waiting,Name c-0,c-0@quillfern.example,c-0');
    expect(body).toContain("'=HYPERLINK");
    expect((await server.send('GET', '/api/waitlists/entries?product=nothing')).status).toBe(404);
    expect((await server.send('GET', '/api/waitlists/entries.csv')).status).toBe(422);
    expect((await invite({ entries: ['nobody'] })).status).toBe(422);
  });
});

describe('a message', () => {
  it('is tried again when the mail server refuses it, under the same id, and arrives once', async () => {
    mail.refuse(1);
    await join({ ...FERN, email: 'wren@quillfern.example' });
    const letter = await mail.letter(({ to }) => to === 'wren@quillfern.example');
    expect(letter.messageId).toMatch(/^<message-\d+@understudy\.test>$/);
    expect(mail.letters).toHaveLength(1);
  });
});
