import type pg from 'pg';

type Queryable = Pick<pg.Pool, 'query'>;

/** A connection for work that asks several things at once: it answers one after the other. */
export function inTurn(client: Queryable): Queryable {
  const ask = client.query.bind(client) as (...args: unknown[]) => Promise<unknown>;
  let last: Promise<unknown> = Promise.resolve();
  const query = (...args: Parameters<Queryable['query']>): unknown => {
    const before = last.catch(() => undefined);
    const answer = before.then(() => ask(...args));
    last = answer;
    return answer;
  };
  return { query: query as Queryable['query'] };
}
