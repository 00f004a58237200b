import { randomBytes } from 'node:crypto';
import type { z } from 'zod';
import { madeUpId, type Moved, type patchPerson, postPerson } from '#core/contract/peopleCalls.ts';
import { record } from '../db/record.ts';
import type { Database } from '../db/database.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { lockedKeys, mergeCustomers } from './mergeQueries.ts';
import { grantRole } from './peopleQueries.ts';

const ADD = `
  INSERT INTO customers AS c (external_id, email, name, phone, written)
  VALUES ($1, $2, $3, $4, nextval('write_order'))
  ON CONFLICT (external_id) DO UPDATE SET email = excluded.email, name = excluded.name, phone = excluded.phone,
    written = excluded.written, archived_at = NULL
  WHERE c.archived_at IS NOT NULL AND c.merged_into IS NULL`;

/** Adds a customer and records it. @returns the customer's id in the shop */
export async function addPerson(
  db: Database,
  { id = madeUpId(randomBytes(5).toString('hex')), email, name, phone, roles }: z.infer<(typeof postPerson)['body']>,
  { by, at }: { by: string; at: Date },
): Promise<string> {
  return db.transaction(async (client) => {
    const { rowCount } = await client.query(ADD, [id, email, name, phone]);
    if (rowCount === 0) {
      const detail = `There is a customer ${id} already, or it was merged into another. Look for that id.`;
      throw new ProblemError('id-taken', detail);
    }
    await client.query('DELETE FROM customer_roles USING customers WHERE customer_id = id AND external_id = $1', [id]);
    for (const role of roles) await grantRole(client, id, role);
    await record(client, at, by, `${postPerson.method} ${postPerson.path}`, { id });
    return id;
  });
}

const CHANGE = `
  UPDATE customers SET email = CASE WHEN $2 THEN $3 ELSE email END, name = CASE WHEN $4 THEN $5 ELSE name END,
    phone = CASE WHEN $6 THEN $7 ELSE phone END, written = nextval('write_order')
  WHERE external_id = $1 AND archived_at IS NULL`;

export async function changePerson(
  db: Database,
  id: string,
  { email, name, phone }: z.infer<(typeof patchPerson)['body']>,
): Promise<void> {
  const given = [email, name, phone].flatMap((value) => [value !== undefined, value ?? null]);
  if ((await db.query(CHANGE, [id, ...given])).rowCount === 0) throw notFound(`customer ${id}`);
}

/** Makes two customers one. */
export async function mergePeople(db: Database, ids: { kept: string; other: string }, at: Date): Promise<Moved> {
  if (ids.kept === ids.other) throw new ProblemError('same-customer', 'Choose two customers to make one of.');
  return db.transaction(async (client) => {
    const keys = await lockedKeys(client, [ids.kept, ids.other]);
    const [kept, other] = [keys.get(ids.kept), keys.get(ids.other)];
    if (kept === undefined) throw notFound(`customer ${ids.kept}`);
    if (other === undefined) throw notFound(`customer ${ids.other}`);
    return mergeCustomers(client, { kept, other, at });
  });
}
