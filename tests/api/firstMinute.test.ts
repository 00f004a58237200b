import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { FirstSteps } from '#core/contract/firstStepsCalls.ts';
import type { Problem } from '#core/contract/call.ts';
import { ourTexts } from '#core/texts/languages.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
let mail: Mailbox;
beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop();
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

describe('the first steps of a shop', () => {
  const steps = async () => (await server.send('GET', '/api/first-steps')).body as FirstSteps;

  it('are found to be done, one by one', async () => {
    expect(await steps()).toEqual({
      products: 0,
      people: 0,
      isPeopleSkipped: false,
      lineSeenOn: null,
      isControlFound: false,
      rules: 0,
      isPublished: false,
    });
    await importCsv(server, 'catalog', 'variant_id,title,price\nfern,Fern,3');
    await server.send('PUT', '/api/first-steps/people', { body: { isSkipped: true } });
    expect(await steps()).toMatchObject({ products: 1, isPeopleSkipped: true });
    await importCsv(server, 'people', 'customer_id,email\nc-1,ada@quillfern.example');
    expect(await steps()).toMatchObject({ people: 1 });
  });

  it('know that the line is in place by who asks for our script, Understudy’s own pages aside', async () => {
    const ask = (referer: string) => server.send('GET', '/embed.js', { headers: { referer }, asNobody: true });
    for (const page of ['', 'nonsense', 'about:blank', 'http://understudy.test/connection']) await ask(page);
    expect((await steps()).lineSeenOn).toBe(null);
    await ask('https://quillfern.example/plants/fern');
    await expect.poll(async () => (await steps()).lineSeenOn).toBe('https://quillfern.example');
    await ask('https://elsewhere.example/');
    expect((await steps()).lineSeenOn).toBe('https://quillfern.example');
  });
});

describe('a shop without a way to send letters', () => {
  it('tells no shopper that a letter was sent, and refuses a test', async () => {
    const rule = {
      id: 'wait',
      on: true,
      when: { all: [{ fact: 'product', op: 'every', value: true }] },
      then: { control: { kind: 'waitlist', per: 'product' } },
    };
    await importCsv(server, 'catalog', 'variant_id,title,price,path\nmoss,Moss,3,/plants/moss');
    await server.publish({ format: 'understudy-rulebook', version: 1, rules: [rule] });
    const join = { path: '/plants/moss', email: 'bo@quillfern.example', locale: 'en' };
    const { status, body } = await server.send('POST', '/v1/waitlist-entries', { body: join, asNobody: true });
    expect([status, (body as Problem).detail]).toEqual([409, ourTexts('en')['waitlist.noLetters']]);
    const { rows } = await server.db.query('SELECT FROM messages');
    expect(rows).toEqual([]);
    const letter = { body: { to: 'olive@quillfern.example' } };
    expect((await server.send('POST', '/api/messages/letter', letter)).status).toBe(409);
  });
});

describe('a test letter', () => {
  it('goes out at once, and the mail server’s answer is told', async () => {
    const sending = await startShop({ smtpUrl: mail.smtpUrl });
    const letter = { body: { to: 'olive@quillfern.example' } };
    const { body } = await sending.send('POST', '/api/messages/letter', letter);
    expect(body).toMatchObject({ isTaken: true, answer: expect.stringMatching(/^250/) as string });
    expect((await mail.letter(({ subject }) => subject === 'Letters go out')).to).toBe('olive@quillfern.example');
    await sending.stop();
  });

  it('that is not taken says why', async () => {
    const refusing = createServer((socket) => socket.end('554 No service here\r\n')).listen(0, '127.0.0.1');
    await new Promise((resolve) => refusing.once('listening', resolve));
    const { port } = refusing.address() as AddressInfo;
    const sending = await startShop({ smtpUrl: `smtp://127.0.0.1:${port}` });
    const { body } = await sending.send('POST', '/api/messages/letter', { body: { to: 'olive@quillfern.example' } });
    expect(body).toMatchObject({ isTaken: false, answer: expect.stringContaining('554 No service here') as string });
    await sending.stop();
    refusing.close();
  });
});
