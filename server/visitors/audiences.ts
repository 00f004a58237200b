import type { Audience } from '#core/contract/audienceCalls.ts';
import { type ResolvedAudience } from '#core/contract/audienceCalls.ts';
import type { Queryable } from '../db/database.ts';
import { customersByIds } from './visitorQueries.ts';

/** Audiences stored before they could be of one customer or of the invited. */
type Kept = Pick<Audience, 'name' | 'signedIn' | 'roles'> & Partial<Audience>;

/** Audiences with what their customers have now. */
export async function resolveAudiences(db: Queryable, audiences: readonly Kept[]): Promise<ResolvedAudience[]> {
  const ids = audiences.flatMap(({ customer }) => customer ?? []);
  const people = ids.length === 0 ? [] : await customersByIds(db, ids);
  return audiences.map((audience) => {
    const found = people.find(({ id }) => id === audience.customer);
    const person = found && {
      id: found.id,
      name: found.name,
      roles: [...found.roles],
      invitations: [...found.invitations],
    };
    return {
      ...audience,
      customer: audience.customer ?? null,
      invited: audience.invited ?? false,
      person: person ?? null,
    };
  });
}

const ALL = `
  SELECT name, signed_in AS "signedIn", roles, customer, invited FROM audiences ORDER BY position`;

export async function readAudiences(db: Queryable): Promise<ResolvedAudience[]> {
  return resolveAudiences(db, (await db.query<Audience>(ALL)).rows);
}

const INSERT = `
  INSERT INTO audiences (position, name, signed_in, roles, customer, invited)
  SELECT a.position, a.name, a."signedIn", a.roles, a.customer, coalesce(a.invited, false)
  FROM jsonb_to_recordset($1) AS a (
    position smallint, name text, "signedIn" boolean, roles text[], customer text, invited boolean)`;

/** Replaces them all; to be run in a transaction. */
export async function replaceAudiences(db: Queryable, audiences: readonly Kept[]): Promise<void> {
  await db.query('DELETE FROM audiences');
  await db.query(INSERT, [JSON.stringify(audiences.map((audience, position) => ({ ...audience, position })))]);
}
