import { afterAll, beforeAll, expect, it } from 'vitest';
import { signedInAs, signedInFor, type SignedIn } from '../support/colleagues.ts';
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

/** Calls that refuse the owner, by their status: the picker's answers about one page. */
const REFUSED: Readonly<Record<string, number>> = { '/v1/page-map-draft': 401 };

let server: TestServer;
let owner: SignedIn;
/** A seller whose products are all of the shop's. */
let seller: SignedIn;
beforeAll(async () => {
  server = await startShop();
  const { body } = await server.send('POST', '/api/sellers', {
    body: { name: 'Tidewater Ferns', names: ['Tidewater Ferns'] },
  });
  owner = await signedInAs(server, 'owner');
  seller = await signedInFor(server, (body as { id: string }).id, 'ida@quillfern.example');
  for (const sql of manyRows(ROWS)) await server.db.query(sql);
  await server.db.query(`UPDATE products SET seller = 'Tidewater Ferns'`);
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
    const { headers } = /^\/api\/seller(\/|$)/.test(path) ? seller : owner;
    const answer = await server.send('GET', address, { headers, asNobody: true });
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
