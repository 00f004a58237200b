import type { OpenSession } from '#core/contract/sessionCalls.ts';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Colleague } from '#core/contract/colleagueCalls.ts';
import type { Problem } from '#core/contract/call.ts';
import { PASSWORD, signedInAs } from '../support/colleagues.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { OWNER, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
let mail: Mailbox;
beforeEach(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
});
afterEach(async () => {
  await server.stop();
  await mail.stop();
});

const asNobody = true;
const WREN = { name: 'Wren Alder', email: 'wren@quillfern.example', role: 'editor' } as const;
const colleagues = async () => (await server.send('GET', '/api/colleagues')).body as Colleague[];
const tokenIn = (text: string) => /token=(\S+)/.exec(text)?.[1] ?? '';
const choose = (token: string, password: string = PASSWORD) =>
  server.send('POST', '/api/password', { body: { token, password }, asNobody });
const signIn = (email: string, password: string) =>
  server.send('POST', '/api/session', { body: { email, password }, asNobody });

describe('a colleague', () => {
  it('is invited by a letter that nobody else can read, chooses a password once, and is in', async () => {
    const invited = await server.send('POST', '/api/colleagues', { body: WREN });
    expect(invited).toMatchObject({ status: 201, body: { link: null } });
    const letter = await mail.letter(({ to }) => to === WREN.email);
    expect(letter.text).toContain('http://understudy.test/password?token=');
    const { body: messages } = await server.send('GET', '/api/messages');
    expect(JSON.stringify(messages)).not.toContain('token=');
    expect(await colleagues()).toMatchObject([{ role: 'owner' }, { name: WREN.name, role: 'editor', isInvited: true }]);
    expect((await signIn(WREN.email, '')).status).toBe(422);
    expect((await signIn(WREN.email, 'anything at all')).status).toBe(401);
    const token = tokenIn(letter.text);
    const inside = await choose(token);
    expect(inside.body).toMatchObject({ user: { name: WREN.name, role: 'editor' } });
    expect((await choose(token, 'another-password-of-theirs')).status).toBe(403);
    expect((await choose('made.up.token')).status).toBe(403);
    expect((await colleagues())[1]).toMatchObject({ isInvited: false, seenAt: new Date(server.now).toISOString() });
    expect((await signIn(WREN.email, PASSWORD)).status).toBe(200);
    expect((await server.send('POST', '/api/colleagues', { body: WREN })).status).toBe(409);
  });

  it('whose invitation is withdrawn or a week old cannot come in; one that is sent again can', async () => {
    const { body } = await server.send('POST', '/api/colleagues', { body: WREN });
    const { id } = body as { id: number };
    const first = tokenIn((await mail.letter(({ to }) => to === WREN.email)).text);
    server.now += 8 * 86_400_000;
    expect((await choose(first)).status).toBe(403);
    const before = mail.letters.length;
    expect((await server.send('POST', `/api/colleagues/${id}/invitation`)).status).toBe(201);
    const second = tokenIn(
      (await mail.letter(({ text }) => mail.letters.length > before && !text.includes(first))).text,
    );
    expect((await server.send('DELETE', `/api/colleagues/${id}`)).status).toBe(204);
    expect((await choose(second)).status).toBe(403);
  });

  it('is an owner as long as there is no other', async () => {
    const [olive] = await colleagues();
    const change = (id: number | undefined, role: string) =>
      server.send('PUT', `/api/colleagues/${id}`, { body: { role } });
    expect((await change(olive?.id, 'viewer')).status).toBe(409);
    expect((await server.send('DELETE', `/api/colleagues/${olive?.id}`)).status).toBe(409);
    // An invited owner does not count as one.
    const { body } = await server.send('POST', '/api/colleagues', { body: { ...WREN, role: 'owner' } });
    expect((await change(olive?.id, 'viewer')).status).toBe(409);
    await choose(tokenIn((await mail.letter(({ to }) => to === WREN.email)).text));
    const both = await Promise.all([change(olive?.id, 'viewer'), change((body as { id: number }).id, 'viewer')]);
    expect(both.map(({ status }) => status).sort()).toEqual([204, 409]);
    expect((await colleagues()).filter(({ role }) => role === 'owner')).toHaveLength(1);
  });
});

describe('a password', () => {
  it('is none that many people use, nor the name of who has it', async () => {
    await server.send('POST', '/api/colleagues', { body: WREN });
    const token = tokenIn((await mail.letter(({ to }) => to === WREN.email)).text);
    for (const password of ['1234567890', 'qwertyuiop', 'Password1234', 'aaaaaaaaaaaa', 'Wren Alder', WREN.email]) {
      const { status, body } = await choose(token, password);
      expect({ password, status, at: (body as Problem).errors?.[0]?.pointer }).toEqual({
        password,
        status: 422,
        at: '/password',
      });
    }
    expect((await choose(token, 'short')).status).toBe(422);
    expect((await choose(token)).status).toBe(200);
  });

  it('is chosen anew by a letter, which says nothing of who is there and ends every session', async () => {
    const before = await signIn(OWNER.email, OWNER.password);
    const cookie = before.headers.getSetCookie()[0]?.split(';')[0] ?? '';
    const ask = (email: string) => server.send('POST', '/api/password/letter', { body: { email }, asNobody });
    expect(await Promise.all([ask('nobody@quillfern.example'), ask(OWNER.email)])).toMatchObject([
      { status: 202 },
      { status: 202 },
    ]);
    const { text, to } = await mail.letter(() => true);
    expect(to).toBe(OWNER.email);
    // Followed twice at the same moment, it counts once.
    const both = await Promise.all([
      choose(tokenIn(text), 'thistle-and-thyme-2'),
      choose(tokenIn(text), 'thistle-and-thyme-2'),
    ]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 403]);
    expect((await signIn(OWNER.email, OWNER.password)).status).toBe(401);
    expect((await signIn(OWNER.email, 'thistle-and-thyme-2')).status).toBe(200);
    const { body } = await server.send('GET', '/api/session', { headers: { cookie }, asNobody });
    expect(body).toMatchObject({ user: null });
    expect(mail.letters).toHaveLength(1);
    // Asked for again and again, two letters go out in a quarter of an hour.
    for (let times = 0; times < 4; times += 1) expect((await ask(OWNER.email)).status).toBe(202);
    await server.send('POST', '/api/colleagues', { body: WREN });
    await mail.letter(({ to: whom }) => whom === WREN.email);
    expect(mail.letters.filter(({ to: whom }) => whom === OWNER.email)).toHaveLength(2);
  });

  it('is changed by who knows the one before, and other browsers are signed out', async () => {
    const quiet = await startShop();
    const wren = await signedInAs(quiet, 'viewer');
    const elsewhere = await quiet.send('POST', '/api/session', {
      body: { email: 'viewer@quillfern.example', password: PASSWORD },
      asNobody,
    });
    const cookie = elsewhere.headers.getSetCookie()[0]?.split(';')[0] ?? '';
    const change = (current: string) =>
      quiet.send('PUT', '/api/password', {
        body: { current, password: 'a-new-one-with-words' },
        headers: wren.headers,
        asNobody,
      });
    expect((await change('not it at all')).status).toBe(403);
    expect((await change(PASSWORD)).status).toBe(204);
    expect((await quiet.send('GET', '/api/rulebook', { headers: wren.headers, asNobody })).status).toBe(200);
    expect((await quiet.send('GET', '/api/rulebook', { headers: { cookie }, asNobody })).status).toBe(401);
    expect((await quiet.send('PUT', '/api/password', { body: { current: 'x', password: PASSWORD } })).status).toBe(409);
    await quiet.stop();
  });
});

describe('where somebody is signed in', () => {
  it('is listed by browser, and each place can be left by itself', async () => {
    const quiet = await startShop();
    const wren = await signedInAs(quiet, 'viewer');
    const firefox = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';
    const elsewhere = await quiet.send('POST', '/api/session', {
      body: { email: 'viewer@quillfern.example', password: PASSWORD },
      headers: { 'User-Agent': firefox },
      asNobody,
    });
    const cookie = elsewhere.headers.getSetCookie()[0]?.split(';')[0] ?? '';
    const mine = async () =>
      (await quiet.send('GET', '/api/sessions', { headers: wren.headers, asNobody })).body as OpenSession[];
    const [here, there, ...others] = await mine();
    expect([here?.isThis, there?.isThis, there?.browser, others]).toEqual([true, false, 'Firefox on Linux', []]);
    expect(decodeURIComponent(cookie)).not.toContain(there!.id);
    const stranger = await signedInAs(quiet, 'editor');
    const end = (headers: Readonly<Record<string, string>>) =>
      quiet.send('DELETE', `/api/sessions/${there!.id}`, { headers, asNobody });
    expect((await end(stranger.headers)).status).toBe(404);
    expect((await end(wren.headers)).status).toBe(204);
    expect(await mine()).toMatchObject([{ isThis: true }]);
    const { body } = await quiet.send('GET', '/api/session', { headers: { cookie }, asNobody });
    expect(body).toMatchObject({ user: null });
    await quiet.stop();
  });
});
