import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Enquiry, Quote } from '#core/contract/askingCalls.ts';
import { linkIn, startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

/** The pages that stand-ins lead to without any script of ours. */

const CATALOG = [
  'variant_id,product_id,path,title,tags,price,options',
  'fern-1,fern,/plants/fern,Shield fern,rare,18.50,',
  'hedge-60,hedge,/plants/hedge,Hornbeam,hedging,5.00,Height=60 cm',
  'hedge-90,hedge,/plants/hedge,Hornbeam,hedging,9.00,Height=90 cm',
  'trowel-1,trowel,/tools/trowel,Trowel,smith,30.00,',
  'rake-1,rake,/tools/rake,Rake,members,30.00,',
  'spade-1,spade,/tools/spade,Spade,,30.00,',
].join('\n');
const tagged = (tag: string) => ({ fact: 'product.tags' as const, op: 'hasAny' as const, value: [tag] });
const RULES = book(
  make('list', { control: { kind: 'waitlist', per: 'product' } }, tagged('rare')),
  make('quote', { control: { kind: 'quote' } }, tagged('hedging')),
  make('ask', { control: { kind: 'enquiry', form: 'contact', open: 'inline' } }, tagged('smith')),
  make(
    'members',
    { control: { kind: 'waitlist', per: 'product', account: 'required', signInAt: '/sign-in' } },
    tagged('members'),
  ),
);
const EMAIL = 'wren@quillfern.example';

let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
  await importCsv(server, 'catalog', CATALOG);
  await server.publish(RULES);
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const open = async (address: string) => {
  const response = await fetch(new URL(address, server.url), { headers: { 'Accept-Language': 'en' } });
  return { status: response.status, html: plain(await response.text()) };
};
const plain = (html: string) => html.replace(/&#(\d+);/g, (_all, code: string) => String.fromCharCode(Number(code)));
/** Fills in the form of a page and sends it as a browser without scripts does. */
async function submit(address: string, typed: Readonly<Record<string, string>>) {
  const { html } = await open(address);
  const action = /<form method="post" action="([^"]+)"/.exec(html)?.[1] ?? '';
  const given = [...html.matchAll(/<input[^>]*name="([^"]+)"[^>]*value="([^"]*)"/g)].map(
    ([, name = '', value = '']) => [name, value],
  );
  const chosen = [...html.matchAll(/<select name="([^"]+)"[^>]*><option(?: value="([^"]*)")?>/g)].map(
    ([, name = '', value = '']) => [name, value],
  );
  const body = new URLSearchParams([...given, ...chosen]);
  for (const [name, value] of Object.entries(typed)) body.set(name, value);
  const response = await fetch(server.url + action, {
    method: 'POST',
    body,
    redirect: 'manual',
    headers: { 'Accept-Language': 'en' },
  });
  return { status: response.status, html: plain(await response.text()), to: response.headers.get('Location') ?? '' };
}

describe('the page that a stand-in leads to', () => {
  it('takes a question, lists it, and says so', async () => {
    const sent = await submit('/ask/enquiry?path=/tools/trowel&variant=trowel-1', {
      'answer.question': 'Is the handle ash?',
      email: EMAIL,
    });
    expect(sent.status).toBe(303);
    expect((await open(sent.to)).html).toContain('Thank you. We have your question');
    const { enquiries } = (await server.send('GET', '/api/enquiries')).body as { enquiries: Enquiry[] };
    expect(enquiries).toMatchObject([{ email: EMAIL, product: 'trowel', answers: [{ value: 'Is the handle ash?' }] }]);
  });

  it('keeps what was typed when something is missing, and says what', async () => {
    const sent = await submit('/ask/enquiry?path=/tools/trowel', { 'answer.question': 'Ash?', email: 'nowhere' });
    expect(sent.status).toBe(422);
    expect(sent.html).toContain('role="alert"');
    expect(sent.html).toContain('email:');
    expect(sent.html).toContain('Ash?');
    expect(sent.html).toContain('value="nowhere"');
  });

  it('puts somebody on a waitlist, by the link that is sent', async () => {
    const sent = await submit('/ask/waitlist?path=/plants/fern', { email: EMAIL, name: 'Wren Hollis' });
    expect((await open(sent.to)).html).toContain('We have sent you a link.');
    const letter = await mail.letter(({ subject }) => subject.startsWith('Please confirm'));
    const { search } = new URL(linkIn(letter, 'Yes, put me on the list'));
    const token = new URLSearchParams(search).get('token') ?? '';
    await fetch(`${server.url}/waitlist/confirm`, { method: 'POST', body: new URLSearchParams({ token }) });
    const { body } = await server.send('GET', '/api/waitlists/entries?product=fern');
    expect(body).toMatchObject({ entries: [{ email: EMAIL, name: 'Wren Hollis', state: 'waiting' }] });
  });

  it('asks a price for a size that is chosen there, once however often it is sent', async () => {
    const address = '/ask/quote?path=/plants/hedge';
    expect((await open(address)).html).toContain('<option value="hedge-90">');
    const fields = { variant: 'hedge-90', units: '40', email: EMAIL, key: 'made-up-by-the-page' };
    for (let times = 0; times < 2; times += 1)
      expect((await open((await submit(address, fields)).to)).html).toContain('We have your request');
    const { quotes } = (await server.send('GET', '/api/quotes')).body as { quotes: Quote[] };
    expect(quotes).toMatchObject([{ email: EMAIL, lines: [{ variant: 'hedge-90', units: 40 }] }]);
  });

  it('leads to signing in where a list is for accounts, and takes nothing there', async () => {
    const { html } = await open('/ask/waitlist?path=/tools/rake');
    expect(html).toContain('This list is for customers with an account.');
    expect(html).not.toContain('<form');
    const sent = await fetch(`${server.url}/ask/waitlist`, {
      method: 'POST',
      body: new URLSearchParams({ path: '/tools/rake', email: EMAIL }),
    });
    expect(sent.status).toBe(403);
  });

  it.each([['/ask/enquiry?path=/tools/spade'], ['/ask/preorder?path=/tools/spade'], ['/ask/quote']])(
    'says how else to ask where nothing of the kind is offered: %s',
    async (address) => {
      const { status, html } = await open(address);
      expect(status).toBe(200);
      expect(html).toContain('please telephone or write to us');
      expect(html).not.toContain('<form');
    },
  );

  it('is not there for anything else', async () => {
    expect((await open('/ask/constructor')).status).toBe(404);
    const sent = await fetch(`${server.url}/ask/preorder`, { method: 'POST', body: new URLSearchParams({}) });
    expect(sent.status).toBe(404);
  });
});
