import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Understudy } from './understudy.ts';

/** A server that answers as it is told, and keeps what it was asked. */
let answer: { status: number; body: string } | 'never';
let requests: { method: string; url: string; headers: IncomingMessage['headers']; body: string }[];
let understudy: Understudy;
const server = createServer((request, response) => {
  void text(request).then((body) => {
    requests.push({ method: request.method ?? '', url: request.url ?? '', headers: request.headers, body });
    if (answer !== 'never') response.writeHead(answer.status).end(answer.body);
  });
});

beforeEach(async () => {
  answer = { status: 200, body: '{}' };
  requests = [];
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  understudy = new Understudy({ url: `http://127.0.0.1:${port}`, visitorSecret: 'a secret', timeoutMs: 200 });
});
afterEach(async () => {
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
});

const LINES = [{ variantId: 'fern-1', quantity: 2 }];
const claimsOf = (token: string) =>
  JSON.parse(Buffer.from(token.split('.')[1] ?? '', 'base64url').toString()) as object;

describe('what cannot be asked', () => {
  it.each([
    ['is not answered in time', () => (answer = 'never')],
    ['is refused', () => (answer = { status: 503, body: '{}' })],
    ['is answered with half a body', () => (answer = { status: 200, body: '{"ok":' })],
    [
      'has no server',
      () => {
        server.close();
        server.closeAllConnections();
      },
    ],
  ])('is not sold: where it %s', async (_how, make) => {
    make();
    const verdict = await understudy.guard({ via: 'cart', lines: LINES });
    expect(verdict).toMatchObject({
      ok: false,
      isAnswered: false,
      lines: [{ variantId: 'fern-1', ok: false, text: null }],
    });
    expect(await understudy.quotedCart('token')).toEqual([]);
    expect(await understudy.grant('c-1', [{ role: 'member' }])).toBe(false);
    if (!server.listening) await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  });
});

describe('what is said with a question', () => {
  it('is whom it is for, by a token of an hour; a guest has none', async () => {
    answer = { status: 200, body: JSON.stringify({ ok: true, refusal: null, delivery: null, lines: [] }) };
    await understudy.guard({
      via: 'order',
      lines: LINES,
      method: 'card',
      visitor: { id: 'c-1', roles: [] },
      locale: 'fr',
    });
    const { visitor, ...body } = JSON.parse(requests[0]?.body ?? '') as { visitor: string };
    expect(body).toEqual({ via: 'order', lines: LINES, method: 'card', locale: 'fr' });
    const now = Date.now() / 1000;
    const claims = claimsOf(visitor) as { sub: string; roles: string[]; exp: number };
    expect(claims).toMatchObject({ sub: 'c-1', roles: [] });
    expect(Math.abs(claims.exp - now - 3600)).toBeLessThan(5);
    expect(understudy.visitorToken(null)).toBeNull();
  });

  it('of an order is that the shop’s own server asks', async () => {
    await understudy.takeOrder({ order: '7', lines: LINES, email: 'wren@quillfern.example' });
    const [request] = requests;
    expect(request).toMatchObject({ method: 'POST', url: '/v1/preorders' });
    expect(claimsOf(request?.headers.authorization?.replace('Bearer ', '') ?? '')).toMatchObject({
      aud: 'understudy-shop',
    });
    expect(JSON.parse(request?.body ?? '')).toEqual({ order: '7', lines: LINES, email: 'wren@quillfern.example' });
  });
});
