import { TOTP } from 'otpauth';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Problem } from '#core/contract/call.ts';
import type { Session } from '#core/contract/sessionCalls.ts';
import { linkIn, startMailbox, type Mailbox } from '../support/mailbox.ts';
import { OWNER, startShop, type Answer, type TestServer } from '../support/testServer.ts';

const STEP_MS = 30_000;

let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const signIn = (code?: string, password = OWNER.password) =>
  server.send('POST', '/api/session', {
    body: { email: OWNER.email, password, ...(code === undefined ? {} : { code }) },
    asNobody: true,
  });
const typeOf = ({ body }: Answer) => (body as Problem).type.split(':').at(-1);

/** Calls as whoever an answer signed in. */
function as(answer: Answer, at = server) {
  const cookie = answer.headers
    .getSetCookie()
    .map((line) => line.split(';')[0])
    .join('; ');
  const token = (answer.body as Session).csrfToken ?? '';
  return (method: string, path: string, body?: object) =>
    at.send(method, path, {
      ...(body ? { body } : {}),
      headers: { cookie, 'X-CSRF-Token': token },
      asNobody: true,
    });
}

/** Code of an authenticator, some steps from now. */
const shownBy = (secret: string, steps = 0) =>
  new TOTP({ secret }).generate({ timestamp: server.now + steps * STEP_MS });
const later = () => {
  server.now += STEP_MS;
};

let me: ReturnType<typeof as>;
let secret = '';
let recovery: string[] = [];

describe('a second factor', () => {
  it('is begun with the password, and counts once a code was shown to work', async () => {
    me = as(await signIn());
    const elsewhere = as(await signIn());
    expect((await me('POST', '/api/second-factor', { password: 'another' })).status).toBe(403);
    const begun = await me('POST', '/api/second-factor', { password: OWNER.password });
    const { address, ...rest } = begun.body as { address: string; secret: string };
    ({ secret } = rest);
    expect(new URL(address)).toMatchObject({ protocol: 'otpauth:', host: 'totp' });
    expect(address).toContain(encodeURIComponent(OWNER.email));
    expect((await signIn()).status).toBe(200);
    expect((await me('PUT', '/api/second-factor', { code: '000000' })).status).toBe(403);
    const on = await me('PUT', '/api/second-factor', { code: shownBy(secret) });
    expect(on.status).toBe(200);
    ({ recoveryCodes: recovery } = on.body as { recoveryCodes: string[] });
    expect(new Set(recovery).size).toBe(10);
    expect((await me('GET', '/api/second-factor')).body).toEqual({ isOn: true, recoveryCodesLeft: 10 });
    expect((await elsewhere('GET', '/api/rulebook')).status).toBe(401);
  });

  it('is asked for after the right password alone, and says nothing to who has the wrong one', async () => {
    expect(typeOf(await signIn())).toBe('second-factor');
    expect(typeOf(await signIn(undefined, 'another'))).toBe('wrong-sign-in');
    later();
    expect(typeOf(await signIn(shownBy(secret), 'another'))).toBe('wrong-sign-in');
    expect(typeOf(await signIn('000000'))).toBe('wrong-code');
    expect((await signIn(shownBy(secret))).status).toBe(200);
  });

  it('takes no code twice, and one that is a step early or late', async () => {
    later();
    const code = shownBy(secret);
    const both = await Promise.all([signIn(code), signIn(code)]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 401]);
    expect((await signIn(code)).status).toBe(401);
    later();
    later();
    expect((await signIn(shownBy(secret, -1))).status).toBe(200);
    expect((await signIn(shownBy(secret, 1))).status).toBe(200);
    // Codes older than the last one used are refused.
    expect((await signIn(shownBy(secret))).status).toBe(401);
    server.now += 10 * STEP_MS;
    expect((await signIn(shownBy(secret, -2))).status).toBe(401);
    expect((await signIn(` ${shownBy(secret).slice(0, 3)} ${shownBy(secret).slice(3)} `)).status).toBe(200);
  });

  it('lets in by each recovery code once, however it is typed', async () => {
    const [first = '', second = ''] = recovery;
    const both = await Promise.all([signIn(first), signIn(first)]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 401]);
    expect((await signIn(second.toUpperCase().replace('-', ' '))).status).toBe(200);
    expect((await me('GET', '/api/second-factor')).body).toEqual({ isOn: true, recoveryCodesLeft: 8 });
    const anew = await me('POST', '/api/second-factor/recovery-codes', { password: OWNER.password });
    const codes = (anew.body as { recoveryCodes: string[] }).recoveryCodes;
    expect((await signIn(recovery[2])).status).toBe(401);
    expect((await signIn(codes[0])).status).toBe(200);
    recovery = codes;
  });

  it('is asked for by the letter for a forgotten password too, whose link is good until then', async () => {
    await server.send('POST', '/api/password/letter', { body: { email: OWNER.email }, asNobody: true });
    const letter = await mail.letter(({ to }) => to.includes(OWNER.email));
    const token = new URL(linkIn(letter, 'Choose a new password')).searchParams.get('token') ?? '';
    const choose = (code?: string) =>
      server.send('POST', '/api/password', {
        body: { token, password: 'rook-and-lantern-9', ...(code === undefined ? {} : { code }) },
        asNobody: true,
      });
    expect(typeOf(await choose())).toBe('second-factor');
    expect(typeOf(await choose('111111'))).toBe('wrong-code');
    later();
    expect((await choose(shownBy(secret))).status).toBe(200);
    later();
    const answer = await signIn(shownBy(secret), 'rook-and-lantern-9');
    expect(answer.status).toBe(200);
    me = as(answer);
  });

  it('cannot be guessed: after some wrong ones each further try waits, the right password notwithstanding', async () => {
    const statuses: number[] = [];
    for (let tried = 0; tried < 12; tried += 1)
      statuses.push((await signIn(String(tried).padStart(6, '0'), 'rook-and-lantern-9')).status);
    expect(statuses).toContain(429);
  });

  it('is turned off with the password and a code; an owner takes it from a colleague who lost it, and both are written down', async () => {
    const body = { password: 'rook-and-lantern-9' };
    expect((await me('POST', '/api/second-factor/removal', { password: 'another' })).status).toBe(403);
    expect(typeOf(await me('POST', '/api/second-factor/removal', body))).toBe('second-factor');
    const { body: staff } = await server.send('GET', '/api/colleagues');
    expect(staff).toMatchObject([{ hasSecondFactor: true }]);
    const [{ id }] = staff as [{ id: number }];
    expect((await server.send('DELETE', `/api/colleagues/${id}/second-factor`)).status).toBe(204);
    expect((await me('GET', '/api/second-factor')).body).toEqual({ isOn: false, recoveryCodesLeft: 0 });
    expect((await me('POST', '/api/second-factor/removal', body)).status).toBe(204);
    const { body: found } = await server.send('GET', '/api/record?search=second');
    const entries = (found as { entries: { did: string }[] }).entries.map(({ did }) => did);
    expect(entries).toEqual(
      expect.arrayContaining(['turned on the second factor', 'removed a colleague’s second factor']),
    );
    expect((await server.send('GET', '/api/second-factor')).status).toBe(409);
  });
});

describe('a code', () => {
  it('is not guessed by whoever has the password: after eight wrong ones an account waits, wherever they come from', async () => {
    const other = await startShop();
    const attempt = (code: string) =>
      other.send('POST', '/api/session', {
        body: { email: OWNER.email, password: OWNER.password, code },
        asNobody: true,
      });
    const inside = as(
      await other.send('POST', '/api/session', {
        body: { email: OWNER.email, password: OWNER.password },
        asNobody: true,
      }),
      other,
    );
    const begun = await inside('POST', '/api/second-factor', { password: OWNER.password });
    const { secret: made } = begun.body as { secret: string };
    const code = new TOTP({ secret: made }).generate({ timestamp: other.now });
    expect((await inside('PUT', '/api/second-factor', { code })).status).toBeLessThan(300);
    other.now += STEP_MS;
    const off = { password: OWNER.password, code: new TOTP({ secret: made }).generate({ timestamp: other.now }) };
    expect(typeOf(await inside('POST', '/api/second-factor/removal', { ...off, code: 'made up' }))).toBe('wrong-code');
    expect((await inside('POST', '/api/second-factor/removal', off)).status).toBe(204);
    const again = await inside('POST', '/api/second-factor', { password: OWNER.password });
    const { secret: anew } = again.body as { secret: string };
    other.now += STEP_MS;
    const shown = new TOTP({ secret: anew }).generate({ timestamp: other.now });
    expect((await inside('PUT', '/api/second-factor', { code: shown })).status).toBeLessThan(300);
    other.now += STEP_MS;
    const wrong: number[] = [];
    for (let count = 0; count < 9; count += 1) wrong.push((await attempt('000000')).status);
    expect(wrong).toEqual([...Array<number>(8).fill(401), 429]);
    await other.stop();
  });
});
