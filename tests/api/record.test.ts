import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CALLS } from '#core/contract/calls.ts';
import { isPermission } from '#core/contract/permissions.ts';
import type { RecordEntry } from '#core/contract/recordCalls.ts';
import { RECORD_WORDS } from '#core/contract/recordWords.ts';
import { signedInAs, type SignedIn } from '../support/colleagues.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
let wren: SignedIn;
beforeAll(async () => {
  server = await startShop();
  wren = await signedInAs(server, 'publisher');
  await importCsv(server, 'catalog', 'variant_id,title,price,stock_quantity\nfern,Fern,3,4');
});
afterAll(() => server.stop());

const asWren = (method: string, path: string, body?: unknown, more: Record<string, string> = {}) =>
  server.send(method, path, {
    headers: { ...wren.headers, ...more },
    asNobody: true,
    ...(body === undefined ? {} : { body }),
  });
const entries = async (query = '') =>
  ((await server.send('GET', `/api/record?${query}`)).body as { entries: RecordEntry[] }).entries;
const newest = async () => (await entries('limit=1'))[0];
const rule = (id: string, name = id) => ({ id, name, on: true, when: { all: [] }, then: {} });
const draft = (...rules: readonly object[]) =>
  asWren('PUT', '/api/rulebook', { format: 'understudy-rulebook', version: 1, rules }, { 'If-Match': '*' });

describe('the record', () => {
  it('has words for every call that is written down, and for no other', () => {
    const changing = CALLS.filter(
      ({ method, auth }) =>
        method !== 'get' && isPermission(auth) && !['self', 'read', 'readRequests', 'follow', 'readOwn'].includes(auth),
    );
    expect(Object.keys(RECORD_WORDS).sort()).toEqual(changing.map(({ method, path }) => `${method} ${path}`).sort());
  });

  it('says who did what to what and when, with the change itself', async () => {
    await asWren('PUT', '/api/stock', [{ variantId: 'fern', quantity: 9 }]);
    expect(await newest()).toMatchObject({
      who: 'The publisher',
      did: 'put /api/stock',
      at: '2026-11-25T10:00:00.000Z',
    });
    await asWren('PUT', '/api/stock', [{ variantId: 'fern', quantity: 8 }]);
    expect((await newest())?.detail).toEqual({ times: 2 });
    const count = (await entries('limit=200')).length;
    expect((await asWren('PUT', '/api/stock', [{ variantId: 'fern', quantity: 'many' }])).status).not.toBe(204);
    expect((await asWren('PUT', '/api/messages/settings', {})).status).toBe(403);
    expect((await asWren('POST', '/api/rehearsal/rows', {})).status).not.toBe(403);
    expect(await entries('limit=200')).toHaveLength(count);
  });

  it('holds one entry for a draft that is written bit by bit, with the rules as they were', async () => {
    await draft(rule('a'), rule('b', 'Second'));
    await draft(rule('a', 'First'), rule('b', 'Second'));
    await draft(rule('a', 'First'), rule('b', 'Second'));
    const [now, ...others] = await entries('search=draft');
    expect(now?.detail).toMatchObject({ rules: ['a', 'Second', 'First'], before: { a: null, b: null } });
    expect(others).toEqual([]);
    await asWren('PUT', '/api/stock', [{ variantId: 'fern', quantity: 1 }]);
    await draft(rule('a', 'First'));
    expect((await newest())?.detail).toMatchObject({ rules: ['Second'], before: { b: { name: 'Second' } } });
    server.now += 11 * 60_000;
    await draft();
    expect(await entries('search=draft')).toHaveLength(3);
  });

  it('is searched by who, what and about what, page by page, and exported', async () => {
    const all = (await server.send('GET', '/api/record?limit=2')).body as {
      entries: RecordEntry[];
      total: number;
      more: boolean;
    };
    expect(all).toMatchObject({ more: true, total: expect.any(Number) as number });
    const next = await entries(`limit=2&after=${all.entries[1]!.id}`);
    expect(next[0]!.id).toBeLessThan(all.entries[1]!.id);
    expect((await entries('search=changed stock')).every(({ did }) => did === 'put /api/stock')).toBe(true);
    expect(await entries('search=changed stock')).not.toEqual([]);
    expect(await entries(`who=${encodeURIComponent('The publisher')}&search=invited`)).toEqual([]);
    expect(await entries('search=invited a colleague')).toMatchObject([{ detail: { name: 'The publisher' } }]);
    const { body } = await server.send('GET', '/api/record.csv?search=stock');
    expect(body).toMatch(/^\uFEFF?at,who,email,did,about/);
    expect(body).toContain('The publisher,publisher@quillfern.example,changed stock');
  });

  it('does not keep what was sent', async () => {
    await asWren('POST', '/api/people/export', { email: 'secret@quillfern.example' });
    expect(JSON.stringify(await entries('limit=200'))).not.toContain('secret@quillfern.example');
  });

  it('tells colleagues of the same name apart by number and address, and programs have neither', async () => {
    const other = await signedInAs(server, 'publisher', { email: 'second-wren@quillfern.example' });
    for (const who of [wren, other])
      await server.send('PUT', '/api/first-steps/people', {
        body: { isSkipped: true },
        headers: who.headers,
        asNobody: true,
      });
    await server.send('PUT', '/api/first-steps/people', { body: { isSkipped: true } });
    const [program, second, first] = await entries('limit=3');
    expect(first?.who).toBe(second?.who);
    expect(second).toMatchObject({ email: 'second-wren@quillfern.example', staffId: expect.any(Number) as number });
    expect(first?.staffId).not.toBe(second?.staffId);
    expect(program).toMatchObject({ staffId: null, email: null });
    expect(
      (await entries('who=second-wren@quillfern.example')).every(({ staffId }) => staffId === second?.staffId),
    ).toBe(true);
  });
});
