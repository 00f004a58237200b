import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Moved, PersonData } from '#core/contract/peopleCalls.ts';
import type { ResolvedAudience } from '#core/contract/audienceCalls.ts';
import type { Person } from '#core/contract/shopCalls.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

const FILE = [
  'customer_id,name,email,roles',
  'c-1,,a.finch@quillfern.example,trade',
  'c-2,Ada Finch,ada@quillfern.example,member',
  'c-3,Bram Oakes,bram@quillfern.example,',
].join('\n');

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    'variant_id,product_id,path,title,price\nfern-1,fern,/plants/fern,Shield fern,5.00\nmoss-1,moss,/plants/moss,Moss,2.00',
  );
  await importCsv(server, 'people', FILE);
  await server.publish(
    book(
      make(
        'members',
        { control: { kind: 'quote' } },
        {
          all: [
            { fact: 'product.id', op: 'in', value: ['fern'] },
            { fact: 'visitor.roles', op: 'hasAny', value: ['member'] },
          ],
        },
      ),
      make('list', { control: { kind: 'waitlist', per: 'product' } }),
    ),
  );
});
afterAll(() => server.stop());

const send = (method: string, path: string, body?: object) => server.send(method, path, body ? { body } : {});
const person = async (id: string) =>
  ((await send('GET', `/api/people?id=${id}`)).body as { people: Person[] }).people[0];
const dataOf = async (customer: string) => (await send('POST', '/api/people/export', { customer })).body as PersonData;
const join = async (customer: string, path: string) =>
  send('POST', '/v1/waitlist-entries', { path, visitor: await server.token(customer) });
const controlOf = async (customer: string) => {
  const body = { surface: 'product', products: [{ path: '/plants/fern' }], visitor: await server.token(customer) };
  const { decisions } = (await send('POST', '/v1/decisions', body)).body as {
    decisions: { control: { kind: string } }[];
  };
  return decisions[0]?.control.kind;
};

describe('a customer', () => {
  it('is added by hand, with roles, with or without an id of the shop’s', async () => {
    const roles = [{ role: 'trade', from: null, until: '2027-01-01T00:00:00.000Z' }];
    const { status, body } = await send('POST', '/api/people', {
      name: 'Cleo Marsh',
      email: 'CLEO@quillfern.example',
      roles,
    });
    expect(status).toBe(201);
    const { id } = body as { id: string };
    expect(await person(id)).toEqual({
      id,
      name: 'Cleo Marsh',
      email: 'cleo@quillfern.example',
      phone: null,
      roles: [{ code: 'trade', from: null, until: '2027-01-01T00:00:00.000Z' }],
    });
    expect((await send('POST', '/api/people', { id: 'c-9', name: 'Dora Reed' })).body).toEqual({ id: 'c-9' });
    expect((await send('POST', '/api/people', { id: 'c-9', name: 'Somebody else' })).status).toBe(409);
    expect((await person('c-9'))?.name).toBe('Dora Reed');
  });

  it('is changed in what is named and nothing else', async () => {
    expect((await send('PATCH', '/api/people/c-9', { phone: '+351210000000' })).status).toBe(204);
    expect((await send('PATCH', '/api/people/c-9', { email: 'dora@quillfern.example' })).status).toBe(204);
    expect(await person('c-9')).toMatchObject({
      name: 'Dora Reed',
      phone: '+351210000000',
      email: 'dora@quillfern.example',
    });
    expect((await send('PATCH', '/api/people/c-9', { phone: null })).status).toBe(204);
    expect((await person('c-9'))?.phone).toBeNull();
    expect((await send('PATCH', '/api/people/c-9', { phone: '021' })).status).toBe(422);
    expect((await send('PATCH', '/api/people/nobody', { name: 'X' })).status).toBe(404);
  });

  it('has other dates of a membership by dropping the one and granting the other, and keeps the rest of that role', async () => {
    const window = (from: string, until: string) => ({
      role: 'member',
      from: `${from}T00:00:00.000Z`,
      until: `${until}T00:00:00.000Z`,
    });
    const [past, next, later] = [
      window('2026-01-01', '2026-06-01'),
      window('2027-01-01', '2027-06-01'),
      window('2027-01-01', '2027-12-01'),
    ];
    await send('PUT', '/api/people/c-9/roles', { grant: [past, next] });
    expect((await send('PUT', '/api/people/c-9/roles', { drop: [next], grant: [later] })).status).toBe(204);
    expect((await person('c-9'))?.roles.map(({ from, until }) => [from, until])).toEqual(
      [past, later].map(({ from, until }) => [from, until]),
    );
  });
});

describe('two customers who are one', () => {
  it('become one, with the roles and requests of both, once where both had the same place', async () => {
    for (const id of ['c-1', 'c-2']) expect((await join(id, '/plants/moss')).status).toBe(200);
    await send('PUT', '/api/audiences', [
      { name: 'Guest', signedIn: false, roles: [] },
      { name: 'Ada', signedIn: true, roles: [], customer: 'c-2' },
    ]);
    // Held in memory as they were.
    expect([await controlOf('c-1'), await controlOf('c-2')]).toEqual(['waitlist', 'quote']);
    const { status, body } = await send('POST', '/api/people/c-1/merge', { other: 'c-2' });
    expect(status).toBe(200);
    expect(body).toEqual({ waitlists: 1, preorders: 0, quotes: 0, enquiries: 0 } satisfies Moved);
  });

  it('keep both ids, which mean the one that is left, at once and everywhere', async () => {
    const ada = {
      id: 'c-1',
      name: 'Ada Finch',
      email: 'a.finch@quillfern.example',
      roles: [{ code: 'member' }, { code: 'trade' }],
    };
    expect(await person('c-1')).toMatchObject(ada);
    expect(await person('c-2')).toMatchObject(ada);
    expect([await controlOf('c-1'), await controlOf('c-2')]).toEqual(['quote', 'quote']);
    expect((await dataOf('c-2')).waitlists).toMatchObject((await dataOf('c-1')).waitlists);
    const audiences = (await send('GET', '/api/audiences')).body as ResolvedAudience[];
    expect(audiences[1]).toMatchObject({ customer: 'c-1', person: { id: 'c-1' } });
    // Purchases of the other account are theirs.
    expect((await send('PUT', '/api/people/c-2/roles', { end: [{ role: 'member' }] })).status).toBe(204);
    expect([await controlOf('c-1'), await controlOf('c-2')]).toEqual(['waitlist', 'waitlist']);
    expect((await person('c-1'))?.roles.find(({ code }) => code === 'member')?.until).not.toBeNull();
  });

  it('stay one when a file lists both again, and when the customers that it lacks are archived', async () => {
    const report = await importCsv(server, 'people', FILE);
    expect(report.body).toMatchObject({ created: 0, kept: 1 });
    expect((await person('c-2'))?.id).toBe('c-1');
    expect((await send('GET', '/api/people?search=finch')).body).toMatchObject({ total: 1 });
  });

  it('stay when the customers that a file lacks are archived, and it names them by the id that was merged', async () => {
    const response = await server.send('POST', '/api/people/import?mode=replace&archive=true', {
      raw: FILE.split('\n')
        .filter((line) => !line.startsWith('c-1,'))
        .join('\n'),
      headers: { 'Content-Type': 'text/csv' },
    });
    expect(response.status).toBe(200);
    expect((await person('c-2'))?.id).toBe('c-1');
    expect(await person('c-9')).toBeUndefined();
  });

  it('are merged on: an id that was merged follows', async () => {
    await join('c-3', '/plants/moss');
    const { body } = await send('POST', '/api/people/c-3/merge', { other: 'c-1' });
    expect(body).toMatchObject({ waitlists: 2 });
    expect((await person('c-2'))?.id).toBe('c-3');
    expect((await dataOf('c-2')).waitlists).toHaveLength(3);
    expect((await dataOf('c-3')).waitlists.filter(({ state }) => state === 'waiting')).toHaveLength(1);
  });

  it('are refused where they are one already, or one is not there', async () => {
    expect((await send('POST', '/api/people/c-3/merge', { other: 'c-3' })).status).toBe(409);
    expect((await send('POST', '/api/people/c-3/merge', { other: 'c-1' })).status).toBe(404);
    expect((await send('POST', '/api/people/nobody/merge', { other: 'c-3' })).status).toBe(404);
    expect((await send('POST', '/api/people', { id: 'c-1', name: 'Ada again' })).status).toBe(409);
  });
});
