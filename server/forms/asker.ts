import type { Queryable } from '../db/database.ts';
import { invalid } from '../http/errors.ts';

/** Contact details of the person who asks. */
export interface Asker {
  readonly email: string;
  readonly name: string | null;
}

/**
 * Contact details: as filled in, else those of the signed-in customer.
 * @throws {ProblemError} 422 when there is no address to answer to
 */
export async function askerOf(
  db: Queryable,
  customer: string | null,
  details: { readonly email?: string | undefined; readonly name?: string | undefined },
): Promise<Asker> {
  const { rows } = await db.query<{ name: string | null; email: string | null }>(
    'SELECT name, email FROM customers WHERE external_id = $1 AND archived_at IS NULL',
    [customer],
  );
  const email = details.email ?? rows[0]?.email ?? null;
  if (email === null)
    throw invalid('What was sent', [
      { pointer: '/email', found: 'nothing', allowed: 'an e-mail address to answer to' },
    ]);
  return { email, name: details.name ?? rows[0]?.name ?? null };
}
