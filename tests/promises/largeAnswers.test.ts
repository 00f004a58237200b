import { afterAll, beforeAll, expect, it } from 'vitest';
import { manyRows } from '../support/manyRows.ts';
import { sampled } from '../support/sampling.ts';
import { startShop, type TestServer } from '../support/testServer.ts';

/** No answer may grow with the shop: with 200,000 rows in every list each is less than a megabyte, but for files. */
const ROWS = sampled(200_000, 20);
const MOST_CHARACTERS = 1_000_000;

interface Operation {
  readonly parameters?: readonly { readonly name: string; readonly in: string; readonly required?: boolean }[];
  readonly responses: Readonly<Record<string, { readonly content?: Readonly<Record<string, unknown>> }>>;
}

/** Values of parameters that a call needs, where one that is needed has none here the test fails. */
const VALUES: Readonly<Record<string, string>> = {
  product: 'p-7',
  variant: 'v-7',
  path: '/plants/7',
  surface: 'listing',
  from: '2026-01-01',
  until: '2026-12-31',
  by: 'product',
  control: 'buy',
  rule: '',
  code: 'contact',
  event: 'waitlist.joined',
  locale: 'en',
  days: '30',
};
/** Calls that answer about one thing by its number or token, and so do not grow with how many there are. */
const isOfOne = (path: string, { parameters = [] }: Operation) =>
  path.includes('{') || parameters.some(({ name, required }) => name === 'quote' && required === true);

/** Calls that refuse the shop's key, which this test does not cover, by their status. */
const REFUSED: Readonly<Record<string, number>> = {
  '/api/second-factor': 409,
  '/api/seller': 403,
  '/api/seller/goods': 403,
  '/api/seller/rulebook': 403,
  '/v1/goods': 404,
  '/v1/page-map-draft': 401,
};

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  for (const sql of manyRows(ROWS)) await server.db.query(sql);
});
afterAll(() => server.stop());

it(`every answer of a list is short with ${ROWS} rows in each`, async () => {
  const { body } = await server.send('GET', '/api/openapi.json');
  const { paths } = body as { paths: Readonly<Record<string, Readonly<Record<string, Operation>>>> };
  const asked: string[] = [];
  for (const [path, { get }] of Object.entries(paths)) {
    if (!get || isOfOne(path, get)) continue;
    const isFile = !Object.keys(get.responses['200']?.content ?? {}).includes('application/json');
    if (isFile) continue;
    const query = (get.parameters ?? []).flatMap(({ name, in: place, required }) => {
      if (place !== 'query' || required !== true) return [];
      expect(VALUES, `${path} needs ${name}`).toHaveProperty(name);
      return [[name, VALUES[name]!]];
    });
    const address = `${path}?${new URLSearchParams(query).toString()}`;
    const answer = await server.send('GET', address);
    asked.push(address);
    const characters = JSON.stringify(answer.body).length;
    expect.soft({ address, status: answer.status, isShort: characters < MOST_CHARACTERS, characters }).toMatchObject({
      address,
      isShort: true,
    });
    expect.soft([address, answer.status]).toEqual([address, REFUSED[path] ?? 200]);
  }
  expect(asked.length).toBeGreaterThan(30);
});
