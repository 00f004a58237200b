import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ResolvedAudience } from '#core/contract/audienceCalls.ts';
import type { CheckedSpot } from '#core/contract/spotCheckCalls.ts';
import { visitorOf } from '#core/model/audience.ts';
import { book, everything, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

const DAY = 86_400_000;

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  const until = new Date(server.now + 10 * DAY).toISOString().slice(0, 10);
  await importCsv(
    server,
    'catalog',
    'variant_id,product_id,path,title,price\nfern-1,fern,/plants/fern,Shield fern,5.00\nmoss-1,moss,/plants/moss,Moss,2.00',
  );
  await importCsv(
    server,
    'people',
    `customer_id,name,email,roles\nc-1,Ada Finch,ada@quillfern.example,member@2026-01-01/${until}\nc-2,Bram Oakes,,`,
  );
  await server.publish(RULES);
});
afterAll(() => server.stop());

const KIND = { signedIn: true, roles: [] as string[] };
const AUDIENCES = [
  { name: 'Guest', signedIn: false, roles: [] },
  { name: 'Staff', signedIn: true, roles: ['staff'] },
  { name: 'Ada', ...KIND, customer: 'c-1' },
  { name: 'Invited', ...KIND, invited: true },
];
const put = (body: unknown) => server.send('PUT', '/api/audiences', { body });
const audiences = async () => (await server.send('GET', '/api/audiences')).body as ResolvedAudience[];

/** A quote for all but staff, members and the invited, who buy. */
const RULES = book(
  make(
    'closed',
    { control: { kind: 'quote' } },
    {
      all: [
        everything,
        { fact: 'visitor.roles', op: 'hasNone', value: ['staff', 'member'] },
        { fact: 'visitor.invited', op: 'is', value: false },
      ],
    },
  ),
);

/** For whom, and when, the rules would change something: in days from now. */
async function impact(days: number) {
  const at = new Date(server.now + days * DAY).toISOString();
  const body = { from: { edition: 0 }, to: 'live', at, limit: 100 };
  const { changes } = (await server.send('POST', '/api/rehearsal/impact', { body })).body as {
    changes: { audience: string; variant: string }[];
  };
  return [...new Set(changes.map(({ audience }) => audience))].sort();
}

describe('audiences', () => {
  it('are of a kind, of one customer as they are, or of those whose turn it is', async () => {
    expect((await put(AUDIENCES)).status).toBe(204);
    expect(await audiences()).toMatchObject([
      { name: 'Guest', customer: null, invited: false, person: null },
      { name: 'Staff', roles: ['staff'], person: null },
      { name: 'Ada', customer: 'c-1', person: { id: 'c-1', name: 'Ada Finch', roles: [{ code: 'member' }] } },
      { name: 'Invited', invited: true, person: null },
    ]);
  });

  it('stand for visitors: a customer with what they have and until when, the invited with a turn for whatever is there', async () => {
    const [guest, , ada, invited] = (await audiences()).map(visitorOf);
    expect(guest).toMatchObject({ signedIn: false, customerId: null, invitations: [] });
    expect(ada).toMatchObject({ customerId: 'c-1', roles: [{ code: 'member', until: expect.any(Number) as number }] });
    expect(invited?.invitations).toEqual([{ to: 'any', id: '', until: null }]);
  });

  it('each count in what a draft changes: staff see what others do not, a member until their membership ends', async () => {
    expect(await impact(0)).toEqual(['Guest']);
    expect(await impact(30)).toEqual(['Ada', 'Guest']);
  });

  it('are kept with a spot check, which looks at the customer as they are then', async () => {
    const check = { variant: 'fern-1', surface: 'product', expects: { kind: 'buy', label: null, priceShown: null } };
    const keep = (visitor: object, at: number | null) =>
      server.send('POST', '/api/spot-checks', {
        body: { ...check, visitor, at: at === null ? null : new Date(at).toISOString(), blocks: true },
      });
    await keep(AUDIENCES[2]!, null);
    await keep(AUDIENCES[2]!, server.now + 30 * DAY);
    await keep(AUDIENCES[3]!, null);
    await keep(AUDIENCES[0]!, null);
    const { checks } = (await server.send('GET', '/api/spot-checks?of=live')).body as { checks: CheckedSpot[] };
    expect(checks.map(({ passes }) => passes)).toEqual([true, false, true, false]);
  });

  it('open the shop as they would see it', async () => {
    const pageMap = JSON.parse(readFileSync('demo/data/pageMaps/elements.json', 'utf8')) as object;
    await server.send('PUT', '/api/page-map', { body: { ...pageMap, site: 'http://shop.example' } });
    const seenAs = async (audience: object) => {
      const preview = await server.send('POST', '/api/previews', { body: { source: 'live', audience, at: null } });
      const visitor = decodeURIComponent(
        new URL((preview.body as { address: string }).address).hash.split('=')[1] ?? '',
      );
      const body = { surface: 'product', products: [{ path: '/plants/fern' }], visitor };
      const answer = (await server.send('POST', '/v1/decisions', { body })).body;
      return (answer as { decisions: { control: { kind: string } }[] }).decisions[0]?.control.kind;
    };
    expect(await Promise.all(AUDIENCES.map(seenAs))).toEqual(['quote', 'buy', 'buy', 'buy']);
    // The link would carry its token to whoever is there.
    for (const page of ['//elsewhere.example/', '/\\elsewhere.example/', '/\t/elsewhere.example/']) {
      const body = { source: 'live', audience: AUDIENCES[0], at: null, page };
      expect((await server.send('POST', '/api/previews', { body })).status, page).toBe(422);
    }
  });

  it('of a customer who is gone are somebody signed in; a customer has no roles beside their own', async () => {
    await put([{ name: 'Nobody', ...KIND, customer: 'c-gone' }]);
    expect((await audiences()).map(visitorOf)).toMatchObject([{ signedIn: true, roles: [], customerId: null }]);
    expect((await put([{ name: 'Ada', signedIn: true, roles: ['trade'], customer: 'c-1' }])).status).toBe(422);
    expect((await put([{ name: 'Ada', signedIn: false, roles: [], customer: 'c-1' }])).status).toBe(422);
  });
});
