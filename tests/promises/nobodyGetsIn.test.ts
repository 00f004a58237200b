import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CALLS } from '#core/contract/calls.ts';
import type { Call } from '#core/contract/call.ts';
import { createApp } from '../../server/app.ts';
import { Endpoints } from '../../server/http/endpoints.ts';
import { fingerprint } from '../support/fingerprint.ts';
import { fromSchema, type Schema } from '../support/fromSchema.ts';
import { partOf } from '../support/sampling.ts';
import { rawRequest } from '../support/rawRequest.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

/** Nobody gets in who may not: every call of the description, by everybody who may not make it, however it is spelt. */

let server: TestServer;
let identities: Record<string, Record<string, string>>;
let schemas: Record<string, Schema>;
let operations: Record<string, Record<string, { requestBody?: { content: Record<string, { schema: Schema }> } }>>;

beforeAll(async () => {
  server = await startShop();
  await importCsv(server, 'catalog', 'variant_id,product_id,path,title,price\nf-1,fern,/plants/fern,Shield fern,3');
  await importCsv(server, 'people', 'customer_id,email,name\nc-1,ada@quillfern.example,Ada');
  const { body } = await server.send('GET', '/api/openapi.json');
  const description = body as { paths: typeof operations; components: { schemas: typeof schemas } };
  operations = description.paths;
  schemas = description.components.schemas;
  const bearer = (token: string) => ({ Authorization: `Bearer ${token}` });
  const picker = await server.needs.links.sign('picker', server.now + 60_000, { by: 'the picker' });
  identities = {
    nobody: {},
    'a wrong key': bearer('key-of-somebody-else'),
    'an empty key': { Authorization: 'Bearer ' },
    'a visitor': bearer(await server.token('c-1', ['staff', 'owner'])),
    'the shop': bearer(await shopToken(server)),
    'the picker': bearer(picker),
    'a cookie that was made up': { Cookie: 'understudy.sid=s%3Amade-up.signature' },
  };
});
afterAll(() => server.stop());

/** Valid path and body of each call. */
function sample(call: Call): { path: string; body: string | undefined } {
  const path = call.path.replace(/\{(\w+)\}/g, (_all, name: string) =>
    name === 'id' ? '1' : name === 'number' ? '1' : 'en',
  );
  const schema = operations[call.path]?.[call.method]?.requestBody?.content['application/json']?.schema;
  if (!schema) return { path, body: undefined };
  const [value] = fc.sample(fromSchema(schema, schemas), { numRuns: 1, seed: 7 });
  return { path, body: JSON.stringify(value) };
}

/** Other spellings of an address, some of which some servers take for the same. */
const SPELLINGS: Readonly<Record<string, (path: string) => string>> = {
  'as it is': (path) => path,
  'in capitals': (path) => path.toUpperCase(),
  'its first part in capitals': (path) => path.replace(/^\/\w+/, (part) => part.toUpperCase()),
  'with two slashes before it': (path) => `/${path}`,
  'with two slashes in it': (path) => path.replace(/\/(?=[^/]+$)/, '//'),
  'with a slash after it': (path) => `${path}/`,
  'with a letter written as its code': (path) => path.replace('a', '%61').replace('v', '%76'),
  'with its slash as a code': (path) => path.replace(/\/(?=[^/]+$)/, '%2F'),
  'with a dot segment': (path) => path.replace(/\/(?=[^/]+$)/, '/./'),
  'by a detour': (path) => `/x/..${path}`,
  'by a detour through what is public': (path) => `/v1/..;/..${path}`,
  'with a parameter in it': (path) => path.replace(/\/(?=[^/]+$)/, ';x=1/'),
  'with a code after it': (path) => `${path}%00`,
  'with backslashes': (path) => path.replaceAll('/', '\\'),
  'with a file’s ending': (path) => `${path}.json`,
  'with a host in it': (path) => `http://understudy.test${path}`,
};

const isPublic = (method: string, path: string) =>
  CALLS.some(
    (call) =>
      call.auth === 'public' && call.path === path && call.method === method.replace('HEAD', 'GET').toLowerCase(),
  );
const closed = CALLS.filter(({ auth }) => auth !== 'public');
const WHO_MAY: Readonly<Record<string, Call['auth']>> = { 'the shop': 'shop', 'the picker': 'picker' };

describe('a call that is not for everybody', () => {
  it('is refused to all others with 401 before anything of it is read, and nothing changes', async () => {
    const before = await fingerprint(server.db);
    for (const call of closed) {
      const { path, body } = sample(call);
      for (const [who, headers] of Object.entries(identities)) {
        if (WHO_MAY[who] === call.auth) continue;
        const method = call.method.toUpperCase();
        const answer = await rawRequest(server.url, {
          method,
          path,
          headers: { 'Content-Type': 'application/json', ...headers },
          ...(body ? { body } : {}),
        });
        expect({ call: `${method} ${path}`, who, status: answer.status }).toEqual({
          call: `${method} ${path}`,
          who,
          status: 401,
        });
        expect(answer.headers['content-type']).toContain('application/problem+json');
      }
    }
    expect(await fingerprint(server.db)).toEqual(before);
  });

  // Each spelling tries another part of the calls, so that a day's run tries every call several times.
  it.each([...Object.keys(SPELLINGS).entries()])(
    'is refused also when its address is written %2$s',
    async (turn, spelling) => {
      const before = await fingerprint(server.db);
      for (const call of partOf(closed, 4, turn)) {
        const { path, body } = sample(call);
        const odd = SPELLINGS[spelling]?.(path) ?? path;
        for (const who of ['nobody', 'a visitor']) {
          const method = call.method.toUpperCase();
          const headers = { 'Content-Type': 'application/json', ...identities[who] };
          const answer = await rawRequest(server.url, { method, path: odd, headers, ...(body ? { body } : {}) });
          // Public pages are HTML; only API calls return JSON.
          const isAnswered = answer.status < 400 && !(answer.headers['content-type'] ?? '').includes('html');
          expect({ call: `${method} ${odd}`, isAnswered, status: answer.status }).toMatchObject({ isAnswered: false });
        }
      }
      expect(await fingerprint(server.db)).toEqual(before);
    },
  );

  it('is refused also by another method, or by a method in a header', async () => {
    const before = await fingerprint(server.db);
    const methods = ['HEAD', 'OPTIONS', 'GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'TRACE', 'PROPFIND'];
    for (const call of closed) {
      const { path, body } = sample(call);
      for (const method of methods) {
        // Anybody may read the session; only a session can end.
        if (isPublic(method, call.path)) continue;
        const override = call.method.toUpperCase();
        const headers = {
          'Content-Type': 'application/json',
          'X-HTTP-Method-Override': override,
          'X-HTTP-Method': override,
          'X-Method-Override': override,
          'X-Original-URL': path,
          'X-Rewrite-URL': path,
        };
        const answer = await rawRequest(server.url, {
          method,
          path: `${path}?_method=${override}`,
          headers,
          ...(body && method !== 'HEAD' && method !== 'TRACE' ? { body } : {}),
        });
        // Anybody may ask for the allowed methods.
        const isOpen = answer.status < 400 && !(method === 'OPTIONS' && !answer.text.includes('{'));
        expect({ call: `${method} ${path}`, isOpen, status: answer.status }).toMatchObject({ isOpen: false });
      }
    }
    expect(await fingerprint(server.db)).toEqual(before);
  });
});

describe('the server', () => {
  it('does not start with a route that has no rule of access', () => {
    const app = createApp(server.needs);
    const endpoints = new Endpoints(app, {} as ConstructorParameters<typeof Endpoints>[1]);
    app.get('/api/back-door', (_request, response) => void response.json({}));
    expect(() => {
      endpoints.seal([]);
    }).toThrow('no rule of access');
  });

  it('does not start without a call that its contract describes', () => {
    const endpoints = new Endpoints(createApp(server.needs), {} as ConstructorParameters<typeof Endpoints>[1]);
    expect(() => {
      endpoints.seal(closed.slice(0, 1));
    }).toThrow();
  });
});

describe('who is let in', () => {
  it('is asked first: a stranger’s broken or huge body is not looked at', async () => {
    const broken = await server.send('PUT', '/api/rulebook', { raw: '{"broken', asNobody: true });
    expect(broken.status).toBe(401);
    const odd = await server.send('POST', '/v1/preorders', { raw: '[', asNobody: true });
    expect(odd.status).toBe(401);
  });
});
