import { Webhook } from 'standardwebhooks';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { MessageSettings, WebHook } from '#core/contract/channelCalls.ts';
import type { Message } from '#core/contract/messageCalls.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { startReceiver, type Received, type Receiver } from '../support/receiver.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

let mail: Mailbox;
let outside: Receiver;
let server: TestServer;
const LIST = { fact: 'product', op: 'every', value: true };

beforeAll(async () => {
  [mail, outside] = await Promise.all([startMailbox(), startReceiver()]);
  server = await startShop({ smtpUrl: mail.smtpUrl, privateHosts: [outside.host] });
  await importCsv(
    server,
    'catalog',
    'variant_id,product_id,path,title,price,stock_tracked,stock_quantity\nfern-1,fern,/fern,Fern,9.00,yes,0\n',
  );
  const people = 'customer_id,email,name,phone\nc-1,ada.finch@quillfern.example,Ada Finch,+351 210 000 001\n';
  await importCsv(server, 'people', `${people}c-2,bram.oakes@quillfern.example,Bram Oakes,\n`);
  const rule = {
    id: 'list',
    name: 'List',
    on: true,
    when: LIST,
    then: { control: { kind: 'waitlist', per: 'product' } },
  };
  await server.publish({ format: 'understudy-rulebook', version: 1, rules: [rule] });
});
afterAll(async () => {
  await server.stop();
  await Promise.all([mail.stop(), outside.stop()]);
});

const settings = async () => (await server.send('GET', '/api/messages/settings')).body as MessageSettings;
const put = (body: object) => server.send('PUT', '/api/messages/settings', { body });
const join = async (customer: string) => {
  const visitor = await server.token(customer);
  return server.send('POST', '/v1/waitlist-entries', { body: { path: '/fern', visitor }, asNobody: true });
};
const hooks = async () => (await server.send('GET', '/api/web-hooks')).body as WebHook[];
const messages = async (query: string) =>
  ((await server.send('GET', `/api/messages?${query}`)).body as { messages: Message[] }).messages;
const to = (path: string) => (call: Received) => call.path === path;
const FAULTY = [
  [{ colour: 'moss' }, '/colour'],
  [{ choices: { 'waitlist.new': { channels: ['chat'] } } }, '/choices/waitlist.new/channels'],
  [{ choices: { 'waitlist.confirm': { channels: ['text'] } } }, '/choices/waitlist.confirm/channels/0'],
  [
    { choices: { 'waitlist.joined': { channels: ['email'], to: ['olive@quillfern.example'] } } },
    '/choices/waitlist.joined/to',
  ],
  [{ logo: { type: 'image/svg+xml', data: 'PHN2Zz4=' } }, '/logo/type'],
] as const;

describe('the ways that messages go', () => {
  it.each(FAULTY)('%j are refused with the fault named', async (body, pointer) => {
    const answer = await put(body);
    expect(answer.status).toBe(422);
    const { errors } = answer.body as { errors: { pointer: string }[] };
    expect(errors.map((error) => error.pointer)).toContain(pointer);
  });

  it('are e-mail to all until the owner chooses', async () => {
    expect(await settings()).toMatchObject({ design: 'note', logo: null, text: null, chat: null, choices: {} });
  });

  it('are those that the owner chose, each told once: text to who has a number, chat and chosen people of the shop', async () => {
    const chosen = {
      text: { url: `${outside.url}/text`, secret: 'made-up' },
      chat: { url: `${outside.url}/chat` },
      telephones: ['+351210000009'],
      choices: {
        'waitlist.joined': { channels: ['text'] },
        'waitlist.new': { channels: ['email', 'text', 'chat'], to: ['yard@quillfern.example'] },
      },
    };
    expect((await put(chosen)).status).toBe(204);
    outside.answer('/chat', 500);
    await join('c-1');
    await join('c-1');
    const [texted, chat, letter] = await Promise.all([
      outside.call(({ body }) => body.includes('+351210000001')),
      outside.call(to('/chat')),
      mail.letter((one) => one.to === 'yard@quillfern.example'),
      outside.call(({ body }) => body.includes('+351210000009')),
    ]);
    expect(JSON.parse(texted.body)).toMatchObject({ to: '+351210000001', text: 'You are on the waitlist for Fern' });
    expect(texted.headers.authorization).toBe('Bearer made-up');
    expect((JSON.parse(chat.body) as { text: string }).text).toContain(
      'See the list: http://understudy.test/waitlists',
    );
    expect(letter.subject).toBe('Ada Finch waits for Fern');
    expect(mail.letters.map((one) => one.to)).not.toContain('ada.finch@quillfern.example');
    // Refused once, it comes again, known by its key as the same.
    const again = await outside.call((call) => call.path === '/chat' && call !== chat);
    expect(again.headers['idempotency-key']).toBe(chat.headers['idempotency-key']);
    expect(outside.all.filter(to('/text'))).toHaveLength(2);
  });

  it('have nobody told where the person has no number', async () => {
    const before = outside.all.filter(to('/text')).length;
    await join('c-2');
    await outside.call(({ body, path }) => path === '/text' && body.includes('Bram Oakes waits'));
    expect(outside.all.filter(to('/text'))).toHaveLength(before + 1);
  });
});

describe('a program that is told', () => {
  it('gets signed events without anybody’s links, and is left alone once it is gone', async () => {
    const made = await server.send('POST', '/api/web-hooks', {
      body: { url: `${outside.url}/program`, events: ['waitlist.new', 'waitlist.joined'] },
    });
    const { id, secret } = made.body as { id: string; secret: string };
    expect((await server.send('POST', `/api/web-hooks/${id}/trials`)).status).toBe(202);
    const trial = await outside.call(to('/program'));
    const signed = new Webhook(secret);
    const at = new Date(Number(trial.headers['webhook-timestamp']) * 1000);
    const key = String(trial.headers['webhook-id']);
    expect(signed.sign(key, at, trial.body)).toBe(trial.headers['webhook-signature']);
    expect(JSON.parse(trial.body)).toMatchObject({
      type: 'waitlist.new',
      trial: true,
      data: { product: 'Hepatica ‘Inkwell’' },
    });
    expect(trial.body).not.toMatch(/"link"|"leave"/);

    await server.db.query("UPDATE waitlist_entries SET state = 'left'");
    await join('c-1');
    const joined = await outside.call(({ path, body }) => path === '/program' && body.includes('waitlist.joined'));
    expect(JSON.parse(joined.body)).toMatchObject({
      timestamp: '2026-11-25T10:00:00.000Z',
      data: { email: 'ada.finch@quillfern.example', product: 'Fern', position: 1 },
    });
    expect(await hooks()).toMatchObject([{ id, isOn: true, events: ['waitlist.new', 'waitlist.joined'] }]);

    outside.answer('/program', 410);
    const before = outside.all.length;
    await server.send('POST', `/api/web-hooks/${id}/trials`);
    await outside.call((call) => outside.all.indexOf(call) >= before && call.path === '/program');
    await expect.poll(async () => (await hooks())[0]?.isOn).toBe(false);
    expect((await server.send('DELETE', `/api/web-hooks/${id}`)).status).toBe(204);
    expect((await server.send('DELETE', `/api/web-hooks/${id}`)).status).toBe(404);
  });

  it('at a private address is not called', async () => {
    const body = { url: 'http://127.0.0.1:9/', events: ['waitlist.new'] };
    const made = await server.send('POST', '/api/web-hooks', { body });
    const { id } = made.body as { id: string };
    await server.send('POST', `/api/web-hooks/${id}/trials`);
    await expect.poll(async () => (await hooks())[0]?.lastError).toBe('private');
    await server.send('DELETE', `/api/web-hooks/${id}`);
  });
});

describe('the look of letters', () => {
  it('is the owner’s: design, colour, logo and terms; the logo goes with the letter', async () => {
    const logo = { type: 'image/gif', data: 'R0lGODlhAQABAAAAACwAAAAAAQABAAA=' };
    const look = { design: 'packet', colour: '#2E6B4F', logo, terms: { en: 'Sent from **the yard**.' } };
    expect((await put(look)).status).toBe(204);
    const words = {
      event: 'waitlist.invited',
      locale: 'en',
      subject: 'Looks',
      body: '[Go]({link})',
      to: 'a@quillfern.example',
    };
    await server.send('POST', '/api/templates/test', { body: words });
    const { html } = await mail.letter(({ subject }) => subject === 'Looks');
    expect(html).toContain('background:#2E6B4F;color:#FFFFFF');
    expect(html).toContain('src="data:image/gif;base64,R0lGODlh');
    expect(html).toContain('Sent from <strong>the yard</strong>.');
    expect(html).toContain('<a style="color:#2E6B4F" href="/"');
  });
});

describe('what is kept of a person', () => {
  it('has what was told about them to anybody, and goes with them', async () => {
    const whose = { email: 'ada.finch@quillfern.example' };
    const kept = async () => (await server.send('POST', '/api/people/export', { body: whose })).body;
    expect(await kept()).toMatchObject({ customers: [{ phone: '+351210000001' }] });
    const { messages: sent } = (await kept()) as { messages: { event: string }[] };
    expect(sent.map(({ event }) => event)).toContain('waitlist.new');
    await server.send('POST', '/api/people/erasure', { body: whose });
    expect(await kept()).toMatchObject({ customers: [], messages: [] });
    expect(await messages('search=Ada%20Finch')).toEqual([]);
  });
});
