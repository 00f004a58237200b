import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Import } from '#core/contract/importCalls.ts';
import type { ProgramKey } from '#core/contract/keyCalls.ts';
import { signedInAs, type SignedIn } from '../support/colleagues.ts';
import { OWNER_KEY, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
let owner: SignedIn;
beforeAll(async () => {
  server = await startShop();
  owner = await signedInAs(server, 'owner', { email: 'rowan@quillfern.example' });
});
afterAll(() => server.stop());

const asOwner = (method: string, path: string, body?: unknown) =>
  server.send(method, path, { headers: owner.headers, asNobody: true, ...(body === undefined ? {} : { body }) });
const bearer = (key: string) => ({ headers: { Authorization: `Bearer ${key}` }, asNobody: true as const });
const make = async (name: string, scopes: readonly string[]) =>
  (await asOwner('POST', '/api/keys', { name, scopes })).body as { id: number; key: string };
const keys = async () => (await asOwner('GET', '/api/keys')).body as ProgramKey[];

describe('keys for programs', () => {
  it('end the owner’s key with the first of them, which says so', async () => {
    expect((await server.send('GET', '/api/shop', bearer(OWNER_KEY))).status).toBe(200);
    await make('The till', ['catalog']);
    const { status, body } = await server.send('GET', '/api/shop', bearer(OWNER_KEY));
    expect(status).toBe(401);
    expect(JSON.stringify(body)).toContain('ended when this shop’s first key was made');
  });

  it('are shown once, kept as a hash, and say when they were last used', async () => {
    const { id, key } = await make('Night run', ['read']);
    expect(key).toMatch(/^understudy_[\w-]{43}$/);
    const one = async () => (await keys()).find((listed) => listed.id === id);
    expect(await one()).toMatchObject({ name: 'Night run', scopes: ['read'], ending: key.slice(-4), usedAt: null });
    expect(JSON.stringify(await keys())).not.toContain(key);
    const { rows } = await server.db.query<{ hash: Buffer }>(
      'SELECT key_hash AS hash FROM program_keys WHERE id = $1',
      [id],
    );
    expect(rows[0]?.hash).toEqual(createHash('sha256').update(key).digest());
    server.now = Date.parse('2026-11-25T10:30:40Z');
    expect((await server.send('GET', '/api/shop', bearer(key))).status).toBe(200);
    expect(await one()).toMatchObject({ usedAt: '2026-11-25T10:30:00.000Z' });
  });

  it('act under their own name, and are refused once they are revoked', async () => {
    const { id, key } = await make('The autumn pipeline', ['rules']);
    const document = (await server.send('GET', '/api/rulebook', bearer(key))).body;
    const headers = { ...bearer(key).headers, 'If-Match': '*' };
    await server.send('PUT', '/api/rulebook', { body: document, headers, asNobody: true as const });
    expect((await server.send('POST', '/api/editions', bearer(key))).status).toBe(201);
    const { body } = await asOwner('GET', '/api/editions');
    expect(JSON.stringify(body)).toContain('the program “The autumn pipeline”');
    expect((await asOwner('DELETE', `/api/keys/${id}`)).status).toBe(204);
    expect((await server.send('GET', '/api/rulebook', bearer(key))).status).toBe(401);
    expect((await asOwner('DELETE', `/api/keys/${id}`)).status).toBe(404);
    expect((await keys()).find((listed) => listed.id === id)).toMatchObject({ revokedBy: 'The owner' });
  });

  it('bring in, follow and undo what they are for, and nothing else', async () => {
    const { key: people } = await make('The customer list', ['people']);
    const { key: catalog } = await make('The warehouse', ['catalog']);
    const csv = (content: string, key: string) => ({
      raw: content,
      headers: { ...bearer(key).headers, 'Content-Type': 'text/csv' },
      asNobody: true as const,
    });
    const rows = 'customer_id,email,name\nc-1,ada@quillfern.example,Ada';
    expect((await server.send('POST', '/api/people/import', csv(rows, catalog))).status).toBe(403);
    expect((await server.send('POST', '/api/people/import', csv(rows, people))).status).toBe(200);
    const listed = async (key: string) =>
      ((await server.send('GET', '/api/imports', bearer(key))).body as { imports: Import[] }).imports;
    expect(await listed(catalog)).toEqual([]);
    const [brought] = await listed(people);
    expect(brought).toMatchObject({ target: 'people', madeBy: 'the program “The customer list”' });
    const job = `/api/jobs/${brought!.id}`;
    expect((await server.send('GET', job, bearer(catalog))).status).toBe(403);
    expect((await server.send('GET', job, bearer(people))).status).toBe(200);
    const undoing = `/api/imports/${brought!.id}/undoing`;
    expect((await server.send('POST', undoing, bearer(catalog))).status).toBe(403);
    expect((await server.send('POST', undoing, bearer(people))).status).toBe(202);
    expect((await server.send('GET', '/api/people', bearer(people))).status).toBe(403);
  });

  it('need a name and something to be good for', async () => {
    expect((await asOwner('POST', '/api/keys', { name: ' ', scopes: ['read'] })).status).toBe(422);
    expect((await asOwner('POST', '/api/keys', { name: 'Nothing', scopes: [] })).status).toBe(422);
  });
});
