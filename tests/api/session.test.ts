import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Problem } from '#core/contract/call.ts';
import type { RecordEntry } from '#core/contract/recordCalls.ts';
import type { Session } from '#core/contract/sessionCalls.ts';
import {
  OWNER,
  SETUP_TOKEN,
  SHOP,
  startServer,
  startShop,
  type Answer,
  type TestServer,
} from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

const asNobody = true;
const signIn = (email: string, password: string) =>
  server.send('POST', '/api/session', { body: { email, password }, asNobody });
const setCookie = ({ headers }: Answer, name = 'understudy.sid') =>
  headers.getSetCookie().find((line) => line.startsWith(`${name}=`)) ?? '';
const cookieOf = (answer: Answer, name?: string) => setCookie(answer, name).split(';')[0] ?? '';
const setup = (token: string) =>
  server.send('POST', '/api/setup', { body: { token, shop: SHOP, owner: OWNER }, asNobody });

describe('setting up', () => {
  it('before it, shops’ pages and owners get a plain answer', async () => {
    const session = await server.send('GET', '/api/session', { asNobody });
    expect(session.body).toEqual({ user: null, csrfToken: null, setUp: false, sendsLetters: false });
    expect((await server.send('GET', '/v1/decisions?surface=product&id=x')).status).toBe(503);
    expect((await server.send('GET', '/embed.js')).status).toBe(503);
  });

  it('takes the right link, a real time zone, and happens once', async () => {
    expect((await setup('guessed')).status).toBe(403);
    const nowhere = { token: SETUP_TOKEN, shop: { ...SHOP, zone: 'Europe/Nowhere' }, owner: OWNER };
    const refused = await server.send('POST', '/api/setup', { body: nowhere, asNobody });
    expect((refused.body as Problem).errors?.[0]?.pointer).toBe('/shop/zone');
    const answers = await Promise.all([setup(SETUP_TOKEN), setup(SETUP_TOKEN)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    expect((await setup(SETUP_TOKEN)).status).toBe(409);
  });
});

describe('a session', () => {
  it('is held by a cookie that scripts cannot read, and reads without more', async () => {
    const signedIn = await signIn(OWNER.email.toUpperCase(), OWNER.password);
    expect(signedIn.body).toMatchObject({ user: { name: OWNER.name }, setUp: true });
    const line = setCookie(signedIn);
    expect(line).toMatch(/HttpOnly/i);
    expect(line).toMatch(/SameSite=Lax/i);
    const read = await server.send('GET', '/api/rulebook', { headers: { cookie: cookieOf(signedIn) }, asNobody });
    expect(read.status).toBe(200);
  });

  it('changes nothing without its CSRF token, and ends for good', async () => {
    const signedIn = await signIn(OWNER.email, OWNER.password);
    const cookie = cookieOf(signedIn);
    const publish = (headers: Record<string, string>) =>
      server.send('POST', '/api/editions', { headers: { cookie, ...headers }, asNobody });
    expect((await publish({})).status).toBe(403);
    expect((await publish({ 'X-CSRF-Token': 'guessed' })).status).toBe(403);
    const token = (signedIn.body as Session).csrfToken ?? '';
    expect((await publish({ 'X-CSRF-Token': token })).status).toBe(201);
    const headers = { cookie, 'X-CSRF-Token': token };
    expect((await server.send('DELETE', '/api/session', { headers, asNobody })).status).toBe(204);
    expect((await server.send('GET', '/api/rulebook', { headers, asNobody })).status).toBe(401);
  });

  it('is not given for a wrong password, and after nine wrong ones one has to wait, for a minute at most', async () => {
    const answers: number[] = [];
    for (let count = 0; count < 10; count++) answers.push((await signIn('who@quillfern.example', 'wrong')).status);
    expect(answers).toEqual([...Array<number>(9).fill(401), 429]);
    const refused = await signIn('who@quillfern.example', 'wrong');
    expect(Number(refused.headers.get('Retry-After'))).toBeLessThanOrEqual(60);
    expect((await signIn(OWNER.email, OWNER.password)).status).toBe(200);
  });

  it('is the same whoever asks and whatever is wrong', async () => {
    const wrong = (await signIn(OWNER.email, 'wrong')).body as Problem;
    const unknown = (await signIn('nobody@quillfern.example', 'wrong')).body as Problem;
    expect({ ...wrong, requestId: '' }).toEqual({ ...unknown, requestId: '' });
  });
});

describe('the owner’s key', () => {
  it('acts without a session; another key, or none, does not', async () => {
    expect((await server.send('GET', '/api/rulebook')).status).toBe(200);
    for (const headers of [{ Authorization: 'Bearer wrong' }, { Authorization: 'Basic b2xpdmU6eA==' }, {}]) {
      const answer = await server.send('GET', '/api/rulebook', { headers, asNobody });
      expect(answer.status).toBe(401);
      expect(answer.headers.get('Content-Type')).toContain('application/problem+json');
    }
  });
});

describe('the rest of the server', () => {
  it('says that it lives and can serve', async () => {
    expect((await server.send('GET', '/health', { asNobody })).body).toEqual({ status: 'alive' });
    expect((await server.send('GET', '/ready', { asNobody })).status).toBe(200);
  });

  it('answers addresses that do not exist with a problem', async () => {
    for (const path of ['/api/nothing', '/v1/nothing', '/%E0%A4%A']) {
      const answer = await server.send('GET', path);
      expect([400, 404]).toContain(answer.status);
      expect(answer.headers.get('Content-Type')).toContain('application/problem+json');
    }
  });

  it('keeps its pages to themselves', async () => {
    const { headers } = await server.send('GET', '/health', { asNobody });
    expect(headers.get('X-Powered-By')).toBeNull();
    const policy = (await server.send('GET', '/api/session')).headers.get('Content-Security-Policy') ?? '';
    expect(policy).toContain("script-src 'self'");
    expect(policy).not.toContain('unsafe');
  });
});

describe('signing in', () => {
  let shop: TestServer;
  beforeAll(async () => {
    shop = await startShop();
  });
  afterAll(() => shop.stop());
  const tries = (email: string, password: string) =>
    shop.send('POST', '/api/session', { body: { email, password }, asNobody });

  it('is recorded, and so is what failed and signing out', async () => {
    await tries(OWNER.email, 'wrong');
    await tries(OWNER.email, 'wrong');
    const signedIn = await tries(OWNER.email, OWNER.password);
    const headers = { cookie: cookieOf(signedIn), 'X-CSRF-Token': (signedIn.body as Session).csrfToken ?? '' };
    await shop.send('DELETE', '/api/session', { headers, asNobody });
    const { entries } = (await shop.send('GET', '/api/record?limit=3')).body as { entries: RecordEntry[] };
    expect(entries).toMatchObject([
      { who: OWNER.name, email: OWNER.email, did: 'signed out' },
      { who: OWNER.name, email: OWNER.email, did: 'signed in' },
      { who: OWNER.email, did: 'failed to sign in', detail: { tries: 2 } },
    ]);
  });

  it('is slowed for a network that tries many names, whichever they are', async () => {
    // The shop was set up from here.
    await shop.db.query('DELETE FROM rate_limits');
    const refused: Answer[] = [];
    for (let name = 0; name < 44; name += 1) {
      const answer = await tries(`p-${name}@quillfern.example`, 'wrong');
      if (answer.status !== 401) refused.push(answer);
    }
    // Forty are free, and one more in this minute.
    expect(refused).toHaveLength(3);
    for (const { status, headers } of refused) {
      expect(status).toBe(429);
      expect(Number(headers.get('Retry-After'))).toBeLessThanOrEqual(60);
    }
  });
});
