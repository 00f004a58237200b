import { deleteKey, listKeys, postKey, type ProgramKey } from '#core/contract/keyCalls.ts';
import { record } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { notFound } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { allKeys, createKey, revokeKey, type KeyRow } from './keyQueries.ts';

/** Keys with which programs act for the shop. */
export function keyRoutes(endpoints: Endpoints, { db, clock }: Pick<Services, 'db' | 'clock'>): void {
  const now = () => new Date(clock());

  route(endpoints, listKeys, async () => reply(200, (await allKeys(db)).map(keyOf)));

  route(endpoints, postKey, async ({ body: { name, scopes } }, { request }) => {
    const by = whoIs(request);
    const made = await db.transaction(async (client) => {
      const created = await createKey(client, { name: name.trim(), scopes, madeBy: by, madeAt: now() });
      await record(client, now(), by, 'created a key', { key: created.id, name, scopes });
      return created;
    });
    return reply(201, made, { 'Cache-Control': 'no-store' });
  });

  route(endpoints, deleteKey, async ({ params: { id } }, { request }) => {
    const by = whoIs(request);
    await db.transaction(async (client) => {
      const name = await revokeKey(client, id, by, now());
      if (name === null) throw notFound(`key ${id}`);
      await record(client, now(), by, 'revoked a key', { key: id, name });
    });
    return reply(204, undefined);
  });
}

const keyOf = ({ madeAt, usedAt, revokedAt, ...key }: KeyRow): ProgramKey => ({
  ...key,
  madeAt: madeAt.toISOString(),
  usedAt: usedAt?.toISOString() ?? null,
  revokedAt: revokedAt?.toISOString() ?? null,
});
