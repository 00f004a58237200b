import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoRulebook, startNursery } from '../support/demo.ts';
import { fromSchema, type Schema } from '../support/fromSchema.ts';
import { rawRequest } from '../support/rawRequest.ts';
import { IS_LONG, sampled, SEED } from '../support/sampling.ts';
import { shopToken } from '../support/shopToken.ts';
import type { TestServer } from '../support/testServer.ts';

/**
 * Every request, valid by the API's own description and then slightly changed, gets an answer that says
 * what is wrong with it, and never a failure. UNDERSTUDY_FUZZ=20 tries twenty times as much.
 */
const TIMES = Number(process.env.UNDERSTUDY_FUZZ ?? 1);
const TRIES = sampled(16, 4) * TIMES;

/** Calls that are not tried, and why. Each must be in the description. */
const UNTRIED: Readonly<Record<string, string>> = {
  'post /api/secrets/visitor': 'replaces the secret that the tokens of this test are signed with',
  'delete /api/secrets/visitor/old': 'ends the tokens of this test',
  'post /api/secrets/links': 'ends the links of this test',
  'post /api/messages/trials': 'sends over the network',
  'post /api/web-hooks/{id}/trials': 'sends over the network',
  'post /api/page-map/check': 'reads pages over the network',
  'post /api/page-map/publish': 'reads pages over the network',
};

interface Parameter {
  readonly name: string;
  readonly in: string;
  readonly required?: boolean;
  readonly schema: Schema;
}
interface Operation {
  readonly parameters: readonly Parameter[];
  readonly security: readonly Record<string, unknown>[];
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema: Schema }>> };
}

let server: TestServer;
let paths: Record<string, Record<string, Operation>>;
let schemas: Record<string, Schema>;
let tokens: Record<string, string>;
beforeAll(async () => {
  server = await startNursery();
  await server.publish(demoRulebook(new Date(server.now)));
  const { body } = await server.send('GET', '/api/openapi.json');
  const description = body as { paths: typeof paths; components: { schemas: typeof schemas } };
  paths = description.paths;
  schemas = description.components.schemas;
  tokens = {
    key: 'key-of-the-test-owner',
    shop: await shopToken(server),
    picker: await server.needs.links.sign('picker', server.now + 3_600_000, { by: 'a test' }),
  };
});
afterAll(() => server.stop());

/** Values that no parser expects. */
const ODD: readonly unknown[] = [
  null,
  '',
  ' ',
  '\0',
  '\uD800',
  'a\u2028b',
  'line\nbreak',
  'x'.repeat(3000),
  '../../etc/passwd',
  "'; DROP TABLE products; --",
  '9'.repeat(30),
  '0000-01-01T00:00:00Z',
  '9999-12-31T23:59:59.999Z',
  '2026-02-30',
  -1,
  0,
  0.5,
  1e21,
  -1e21,
  2_147_483_648,
  Number.MAX_SAFE_INTEGER + 1,
  Number.MAX_VALUE,
  true,
  [],
  {},
  [[[[[]]]]],
  { toString: 1, __proto__: null },
];

/** A value with something in it that is odd: at a place that a path of numbers chooses. */
function spoilt(value: unknown, [first = 0, ...rest]: readonly number[], odd: unknown): unknown {
  if (typeof value !== 'object' || value === null || rest.length === 0) return odd;
  if (Array.isArray(value)) {
    if (value.length === 0) return [odd];
    const at = first % value.length;
    return value.map((item: unknown, index) => (index === at ? spoilt(item, rest, odd) : item));
  }
  const keys = Object.keys(value);
  const key = keys[first % Math.max(1, keys.length)] ?? 'odd';
  return { ...value, [key]: spoilt((value as Record<string, unknown>)[key], rest, odd) };
}

const odd = fc.constantFrom(...ODD);
const place = fc.array(fc.nat({ max: 12 }), { minLength: 1, maxLength: 6 });
const mutated = (value: fc.Arbitrary<unknown>) =>
  fc.oneof(
    value,
    fc.tuple(value, place, odd).map(([whole, at, other]) => spoilt(whole, at, other)),
  );

const asText = (value: unknown) => (typeof value === 'string' ? value : JSON.stringify(value));
/** Characters possible in an address. */
const encoded = (value: unknown) => encodeURIComponent(asText(value).replace(/\p{Surrogate}/gu, '\uFFFD'));

function requests(path: string, method: string, { parameters, requestBody }: Operation) {
  const fields = (place: string) => parameters.filter((parameter) => parameter.in === place);
  const valued = (list: readonly Parameter[]) =>
    fc.record(Object.fromEntries(list.map(({ name, schema }) => [name, mutated(fromSchema(schema, schemas))])), {
      requiredKeys: list.filter(({ required }) => required).map(({ name }) => name),
    });
  const schema = requestBody?.content['application/json']?.schema;
  return fc.record({
    method: fc.constant(method.toUpperCase()),
    path: valued(fields('path')).map((values) =>
      path.replace(/\{(\w+)\}/g, (_all, name: string) => encoded((values as Record<string, unknown>)[name]) || '1'),
    ),
    query: valued(fields('query')).map((values) =>
      Object.entries(values)
        .flatMap(([name, value]) => [value].flat().map((one) => `${name}=${encoded(one)}`))
        .join('&'),
    ),
    body: schema ? mutated(fromSchema(schema, schemas)).map((value) => JSON.stringify(value)) : fc.constant(undefined),
  });
}

describe('every call of the description', () => {
  it(
    'answers made-up input with what is wrong with it, and never fails',
    async () => {
      const failures: unknown[] = [];
      const taken = new Set<string>();
      const untried: string[] = [];
      let operationsMet = 0;
      let answered = 0;
      // The key that they are made with ends with the first of the shop's own.
      const inOrder = Object.entries(paths).sort(([a], [b]) => Number(a === '/api/keys') - Number(b === '/api/keys'));
      for (const [path, operations] of inOrder) {
        for (const [method, operation] of Object.entries(operations)) {
          operationsMet += 1;
          if (`${method} ${path}` in UNTRIED) {
            untried.push(`${method} ${path}`);
            continue;
          }
          const [scheme] = operation.security.flatMap((one) => Object.keys(one));
          const token = scheme === undefined ? undefined : tokens[scheme];
          for (const request of fc.sample(requests(path, method, operation), { numRuns: TRIES, seed: SEED })) {
            const { query, body } = request;
            const answer = await rawRequest(server.url, {
              method: request.method,
              path: query === '' ? request.path : `${request.path}?${query}`,
              headers: {
                ...(token === undefined ? {} : { Authorization: `Bearer ${token}` }),
                ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
                'If-Match': '*',
                'X-Forwarded-For': `198.51.${answered % 250}.${(answered >> 8) % 250}`,
              },
              ...(body === undefined ? {} : { body }),
            });
            answered += 1;
            if (answer.status < 300) taken.add(`${method} ${path}`);
            const isProblem = answer.status < 400 || (answer.headers['content-type'] ?? '').includes('problem+json');
            if (answer.status >= 500 || !isProblem)
              failures.push({ ...request, status: answer.status, text: answer.text });
          }
        }
      }
      await server.db.query('DELETE FROM program_keys');
      expect(failures).toEqual([]);
      expect(untried.sort()).toEqual(Object.keys(UNTRIED).sort());
      expect(operationsMet).toBeGreaterThan(100);
      expect(answered).toBe((operationsMet - untried.length) * TRIES);
      // The test would find nothing if everything were refused at once.
      expect(taken.size).toBeGreaterThan(IS_LONG ? 50 : 30);
    },
    300_000 * TIMES,
  );

  it.each([
    ['half of a character', JSON.stringify({ surface: 'product', products: [{ id: '\uD83D' }] })],
    ['NUL', JSON.stringify({ surface: 'product', products: [{ id: 'a\0b' }] })],
    ['a line break in an id', JSON.stringify({ surface: 'product', products: [{ id: 'a\nb' }] })],
    ['a name that is half of a character', '{"surface":"product","products":[],"\\ud83d":1}'],
  ])('refuses %s by naming it', async (_what, raw) => {
    expect((await server.send('POST', '/v1/decisions', { raw, asNobody: true })).status).toBe(422);
  });

  it.each(['0', '-1', '2147483648', '99999999999999999999', '1e3', '1.5', 'one', '%00', '%ED%A0%80'])(
    'takes %s for no edition',
    async (number) => {
      expect([400, 404, 422]).toContain((await server.send('GET', `/api/editions/${number}`)).status);
    },
  );
});
