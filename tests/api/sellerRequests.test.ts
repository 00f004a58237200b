import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CALLS } from '#core/contract/calls.ts';
import { signedInFor, type SignedIn } from '../support/colleagues.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

const KINDS = ['waitlist', 'preorder', 'enquiry', 'quote'] as const;
/** Sellers, each with a product of each kind: `fern-waitlist` with the variant `fern-waitlist-1`. */
const WHOSE = { fern: 'Tidewater Ferns', bed: 'The Long Bed', shop: '' } as const;
type Whose = keyof typeof WHOSE;
const PEOPLE = { fern: 'ida@quillfern.example', bed: 'bram@quillfern.example' } as const;
const WREN = { email: 'wren@quillfern.example', name: 'Wren Hollis' };

let mail: Mailbox;
let server: TestServer;
const sellers: Record<string, string> = {};
let fern: SignedIn;

const asNobody = (path: string, body: object) => server.send('POST', path, { body, asNobody: true });
const ofSeller = (method: string, path: string, body?: unknown) =>
  server.send(method, path, { body, headers: fern.headers, asNobody: true });

beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
  const goods = Object.entries(WHOSE).flatMap(([whose, seller]) =>
    KINDS.map(
      (kind) =>
        `${whose}-${kind}-1,${whose}-${kind},The ${kind} of ${whose},/${whose}/${kind},${seller},${kind},9.00,true,5`,
    ),
  );
  // One of the ferns is spelt another way.
  const spelt = goods.map((line) =>
    line.startsWith('fern-quote') ? line.replace('Tidewater Ferns', ' tidewater FERNS') : line,
  );
  await importCsv(
    server,
    'catalog',
    ['variant_id,product_id,title,path,seller,tags,price,stock_tracked,stock_quantity', ...spelt].join('\n'),
  );
  await importCsv(server, 'people', `customer_id,email,name\nc-1,${WREN.email},${WREN.name}\n`);
  await server.publish(
    book(
      ...KINDS.map((kind) =>
        make(
          kind,
          {
            control:
              kind === 'enquiry'
                ? { kind, form: 'contact', open: 'dialog' }
                : kind === 'preorder'
                  ? { kind, ships: { within: 'P9D' } }
                  : kind === 'waitlist'
                    ? { kind, per: 'product' }
                    : { kind },
          },
          { fact: 'product.tags', op: 'hasAny', value: [kind] },
        ),
      ),
    ),
  );
  for (const whose of ['fern', 'bed'] as const) {
    const name = WHOSE[whose];
    const { body } = await server.send('POST', '/api/sellers', { body: { name, names: [name] } });
    sellers[whose] = (body as { id: string }).id;
  }
  fern = await signedInFor(server, sellers.fern!, PEOPLE.fern);
  await signedInFor(server, sellers.bed!, PEOPLE.bed);
  const visitor = await server.token('c-1');
  for (const whose of ['shop', 'bed', 'fern'] as const) {
    expect((await asNobody('/v1/waitlist-entries', { path: `/${whose}/waitlist`, visitor })).status).toBe(200);
    const order = { order: `N-${whose}`, lines: [{ variantId: `${whose}-preorder-1`, quantity: 2 }], visitor };
    const headers = { Authorization: `Bearer ${await shopToken(server)}` };
    expect((await server.send('POST', '/v1/preorders', { body: order, headers })).body).toMatchObject({ ok: true });
    const asked = { path: `/${whose}/enquiry`, answers: { question: `Of ${whose}?` }, ...WREN };
    expect((await asNobody('/v1/enquiries', asked)).status).toBe(201);
    const sheet = { lines: [{ variantId: `${whose}-quote-1`, quantity: 3 }], key: `made-up-${whose}`, ...WREN };
    expect((await asNobody('/v1/quotes', sheet)).status).toBe(201);
  }
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

interface Ids {
  readonly entry: string;
  readonly preorder: string;
  readonly enquiry: string;
  readonly quote: string;
  readonly message: string;
}
/** The ids of what was asked about somebody's goods, as the owner finds them. */
async function idsOf(whose: Whose): Promise<Ids> {
  const first = async (path: string, list: string) =>
    ((await server.send('GET', path)).body as Record<string, { id: string }[]>)[list]?.[0]?.id ?? '';
  const [message] = (
    await server.needs.db.query<{ id: number }>(
      `SELECT id FROM messages WHERE subject LIKE '%The enquiry of ${whose}%' ORDER BY id LIMIT 1`,
    )
  ).rows;
  return {
    entry: await first(`/api/waitlists/entries?product=${whose}-waitlist`, 'entries'),
    preorder: await first(`/api/preorders?variant=${whose}-preorder-1`, 'preorders'),
    enquiry: await first(`/api/enquiries?product=${whose}-enquiry`, 'enquiries'),
    quote: await first(`/api/quotes?product=${whose}-quote`, 'quotes'),
    message: String(message?.id),
  };
}

/** Each call about requests, made about somebody's goods: what it is sent. */
const CALLED: Readonly<Record<string, (whose: Whose, ids: Ids) => readonly [path: string, body?: object]>> = {
  'get /api/waitlists/entries': (whose) => [`/api/waitlists/entries?product=${whose}-waitlist`],
  'get /api/waitlists/entries.csv': (whose) => [`/api/waitlists/entries.csv?product=${whose}-waitlist`],
  'put /api/waitlists/settings': (whose) => [
    '/api/waitlists/settings',
    { product: `${whose}-waitlist`, variant: null, inviteForHours: 24 },
  ],
  'patch /api/waitlists/entries/{id}': (_whose, { entry }) => [`/api/waitlists/entries/${entry}`, { note: 'seen' }],
  'post /api/waitlists/invitations': (whose) => [
    '/api/waitlists/invitations',
    { product: `${whose}-waitlist`, variant: null, next: 1, hours: 24 },
  ],
  'get /api/preorders': (whose) => [`/api/preorders?variant=${whose}-preorder-1`],
  'get /api/preorders.csv': (whose) => [`/api/preorders.csv?variant=${whose}-preorder-1`],
  'post /api/preorders/allocation': (whose) => [
    '/api/preorders/allocation',
    { variant: `${whose}-preorder-1`, units: 2, first: [], preview: false },
  ],
  'put /api/preorders/dates': (whose) => [
    '/api/preorders/dates',
    { variant: `${whose}-preorder-1`, from: '2027-05-01', until: null, words: '' },
  ],
  'post /api/preorders/states': (_whose, { preorder }) => [
    '/api/preorders/states',
    { preorders: [preorder], to: 'fulfilled', notify: false },
  ],
  'post /api/enquiries/{id}/answers': (_whose, { enquiry }) => [`/api/enquiries/${enquiry}/answers`, { words: 'Yes.' }],
  'patch /api/enquiries/{id}': (_whose, { enquiry }) => [`/api/enquiries/${enquiry}`, { state: 'closed' }],
  'put /api/quotes/{id}/price': (whose, { quote }) => [
    `/api/quotes/${quote}/price`,
    { lines: [{ variant: `${whose}-quote-1`, units: 3, unitPrice: 800 }], delivery: null, days: 9 },
  ],
  'post /api/quotes/{id}/refusal': (_whose, { quote }) => [`/api/quotes/${quote}/refusal`, { words: 'No more.' }],
  'post /api/messages/{id}/again': (_whose, { message }) => [`/api/messages/${message}/again`],
};
/** Calls that list: sellers find only their own. */
const LISTS: readonly string[] = [
  'get /api/waitlists',
  'get /api/preorders/goods',
  'get /api/enquiries',
  'get /api/quotes',
  'get /api/messages',
];
/** Calls about the shop's design and forms, the same for all. */
const OF_THE_SHOP: readonly string[] = ['get /api/messages/look', 'get /api/forms'];

const everything = async (): Promise<object | undefined> => {
  const { rows } = await server.needs.db.query<object>(`
    SELECT (SELECT json_agg(w ORDER BY id) FROM waitlist_entries w) AS entries,
      (SELECT json_agg(o ORDER BY id) FROM preorders o) AS preorders, (SELECT json_agg(e ORDER BY id) FROM enquiries e) AS enquiries,
      (SELECT json_agg(q ORDER BY id) FROM quotes q) AS quotes, (SELECT json_agg(s) FROM waitlist_settings s) AS settings,
      (SELECT count(*) FROM messages) AS messages, (SELECT count(*) FROM thread_messages) AS written`);
  return rows[0];
};

describe('what a seller serves', () => {
  it('is each call about requests, and these tests try every one', () => {
    const calls = CALLS.filter(({ auth }) => auth === 'readRequests' || auth === 'requests');
    expect(calls.map(({ method, path }) => `${method} ${path}`).sort()).toEqual(
      [...Object.keys(CALLED), ...LISTS, ...OF_THE_SHOP].sort(),
    );
  });

  it('is what was asked about their own goods, however the catalog spells who sells them', async () => {
    for (const call of LISTS) {
      const found = JSON.stringify((await ofSeller('GET', call.split(' ')[1]!)).body);
      expect([call, found.includes('of fern'), / of (bed|shop)/.test(found)]).toEqual([call, true, false]);
    }
    // A product that is another's is found by no filter.
    for (const path of [
      '/api/enquiries?product=bed-enquiry',
      '/api/quotes?product=bed-quote',
      '/api/quotes?search=wren',
    ])
      expect(JSON.stringify((await ofSeller('GET', path)).body)).not.toMatch(/ of (bed|shop)/);
  });

  it.each(['bed', 'shop'] as const)('is nothing of others: of the %s', async (whose) => {
    const ids = await idsOf(whose);
    const before = await everything();
    for (const [call, made] of Object.entries(CALLED)) {
      const [path, body] = made(whose, ids);
      const { status, body: answered } = await ofSeller(call.split(' ')[0]!.toUpperCase(), path, body);
      const isNothing =
        status === 404 || (call === 'post /api/preorders/states' && (answered as { moved: number }).moved === 0);
      expect([call, status, isNothing || (call.includes('again') && status === 409)]).toEqual([call, status, true]);
    }
    expect(await everything()).toEqual(before);
  });

  it('is served as the shop serves it', async () => {
    const ids = await idsOf('fern');
    for (const [call, made] of Object.entries(CALLED)) {
      if (call.includes('again') || call.includes('refusal')) continue;
      const [path, body] = made('fern', ids);
      const { status } = await ofSeller(call.split(' ')[0]!.toUpperCase(), path, body);
      expect([call, Math.floor(status / 100)]).toEqual([call, 2]);
    }
    await mail.letter(({ to, subject }) => to === WREN.email && subject.includes('The enquiry of fern'));
    await mail.letter(({ to, subject }) => to === WREN.email && subject === 'Your quote: €24.00');
    expect(await idsOf('fern')).toEqual(ids);
  });

  it('is asked by the shop’s forms, of whose use they hear nothing', async () => {
    const forms = (await ofSeller('GET', '/api/forms')).body as { code: string; rules: string[] }[];
    expect(forms.map(({ code, rules }) => [code, rules])).toEqual([
      ['contact', []],
      ['quote', []],
    ]);
    expect((await server.send('GET', '/api/forms')).body).toMatchObject([{ rules: ['enquiry'] }, {}]);
  });

  it('is counted for them', async () => {
    const { body } = await ofSeller('GET', '/api/seller');
    const held = (await ofSeller('GET', '/api/messages?state=held')).body as { messages: unknown[] };
    expect((body as { waits: object }).waits).toEqual({
      invitations: 0,
      allocations: 0,
      quotes: 0,
      enquiries: 0,
      messages: 0,
      held: held.messages.length,
    });
    const asked = { path: '/fern/enquiry', answers: { question: 'Once more?' }, ...WREN };
    await asNobody('/v1/enquiries', asked);
    expect((await ofSeller('GET', '/api/seller')).body).toMatchObject({ waits: { enquiries: 1 } });
  });
});

describe('who is told of it', () => {
  const told = (subject: string) =>
    mail.letters.filter((letter) => letter.subject.includes(subject)).map(({ to }) => to);
  const terms = async (copies: boolean) => {
    const { body } = await server.send('GET', '/api/sellers');
    const { terms: before } = body as { terms: object };
    expect((await server.send('PUT', '/api/sellers/terms', { body: { ...before, copies } })).status).toBe(204);
  };
  const ask = async (whose: Whose, question: string) => {
    await asNobody('/v1/enquiries', { path: `/${whose}/enquiry`, answers: { question }, ...WREN, name: question });
    await mail.letter(({ subject }) => subject.startsWith(`${question} asks about`));
  };

  it('is whoever decides for the seller, and the shop in copy while it wants that', async () => {
    await ask('fern', 'Robin');
    await ask('shop', 'Linnet');
    expect(told('Robin asks').sort()).toEqual([PEOPLE.fern, 'olive@quillfern.example']);
    // The shop's own requests are not sent to sellers.
    expect(told('Linnet asks')).toEqual(['olive@quillfern.example']);
    await terms(false);
    await ask('fern', 'Siskin');
    await ask('bed', 'Dunnock');
    expect(told('Siskin asks')).toEqual([PEOPLE.fern]);
    expect(told('Dunnock asks')).toEqual([PEOPLE.bed]);
    // A link leads the seller to the same place.
    const letter = await mail.letter(({ subject }) => subject.startsWith('Siskin'));
    expect(letter).toMatchObject({ replyTo: WREN.email });
    expect(letter.html).toContain('http://understudy.test/enquiries');
  });

  it('is the shop, where a seller has nobody who signs in', async () => {
    await server.needs.db.query('DELETE FROM staff WHERE email = $1', [PEOPLE.bed]);
    await ask('bed', 'Wheatear');
    expect(told('Wheatear asks')).toEqual(['olive@quillfern.example']);
  });
});
