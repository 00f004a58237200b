import { afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Quote } from '#core/contract/askingCalls.ts';
import { expireQuotes } from '../../server/quotes/quoteService.ts';
import { signedInFor, type SignedIn } from '../support/colleagues.ts';
import { cloneDatabase } from '../support/databases.ts';
import { linkIn, startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, preparedShop, startServer, type TestServer } from '../support/testServer.ts';

const WREN = { email: 'wren@quillfern.example', name: 'Wren Hollis' };
const DAY_MS = 86_400_000;

let template: string;
let mail: Mailbox;
let server: TestServer;
let ids: Record<'fern' | 'bed', string>;
let fern: SignedIn;
let bed: SignedIn;

beforeAll(async () => {
  template = await preparedShop(async (shop) => {
    await importCsv(
      shop,
      'catalog',
      [
        'variant_id,product_id,title,path,seller,tags,price,stock_tracked,stock_quantity',
        'hart-1,hart,Hart’s tongue,/hart,Tidewater Ferns,hundred,9.00,true,900',
        'lady-1,lady,Lady fern,/lady,tidewater ferns,hundred,11.00,true,900',
        'aster-1,aster,Aster,/aster,The Long Bed,hundred,6.00,true,900',
        'yew-1,yew,Yew,/yew,,hundred,5.00,true,900',
        'spade-1,spade,Border spade,/spade,,,39.00,true,5',
      ].join('\n'),
    );
    await shop.publish(
      book(
        make('by-quote', { control: { kind: 'quote' } }, { fact: 'product.tags', op: 'hasAny', value: ['hundred'] }),
      ),
    );
    const add = async (name: string) => {
      const { body } = await shop.send('POST', '/api/sellers', { body: { name, names: [name] } });
      return (body as { id: string }).id;
    };
    ids = { fern: await add('Tidewater Ferns'), bed: await add('The Long Bed') };
    fern = await signedInFor(shop, ids.fern, 'ida@quillfern.example');
    bed = await signedInFor(shop, ids.bed, 'bram@quillfern.example');
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

const terms = async (more: object) => {
  const { body } = await server.send('GET', '/api/sellers');
  const { terms: before } = body as { terms: object };
  expect((await server.send('PUT', '/api/sellers/terms', { body: { ...before, ...more } })).status).toBe(204);
};
/** Of one part of a quote over the goods of both sellers, and of all three. */
const BOTH = ['hart-1', 'lady-1', 'aster-1'];
const ALL = [...BOTH, 'yew-1'];
const ask = async (variants: readonly string[] = BOTH) => {
  const lines = variants.map((variantId) => ({ variantId, quantity: 100 }));
  const body = { ...WREN, lines, key: `made-up-${variants.join('-')}` };
  expect((await server.send('POST', '/v1/quotes', { body, asNobody: true })).status).toBe(201);
};
/** The shop's view, or a seller's. */
const as = (who: SignedIn | null, method: string, path: string, body?: object) =>
  server.send(method, path, who === null ? { body } : { body, headers: who.headers, asNobody: true });
const quote = async (who: SignedIn | null = null) =>
  ((await as(who, 'GET', '/api/quotes')).body as { quotes: Quote[] }).quotes[0]!;
type Priced = readonly [variant: string, unitPrice: number];
const price = async (who: SignedIn | null, lines: readonly Priced[], more: object = {}) => {
  const { id } = await quote(who);
  const body = {
    lines: lines.map(([variant, unitPrice]) => ({ variant, units: 100, unitPrice })),
    delivery: null,
    days: 14,
    ...more,
  };
  return (await as(who, 'PUT', `/api/quotes/${id}/price`, body)).status;
};
const refuse = async (who: SignedIn | null, more: object = {}) => {
  const { id } = await quote(who);
  return (await as(who, 'POST', `/api/quotes/${id}/refusal`, { words: 'None left.', ...more })).status;
};
const FERNS: readonly Priced[] = [
  ['hart-1', 800],
  ['lady-1', 1000],
];
const ASTERS: readonly Priced[] = [['aster-1', 500]];
const lettersTo = (to: string, subject: string) =>
  mail.letters.filter((letter) => letter.to === to && letter.subject.includes(subject));
const sent = (total: string) =>
  mail.letter(({ to, subject }) => to === WREN.email && subject === `Your quote: ${total}`);

/** The customer's page, as text and with what it sends. */
async function page() {
  const letter = await mail.letter(({ to, subject }) => to === WREN.email && subject.includes('request for a price'));
  const { searchParams } = new URL(linkIn(letter, 'See your request'));
  const token = searchParams.get('token') ?? '';
  const html = await (await fetch(`${server.url}/quote?token=${token}`)).text();
  const fields = Object.fromEntries(
    [...html.matchAll(/<input type="hidden" name="(\w+)" value="([^"]*)">/g)].map(([, name = '', value = '']) => [
      name,
      value,
    ]),
  );
  const text = html
    .replace(/&#(\d+);/g, (_all, code: string) => String.fromCharCode(Number(code)))
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ');
  return {
    token,
    text,
    canAccept: html.includes('value="accepted"'),
    press: async (button: 'accepted' | 'declined') => {
      const body = new URLSearchParams({ ...fields, as: button, words: '' });
      return (await fetch(`${server.url}/quote`, { method: 'POST', redirect: 'manual', body })).status;
    },
  };
}
const cart = async (token: string) =>
  (await server.send('GET', `/v1/quote?quote=${token}`, { asNobody: true })).body as {
    lines: { variantId: string; unitPrice: number }[];
    delivery: number | null;
  };

describe('a quote over the goods of several sellers', () => {
  it('reaches each for their own lines, and the shop for its own', async () => {
    await ask(ALL);
    const whole = await quote();
    expect(whole.parts.map(({ seller, state }) => [seller?.name ?? null, state])).toEqual([
      [null, 'asked'],
      ['The Long Bed', 'asked'],
      ['Tidewater Ferns', 'asked'],
    ]);
    expect((await quote(fern)).lines.map(({ variant }) => variant)).toEqual(['hart-1', 'lady-1']);
    expect(await quote(fern)).toMatchObject({ state: 'asked', total: 200_000, parts: [{ seller: { id: ids.fern } }] });
    expect((await quote(bed)).lines.map(({ variant }) => variant)).toEqual(['aster-1']);
    for (const [to, lines] of [
      ['ida@quillfern.example', '2 items'],
      ['bram@quillfern.example', 'one item'],
      ['olive@quillfern.example', '4 items'],
    ] as const) {
      const letter = await mail.letter((one) => one.to === to && one.subject === 'Wren Hollis asks for a price');
      expect([to, letter.text.includes(lines)]).toEqual([to, true]);
    }
    // However many sellers it concerns, the shop is told once, and not of what is not its own where it does not want that.
    expect(lettersTo('olive@quillfern.example', 'asks for a price')).toHaveLength(1);
    await terms({ copies: false });
    await ask(ASTERS.map(([variant]) => variant));
    expect((await quote()).lines).toHaveLength(1);
    expect(lettersTo('olive@quillfern.example', 'asks for a price')).toHaveLength(1);
  });

  it('is told to programs once, whoever prices it', async () => {
    const url = 'https://hooks.quillfern.example/quotes';
    const body = { url, events: ['quote.new', 'quote.answered'] };
    expect((await server.send('POST', '/api/web-hooks', { body })).status).toBe(201);
    await terms({ copies: false });
    await ask();
    await ask(ALL);
    const { rows } = await server.needs.db.query<{ data: string }>(
      "SELECT text_body AS data FROM messages WHERE channel = 'hook' ORDER BY id",
    );
    expect(rows.map(({ data }) => (JSON.parse(data) as { data: { lines: number } }).data.lines)).toEqual([3, 4]);
  });

  it('comes back as one when all have priced, with the delivery of each', async () => {
    await ask();
    expect(await price(fern, FERNS, { delivery: 1500, words: 'Lifted on the day.' })).toBe(204);
    expect(await quote()).toMatchObject({ state: 'asked', parts: [{ state: 'asked' }, { state: 'priced' }] });
    expect(await quote(fern)).toMatchObject({ state: 'priced', validUntil: null });
    const before = await page();
    expect([before.canAccept, /€(8|9|10|11|15)\.00|€800/.test(before.text), before.text.includes('Lifted')]).toEqual([
      false,
      false,
      false,
    ]);
    expect(lettersTo(WREN.email, 'Your quote')).toEqual([]);
    expect(await price(bed, ASTERS, { delivery: 700, days: 10 })).toBe(204);
    expect((await sent('€2,322.00')).text).toContain('Lifted on the day.');
    expect(lettersTo(WREN.email, 'Your quote')).toHaveLength(1);
    const { text, press, token } = await page();
    // The letter lists every line, and names the author of each message.
    const letter = await mail.letter(({ to, subject }) => to === WREN.email && subject.startsWith('Your quote'));
    expect(letter.text).toContain('Lifted on the day.');
    expect(letter.text).toMatch(/Tidewater Ferns: Lifted on the day\./);
    expect(letter.text.match(/100 × /g)).toHaveLength(3);
    for (const words of ['Tidewater Ferns', 'The Long Bed', '€15.00', '€7.00', '€2,322.00', 'Lifted on the day.'])
      expect([words, text.includes(words)]).toEqual([words, true]);
    // Good for as long as the shortest of its parts.
    expect((await quote()).validUntil).toBe(new Date(server.now + 10 * DAY_MS).toISOString());
    expect(await press('accepted')).toBe(303);
    expect(await cart(token)).toEqual({
      lines: [
        { variantId: 'hart-1', quantity: 100, unitPrice: 800 },
        { variantId: 'lady-1', quantity: 100, unitPrice: 1000 },
        { variantId: 'aster-1', quantity: 100, unitPrice: 500 },
      ],
      delivery: 2200,
    });
    for (const [to, total] of [
      ['ida@quillfern.example', '€1,815.00'],
      ['bram@quillfern.example', '€507.00'],
      ['olive@quillfern.example', '€2,322.00'],
    ] as const)
      await mail.letter((one) => one.to === to && one.subject === `Wren Hollis accepted the quote of ${total}`);
    expect(await quote(fern)).toMatchObject({ state: 'accepted', delivery: 1500, total: 181_500 });
  });

  it('is sent once when the last two price at the same moment', async () => {
    await ask();
    const statuses = await Promise.all([price(fern, FERNS), price(bed, ASTERS)]);
    expect(statuses).toEqual([204, 204]);
    await sent('€2,300.00');
    expect(await quote()).toMatchObject({ state: 'priced' });
    expect(lettersTo(WREN.email, 'Your quote')).toHaveLength(1);
  });

  it('is sent in parts where the shop says so; what is accepted early leaves the rest out', async () => {
    await terms({ quotes: 'inParts' });
    await ask();
    expect(await price(fern, FERNS, { delivery: 1500 })).toBe(204);
    expect((await sent('€1,815.00')).text).toContain('The rest follows');
    const { text, canAccept, press, token } = await page();
    expect([canAccept, text.includes('The rest follows'), text.includes('€1,815.00')]).toEqual([true, true, true]);
    expect(await quote(bed)).toMatchObject({ state: 'asked' });
    for (const state of ['asked', 'priced'])
      expect((await as(null, 'GET', `/api/quotes?state=${state}`)).body).toMatchObject({ total: 1 });
    expect(await press('accepted')).toBe(303);
    expect((await cart(token)).lines.map(({ variantId }) => variantId)).toEqual(['hart-1', 'lady-1']);
    expect((await cart(token)).delivery).toBe(1500);
    expect(await price(bed, ASTERS)).toBe(409);
    const lines = [{ variantId: 'aster-1', quantity: 100, unitPrice: 0 }];
    const { body } = await server.send('POST', '/v1/guard', {
      body: { via: 'cart', lines, quote: token },
      asNobody: true,
    });
    expect(body).toMatchObject({ ok: false });
  });

  it('is sent without the lines of whoever turns them down, and turned down when all do', async () => {
    await ask();
    expect(await refuse(bed)).toBe(204);
    expect(await refuse(bed)).toBe(409);
    expect(await quote()).toMatchObject({ state: 'asked' });
    expect(await quote(bed)).toMatchObject({ state: 'turnedDown' });
    expect(await price(fern, FERNS)).toBe(204);
    expect((await sent('€1,800.00')).text).toContain('None left.');
    const { press, token, text } = await page();
    expect(text).toContain('not available');
    const reply = new URLSearchParams({ token, as: 'reply', words: 'By Friday?', version: '1' });
    expect((await fetch(`${server.url}/quote`, { method: 'POST', redirect: 'manual', body: reply })).status).toBe(303);
    // A reply waits for the seller who can act on it, not for the one who declined.
    const waiting = async (who: SignedIn) => {
      const { body: seller } = await as(who, 'GET', '/api/seller');
      const { body: listed } = await as(who, 'GET', '/api/quotes?state=asked');
      return [(seller as { waits: { quotes: number } }).waits.quotes, (listed as { total: number }).total];
    };
    expect([await waiting(fern), await waiting(bed)]).toEqual([
      [1, 1],
      [0, 0],
    ]);
    expect(await press('accepted')).toBe(303);
    expect((await cart(token)).lines).toHaveLength(2);
    // A seller who declined their part hears nothing of the acceptance.
    await mail.letter(({ to, subject }) => to === 'ida@quillfern.example' && subject.includes('accepted'));
    expect(lettersTo('bram@quillfern.example', 'accepted')).toEqual([]);
    await ask(['hart-1', 'aster-1']);
    expect([await refuse(fern), await refuse(bed)]).toEqual([204, 204]);
    expect(await quote()).toMatchObject({ state: 'turnedDown' });
    await mail.letter(({ to, subject }) => to === WREN.email && subject === 'About your request for a price');
  });

  it('that has lapsed is priced anew by each whose price is over', async () => {
    await ask();
    await price(fern, FERNS, { days: 30 });
    await price(bed, ASTERS, { days: 2 });
    await sent('€2,300.00');
    server.now += 3 * DAY_MS;
    expect(await expireQuotes(server.needs)).toBe(1);
    expect([(await quote(fern)).state, (await quote(bed)).state]).toEqual(['lapsed', 'lapsed']);
    // The ferns' price is still good: it is enough that the other prices again.
    expect(await price(bed, [['aster-1', 550]])).toBe(204);
    await sent('€2,350.00');
    expect(await quote()).toMatchObject({ state: 'priced' });
    server.now += 20 * DAY_MS;
    await expireQuotes(server.needs);
    expect(await price(fern, FERNS)).toBe(204);
    // Now the other's is over.
    expect(await quote()).toMatchObject({ state: 'asked', parts: [{ state: 'asked' }, { state: 'priced' }] });
    expect(await quote(bed)).toMatchObject({ state: 'asked' });
  });

  it('is nobody’s to price but theirs whose goods they are, and the shop’s', async () => {
    await ask();
    expect(await price(fern, [...FERNS, ...ASTERS])).toBe(404);
    expect(await price(fern, [...FERNS, ['spade-1', 100]])).toBe(404);
    expect(await price(fern, FERNS, { seller: ids.bed })).toBe(404);
    expect(await refuse(fern, { seller: ids.bed })).toBe(404);
    expect(await price(null, FERNS)).toBe(404);
    expect(await quote()).toMatchObject({ state: 'asked', parts: [{ state: 'asked' }, { state: 'asked' }] });
    expect(await price(null, [...ASTERS, ['hart-1', 1]], { seller: ids.bed })).toBe(409);
    // The shop prices for whoever does not, and may add what it likes.
    expect(await price(null, [...ASTERS, ['spade-1', 3900]], { seller: ids.bed })).toBe(204);
    expect(await price(fern, FERNS)).toBe(204);
    await sent('€6,200.00');
    expect((await quote(bed)).lines.map(({ variant }) => variant)).toEqual(['aster-1', 'spade-1']);
  });

  it('shows each what the customer writes, and of the others nothing', async () => {
    await ask();
    await price(fern, FERNS, { words: 'From the ferns.' });
    await price(bed, ASTERS, { words: 'From the bed.' });
    await sent('€2,300.00');
    const { token } = await page();
    const body = new URLSearchParams({ token, as: 'reply', words: 'In spring, please.', version: '1' });
    await fetch(`${server.url}/quote`, { method: 'POST', redirect: 'manual', body });
    const words = async (who: SignedIn | null) => (await quote(who)).messages.map((message) => message.words);
    expect(await words(fern)).toEqual(['From the ferns.', 'In spring, please.']);
    expect(await words(bed)).toEqual(['From the bed.', 'In spring, please.']);
    expect(await words(null)).toHaveLength(3);
  });
});

describe('when sellers change', () => {
  it('two who become one have one part of a quote; one who goes leaves theirs to the shop', async () => {
    await ask(ALL);
    await price(fern, FERNS, { delivery: 100 });
    await price(bed, ASTERS, { delivery: 50 });
    expect((await server.send('POST', `/api/sellers/${ids.bed}/merge`, { body: { into: ids.fern } })).status).toBe(204);
    expect(await quote()).toMatchObject({
      delivery: 150,
      parts: [{ seller: null }, { seller: { id: ids.fern }, state: 'priced' }],
    });
    expect((await quote(fern)).lines).toHaveLength(3);
    expect((await server.send('DELETE', `/api/sellers/${ids.fern}`)).status).toBe(204);
    // The priced part waits for the others.
    expect(await quote()).toMatchObject({ state: 'asked', parts: [{ seller: null, state: 'asked' }] });
    expect((await quote()).lines).toHaveLength(4);
  });

  it('a total that this changes is not accepted by those who saw the one before', async () => {
    await terms({ quotes: 'inParts' });
    await ask(ALL);
    await price(fern, FERNS);
    await price(bed, ASTERS);
    await sent('€2,300.00');
    const seen = await page();
    expect(seen.text).toContain('€2,300.00');
    // Their part now waits with the shop's own, which is not priced yet.
    expect((await server.send('DELETE', `/api/sellers/${ids.fern}`)).status).toBe(204);
    expect(await seen.press('accepted')).toBe(409);
    expect(await quote()).toMatchObject({ state: 'priced', total: 500_00 });
    const now = await page();
    expect(now.text).toContain('€500.00');
    expect(await now.press('accepted')).toBe(303);
    expect(await now.press('accepted')).toBe(303);
    expect(await quote()).toMatchObject({ state: 'accepted', total: 500_00 });
  });
});
