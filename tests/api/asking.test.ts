import { afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Enquiry, Quote } from '#core/contract/askingCalls.ts';
import { expireQuotes } from '../../server/quotes/quoteService.ts';
import { cloneDatabase } from '../support/databases.ts';
import { linkIn, startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, preparedShop, startServer, type TestServer } from '../support/testServer.ts';

const CATALOG = [
  'variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity',
  'hedge-60,hedge,/plants/hedge,Hornbeam,hedging,5.00,true,900',
  'hedge-90,hedge,/plants/hedge,Hornbeam,hedging,9.00,true,100',
  'trowel-1,trowel,/tools/trowel,Trowel,smith,30.00,true,0',
].join('\n');
const tagged = (tag: string) => ({ fact: 'product.tags' as const, op: 'hasAny' as const, value: [tag] });
const RULES = book(
  make('by-quote', { control: { kind: 'quote' }, price: { show: false } }, tagged('hedging')),
  make('ask', { control: { kind: 'enquiry', form: 'contact', open: 'dialog' } }, tagged('smith')),
);

let template: string;
let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  template = await preparedShop(async (shop) => {
    await importCsv(shop, 'catalog', CATALOG);
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

const WREN = { email: 'wren@quillfern.example', name: 'Wren Hollis' };
const post = (path: string, body: object) => server.send('POST', path, { body, asNobody: true });
const LINES = [
  { variantId: 'hedge-60', quantity: 200, note: 'bare root' },
  { variantId: 'hedge-90', quantity: 10 },
];
const ask = (more: object = {}) => post('/v1/quotes', { ...WREN, lines: LINES, key: 'made-up-1', ...more });
const quotes = async () => ((await server.send('GET', '/api/quotes')).body as { quotes: Quote[] }).quotes;
const PRICE = {
  lines: [
    { variant: 'hedge-60', units: 200, unitPrice: 390 },
    { variant: 'trowel-1', units: 1, unitPrice: 2500 },
  ],
  delivery: 6000,
  days: 14,
  words: 'With the trowel as promised.',
};
const price = (id: string | undefined, more: object = {}) =>
  server.send('PUT', `/api/quotes/${id ?? ''}/price`, { body: { ...PRICE, ...more } });
/** The quote's page, as whoever opens it has it before them until they press. */
const open = async (link: string) => {
  const { search } = new URL(link);
  const html = await (await fetch(`${server.url}/quote${search}`)).text();
  const hidden = [...html.matchAll(/<input type="hidden" name="(\w+)" value="([^"]*)">/g)];
  const fields = Object.fromEntries(hidden.map(([, name = '', value = '']) => [name, value]));
  return async (as: string, words = '') => {
    const body = new URLSearchParams({ ...fields, as, words });
    const response = await fetch(`${server.url}/quote`, { method: 'POST', redirect: 'manual', body });
    return { status: response.status, html: await response.text() };
  };
};
/** Presses a button on the customer's page. */
const press = async (link: string, as: string, words = '') => (await (await open(link))(as, words)).status;
const guard = async (lines: object[], quote?: string | null) => {
  const { body } = await post('/v1/guard', { via: 'cart', lines, ...(quote ? { quote } : {}) });
  return (body as { lines: { code: string | null }[] }).lines.map(({ code }) => code);
};
/** A quote that was asked for, priced and sent, and its link. */
const priced = async () => {
  await ask();
  const [quote] = await quotes();
  expect((await price(quote?.id)).status).toBe(204);
  const link = linkIn(
    await mail.letter(({ subject }) => subject === 'Your quote: €865.00'),
    'See, accept or decline it',
  );
  return {
    id: quote?.id,
    link: link.replace('http://understudy.test', server.url),
    token: new URL(link).searchParams.get('token'),
  };
};

describe('a quote', () => {
  it('is asked for once however often it is sent, and only for goods that are offered so', async () => {
    expect((await ask()).status).toBe(201);
    expect((await ask()).status).toBe(201);
    expect(await quotes()).toHaveLength(1);
    expect(await quotes()).toMatchObject([
      {
        state: 'asked',
        email: WREN.email,
        total: 1090_00,
        lines: [{ units: 200, note: 'bare root', today: 500 }, {}],
      },
    ]);
    for (const [product, count] of [
      ['hedge', 1],
      ['trowel', 0],
    ] as const) {
      const { body } = await server.send('GET', `/api/quotes?product=${product}`);
      expect(body).toMatchObject({ total: count, products: [{ product: 'hedge', title: 'Hornbeam', count: 1 }] });
    }
    expect((await ask({ key: 'made-up-2', lines: [{ variantId: 'trowel-1', quantity: 1 }] })).status).toBe(409);
    expect((await ask({ key: 'made-up-2', lines: [] })).status).toBe(422);
    expect((await ask({ key: 'made-up-2', email: 'nobody' })).status).toBe(422);
    const letter = await mail.letter(
      ({ to, subject }) => to === 'olive@quillfern.example' && subject === 'Wren Hollis asks for a price',
    );
    expect(letter.text).toMatch(/200 × Hornbeam.*\n10 × Hornbeam/);
  });

  it('is priced line by line, sent, accepted, and honoured by the guard until it is used or over', async () => {
    const { link, token } = await priced();
    const page = (await (await fetch(link)).text()).replace(/&#(\d+);/g, (_all, code: string) =>
      String.fromCharCode(Number(code)),
    );
    expect(page).toContain('€865.00');
    expect(page).toContain('With the trowel as promised.');
    const lines = [{ variantId: 'hedge-60', quantity: 200, unitPrice: 390 }];
    expect(await guard(lines, token)).toEqual(['notForSale']);
    expect(await press(link, 'accepted', 'Thank you')).toBe(303);
    expect(await guard(lines, token)).toEqual([null]);
    expect(await guard(lines)).toEqual(['notForSale']);
    expect(await guard([{ ...lines[0], quantity: 201 }], token)).toEqual(['notForSale']);
    expect(await guard([{ ...lines[0], unitPrice: 100 }], token)).toEqual(['priceChanged']);
    const { body } = await server.send('GET', `/v1/quote?quote=${token ?? ''}`, { asNobody: true });
    expect(body).toEqual({
      lines: [
        { variantId: 'hedge-60', quantity: 200, unitPrice: 390 },
        { variantId: 'trowel-1', quantity: 1, unitPrice: 2500 },
      ],
      delivery: 6000,
    });
    const deliveryOf = async (of: object[], quote?: string | null) =>
      (await post('/v1/guard', { via: 'order', lines: of, ...(quote ? { quote } : {}) })).body;
    expect(await deliveryOf(lines, token)).toMatchObject({ ok: true, delivery: 6000 });
    expect(await deliveryOf(lines)).toMatchObject({ ok: false, delivery: null });
    expect(await deliveryOf([{ variantId: 'other', quantity: 1 }], token)).toMatchObject({ delivery: null });
    expect(await quotes()).toMatchObject([
      { state: 'accepted', messages: [{ byOwner: true }, { words: 'Thank you' }] },
    ]);
    // An accepted quote is not priced anew, and is over when its time is.
    expect((await price((await quotes())[0]?.id)).status).toBe(409);
    server.now += 15 * 86_400_000;
    expect(await guard(lines, token)).toEqual(['notForSale']);
    expect((await server.send('GET', `/v1/quote?quote=${token ?? ''}`, { asNobody: true })).status).toBe(404);
    await mail.letter(({ subject }) => subject === 'Wren Hollis accepted the quote of €865.00');
  });

  it('is declined, priced anew, and lapses, once', async () => {
    const { id, link } = await priced();
    expect(await press(link, 'declined', 'Too dear')).toBe(303);
    expect(await quotes()).toMatchObject([{ state: 'declined' }]);
    expect((await price(id, { delivery: null })).status).toBe(204);
    server.now += 14 * 86_400_000;
    expect(await press(link, 'accepted')).toBe(409);
    const lapsed = await Promise.all([expireQuotes(server.needs), expireQuotes(server.needs)]);
    expect(lapsed.reduce((sum, count) => sum + count)).toBe(1);
    expect(await quotes()).toMatchObject([{ state: 'lapsed' }]);
    await mail.letter(({ subject }) => subject === 'Your quote has lapsed');
  });

  it('is accepted at the price that was seen, and at no other: priced anew meanwhile, it is shown again', async () => {
    const { id, link } = await priced();
    const before = await open(link);
    expect((await price(id, { lines: [{ variant: 'hedge-60', units: 200, unitPrice: 3500 }] })).status).toBe(204);
    const { status, html } = await before('accepted');
    expect(status).toBe(409);
    expect(html).toContain('This quote was changed while you looked at it');
    expect(await quotes()).toMatchObject([{ state: 'priced' }]);
    // The new version can be accepted.
    expect(await press(link, 'accepted')).toBe(303);
    expect(await quotes()).toMatchObject([{ state: 'accepted', lines: [{ unitPrice: 3500 }] }]);
    // Pressed once more on the page of before, it is neither accepted at that price nor declined.
    expect((await before('declined')).status).toBe(409);
    expect(await quotes()).toMatchObject([{ state: 'accepted' }]);
  });

  it('waits for an answer once the customer replied, until it is sent again', async () => {
    const { id, link } = await priced();
    const waiting = async () => {
      const { body } = await server.send('GET', '/api/attention');
      const { body: listed } = await server.send('GET', '/api/quotes?state=asked');
      return [(body as { quotes: number }).quotes, (listed as { quotes: Quote[] }).quotes.length];
    };
    expect(await waiting()).toEqual([0, 0]);
    server.now += 60_000;
    expect(await press(link, 'reply', 'Forty for the price of thirty?')).toBe(303);
    expect(await waiting()).toEqual([1, 1]);
    expect(await quotes()).toMatchObject([
      { state: 'priced', repliedAt: new Date(server.now).toISOString(), messages: [{}, { byOwner: false }] },
    ]);
    expect((await price(id, {})).status).toBe(204);
    expect(await waiting()).toEqual([0, 0]);
    expect(await quotes()).toMatchObject([{ state: 'priced', repliedAt: null }]);
    // Nothing is left to do about a quote that was accepted; what the customer adds is in its conversation.
    expect(await press(link, 'accepted')).toBe(303);
    expect(await press(link, 'reply', 'Thank you!')).toBe(303);
    expect(await waiting()).toEqual([0, 0]);
    expect(await quotes()).toMatchObject([{ state: 'accepted', repliedAt: null }]);
    expect((await quotes())[0]?.messages.at(-1)).toMatchObject({ words: 'Thank you!' });
  });

  it('says that it has expired, and is asked for anew', async () => {
    const { link } = await priced();
    const text = 'This quote is no longer valid. Ask for a new price, and we will send you one.';
    const page = async () => (await fetch(link)).text();
    expect(await page()).not.toContain(text);
    const askAgain = () => press(link, 'askAgain', 'Still thirty, please');
    server.now += 14 * 86_400_000;
    const html = await page();
    expect(html).toContain(text);
    expect(html).not.toContain('value="accepted"');
    expect(await press(link, 'accepted')).toBe(409);
    expect(await askAgain()).toBe(303);
    expect(await quotes()).toMatchObject([{ state: 'asked', parts: [{ state: 'asked' }] }]);
    expect(await page()).not.toContain(text);
    expect((await quotes())[0]?.messages.at(-1)).toMatchObject({ byOwner: false, words: 'Still thirty, please' });
  });

  it('is turned down with a message; a link that is made up leads nowhere', async () => {
    await ask();
    const [quote] = await quotes();
    const refuse = () =>
      server.send('POST', `/api/quotes/${quote?.id ?? ''}/refusal`, { body: { words: 'Sold to the park' } });
    expect((await refuse()).status).toBe(204);
    expect((await refuse()).status).toBe(409);
    expect((await mail.letter(({ subject }) => subject === 'About your request for a price')).text).toContain(
      'Sold to the park',
    );
    expect((await fetch(`${server.url}/quote?token=made.up.token`)).status).toBe(410);
    expect(await press('http://x/?token=made.up', 'accepted')).toBe(410);
  });
});

describe('an enquiry', () => {
  const enquire = (more: object = {}) =>
    post('/v1/enquiries', {
      ...WREN,
      path: '/tools/trowel',
      variantId: 'trowel-1',
      answers: { question: 'When?' },
      ...more,
    });
  const enquiries = async (query = '') =>
    (await server.send('GET', `/api/enquiries?${query}`)).body as {
      enquiries: Enquiry[];
      products: { product: string; count: number }[];
    };

  it('carries the product, is answered by mail, closed and opened again, and counted as demand', async () => {
    expect((await enquire({ locale: 'fr' })).body).toEqual({
      html: 'Merci. Nous avons votre question et vous répondrons par e-mail.',
      goTo: null,
    });
    const { enquiries: found, products } = await enquiries();
    expect(products).toMatchObject([{ product: 'trowel', count: 1 }]);
    expect(found).toMatchObject([
      { state: 'open', title: 'Trowel', answers: [{ label: 'Your question', value: 'When?' }], messages: [] },
    ]);
    const id = found[0]?.id ?? '';
    expect((await server.send('POST', `/api/enquiries/${id}/answers`, { body: { words: 'En *mai*.' } })).status).toBe(
      204,
    );
    const letter = await mail.letter(({ subject }) => subject === 'Notre réponse sur Trowel');
    expect(letter.text).toContain('En *mai*.'.replaceAll('*', ''));
    expect((await enquiries('state=answered&search=wren')).enquiries).toHaveLength(1);
    expect((await server.send('PATCH', `/api/enquiries/${id}`, { body: { state: 'closed' } })).status).toBe(204);
    expect((await enquiries('state=open')).enquiries).toEqual([]);
  });

  it('is closed, reopened, and answered with words alone', async () => {
    await enquire();
    const { id } = (await enquiries()).enquiries[0]!;
    const move = async (state: string) =>
      (await server.send('PATCH', `/api/enquiries/${id}`, { body: { state } })).status;
    expect(await move('answered')).toBe(409);
    expect((await enquiries()).enquiries[0]).toMatchObject({ state: 'open' });
    for (const state of ['open', 'closed', 'closed', 'open']) {
      expect(await move(state)).toBe(204);
      expect((await enquiries()).enquiries[0]).toMatchObject({ state });
    }
  });

  it('tells the owner of which product, by whom, and is answered by a reply', async () => {
    await enquire();
    const letter = await mail.letter(({ subject }) => subject === 'Wren Hollis asks about Trowel');
    expect(letter).toMatchObject({ to: 'olive@quillfern.example', replyTo: WREN.email });
    expect(letter.text).toContain(WREN.email);
    expect(linkIn(letter, 'Trowel')).toContain('/catalog/trowel');
    const firstLetter = await mail.letter(({ to }) => to === WREN.email);
    expect(firstLetter.replyTo).toBe('');
    expect((await enquiries()).enquiries[0]).toMatchObject({ product: 'trowel', path: '/tools/trowel' });
  });

  it('takes the address of a customer who is known, and asks others for theirs', async () => {
    await importCsv(server, 'people', 'customer_id,name,email\nc-1,Ada Finch,ada.finch@quillfern.example\nc-2,,');
    const as = async (customer: string) => ({
      email: undefined,
      name: undefined,
      visitor: await server.token(customer),
    });
    expect((await enquire(await as('c-1'))).status).toBe(201);
    expect((await enquiries()).enquiries[0]).toMatchObject({ name: 'Ada Finch', email: 'ada.finch@quillfern.example' });
    expect((await ask(await as('c-1'))).status).toBe(201);
    expect((await quotes())[0]).toMatchObject({ customer: 'c-1', email: 'ada.finch@quillfern.example' });
    for (const unknown of [await as('c-2'), { email: undefined }]) {
      const { status, body } = await enquire(unknown);
      expect([status, (body as { errors: { pointer: string }[] }).errors[0]?.pointer]).toEqual([422, '/email']);
    }
  });

  it('asks for what the owner’s form asks for, and is taken only where a form stands', async () => {
    const fields = [
      { name: 'when', kind: 'date', required: true, label: { en: 'By when', fr: 'Pour quand' } },
      { name: 'how', kind: 'choice', required: false, label: 'How', choices: ['by post', 'fetched'] },
    ];
    expect((await server.send('PUT', '/api/forms/contact', { body: { fields } })).status).toBe(204);
    const form = await server.send('GET', '/v1/forms/contact?locale=fr', { asNobody: true });
    expect(form.body).toMatchObject({ fields: [{ label: 'Pour quand' }, { label: 'How' }] });
    const faults = async (answers: object) => {
      const { status, body } = await enquire({ answers });
      return status === 422 ? (body as { errors: { pointer: string }[] }).errors.map(({ pointer }) => pointer) : status;
    };
    expect(await faults({})).toEqual(['/answers/when']);
    expect(await faults({ when: 'soon', how: 'thrown' })).toEqual(['/answers/when', '/answers/how']);
    expect(await faults({ when: '2027-03-01', how: 'fetched' })).toBe(201);
    // The owner reads each answer on its own line, and answers this very question.
    const letter = await mail.letter(({ subject }) => subject === 'Wren Hollis asks about Trowel');
    expect(letter.text).toContain('By when: 2027-03-01\nHow: fetched');
    expect(linkIn(letter, 'Answer')).toContain(`/enquiries?enquiry=${(await enquiries()).enquiries[0]?.id ?? ''}`);
    expect((await enquire({ path: '/plants/hedge', variantId: 'hedge-60' })).status).toBe(409);
    expect((await enquire({ path: '/no/such' })).status).toBe(404);
  });
});

describe('the owner’s forms', () => {
  const put = (code: string, form: object) => server.send('PUT', `/api/forms/${code}`, { body: form });
  const field = { name: 'size', kind: 'text', required: false, label: 'Size' };

  it('say what the owner wants once they are sent, and lead on', async () => {
    const answers = {
      sentText: { en: 'Thank you, **truly**.', fr: 'Merci.' },
      emptyText: 'Still empty.',
      goTo: '/thanks',
    };
    expect((await put('quote', { fields: [field], ...answers })).status).toBe(204);
    const form = await server.send('GET', '/v1/forms/quote', { asNobody: true });
    expect(form.body).toEqual({ fields: [field], empty: 'Still empty.' });
    expect((await ask()).body).toEqual({ html: 'Thank you, <strong>truly</strong>.', goTo: '/thanks' });
  });

  it('are listed with the rules that show them, and forgotten when none does', async () => {
    const forms = async () => (await server.send('GET', '/api/forms')).body as { code: string; rules: string[] }[];
    expect(await forms()).toMatchObject([
      { code: 'contact', rules: ['ask'] },
      { code: 'quote', rules: [] },
    ]);
    await put('visits', { fields: [field] });
    expect((await server.send('DELETE', '/api/forms/contact')).status).toBe(409);
    expect((await server.send('DELETE', '/api/forms/quote')).status).toBe(409);
    expect((await server.send('DELETE', '/api/forms/visits')).status).toBe(204);
    expect((await server.send('DELETE', '/api/forms/visits')).status).toBe(404);
  });

  it.each([
    [{ fields: [field, field] }, '/fields'],
    [{ fields: [field], goTo: 'javascript:1' }, '/goTo'],
    [{ fields: [{ ...field, kind: 'colour' }] }, '/fields/0/kind'],
  ])('%j are refused with the fault named', async (form, pointer) => {
    const { status, body } = await put('contact', form);
    expect(status).toBe(422);
    expect((body as { errors: { pointer: string }[] }).errors.map((error) => error.pointer)).toEqual([pointer]);
  });
});

describe('who has asked', () => {
  const statusesOf = async (path: string, visitor: string) => {
    const { body } = await post('/v1/decisions', { surface: 'product', products: [{ path }], visitor });
    return (body as { decisions: { control: { standing: unknown } }[] }).decisions.map(
      ({ control }) => control.standing,
    );
  };

  it('sees so on the goods, in every stand-in of the kind, until they are answered', async () => {
    await importCsv(server, 'people', `customer_id,email,name\nc-1,${WREN.email},${WREN.name}\n`);
    const visitor = await server.token('c-1');
    await ask({ visitor, lines: [LINES[0]] });
    await post('/v1/enquiries', { ...WREN, path: '/tools/trowel', answers: { question: 'When?' }, visitor });
    expect(await statusesOf('/plants/hedge', visitor)).toContainEqual({ state: 'asked' });
    expect(await statusesOf('/tools/trowel', visitor)).toEqual([{ state: 'asked' }]);
    const [quote] = await quotes();
    await price(quote?.id);
    expect(await statusesOf('/plants/hedge', visitor)).toEqual([null]);
  });
});

describe('what a product’s sizes are called', () => {
  it('is told in the visitor’s language, and not of goods that are kept from sight', async () => {
    const goods = () => server.send('GET', '/v1/goods?path=/plants/hedge', { asNobody: true });
    expect((await goods()).body).toMatchObject({
      title: 'Hornbeam',
      variants: [{ id: 'hedge-60' }, { id: 'hedge-90' }],
    });
    await server.publish(book(make('gone', { visibility: { state: 'blocked' } })));
    expect((await goods()).status).toBe(404);
    expect((await server.send('GET', '/v1/goods?path=/no/such', { asNobody: true })).status).toBe(404);
  });
});
