import type { Queryable } from '../../server/db/database.ts';
import type { Letter } from '../support/mailbox.ts';

/** Answers that callers received. */
export interface Acknowledged {
  readonly orders: ReadonlyMap<string, { readonly ok: boolean; readonly units: number }>;
  readonly joined: ReadonlySet<string>;
  readonly editions: readonly number[];
  readonly stock: { readonly acknowledged: number; readonly sent: number };
  /** The prices that the files said, in turn. */
  readonly imports: readonly number[];
}

export interface Books {
  readonly faults: string[];
  readonly counts: Record<string, number>;
}

/** Messages and imports that are under way have so long to come to an end. */
const SETTLED_MS = 240_000;

/** Looks whether what is kept agrees with what was answered, and with itself. */
export async function booksOf(
  db: Queryable,
  {
    acknowledged,
    cap,
    letters,
    isSettled,
  }: {
    acknowledged: Acknowledged;
    cap: number;
    letters: () => readonly Letter[];
    isSettled: (ms: number) => Promise<unknown>;
  },
): Promise<Books> {
  const faults: string[] = [];
  const counts: Record<string, number> = {};
  const one = async (what: string, sql: string, values: unknown[] = []): Promise<number> => {
    const { rows } = await db.query<{ n: number | null }>(sql, values);
    return (counts[what] = rows[0]?.n ?? 0);
  };
  const must = (isTrue: boolean, what: string) => {
    if (!isTrue) faults.push(what);
  };

  const unsettled = `SELECT (SELECT count(*) FROM messages WHERE state = 'waiting')
    + (SELECT count(*) FROM imports WHERE state IN ('reading', 'waiting', 'running', 'undoing')) AS n`;
  for (const until = Date.now() + SETTLED_MS; Date.now() < until && (await one('unsettled', unsettled)) > 0;)
    await isSettled(1000);
  must(counts.unsettled === 0, `${counts.unsettled} messages or imports have not come to an end`);

  // Orders: what was answered with yes is kept once, and nothing else is.
  const { rows: kept } = await db.query<{ order: string; units: number }>(
    'SELECT order_number AS order, units FROM preorders',
  );
  const byOrder = new Map(kept.map(({ order, units }) => [order, units]));
  const yes = [...acknowledged.orders].filter(([, { ok }]) => ok);
  counts.ordersAnswered = acknowledged.orders.size;
  counts.ordersTaken = yes.length;
  must(byOrder.size === kept.length, 'an order is kept twice');
  for (const [order, { units }] of yes)
    must(byOrder.get(order) === units, `order ${order} was taken and is not kept as it was`);
  for (const [order, { ok }] of acknowledged.orders)
    if (!ok) must(!byOrder.has(order), `order ${order} was refused and is kept`);
  await one('reserved', "SELECT sum(units) AS n FROM preorders WHERE state = 'reserved'");
  const most = await one(
    'reserved of one',
    "SELECT max(units) AS n FROM (SELECT sum(units) AS units FROM preorders WHERE state = 'reserved' GROUP BY variant_id) v",
  );
  must(most <= cap, `${most} units are reserved of ${cap}`);

  // Waitlists: a place for everybody who was told of one, once.
  const places = await one('places', "SELECT count(*) AS n FROM waitlist_entries WHERE state = 'waiting'");
  const people = await one(
    'people waiting',
    "SELECT count(DISTINCT customer_id) AS n FROM waitlist_entries WHERE state = 'waiting'",
  );
  must(places === people, 'somebody is on the list twice');
  must(places >= acknowledged.joined.size, `${acknowledged.joined.size} were told of a place and ${places} have one`);

  // The outbox: a letter for each reservation, each sent, and the same one never as two.
  const letterless = `SELECT count(*) AS n FROM preorders o WHERE (
    SELECT count(*) FROM messages m WHERE m.event = 'preorder.reserved' AND m.text_body LIKE '%order ' || o.order_number || '.%') <> 1`;
  must((await one('reservations without just one letter', letterless)) === 0, 'a reservation has no letter, or two');
  must(
    (await one('dead messages', "SELECT count(*) AS n FROM messages WHERE state = 'dead'")) === 0,
    'a message was given up',
  );
  const sent = await one(
    'letters sent',
    "SELECT count(*) AS n FROM messages WHERE state = 'sent' AND channel = 'email'",
  );
  const arrived = new Map<string, string>();
  for (const { messageId, text } of letters()) {
    must((arrived.get(messageId) ?? text) === text, `two letters have the id ${messageId}`);
    arrived.set(messageId, text);
  }
  counts.lettersArrived = arrived.size;
  counts.lettersTwice = letters().length - arrived.size;
  must(arrived.size === sent, `${sent} letters were sent and ${arrived.size} arrived`);

  // Editions: without a gap, with all that were answered.
  const editions = await one('editions', 'SELECT count(*) AS n FROM editions');
  must((await one('last edition', 'SELECT max(number) AS n FROM editions')) === editions, 'editions have a gap');
  must(
    acknowledged.editions.every((number) => number <= editions),
    'an edition that was answered is not there',
  );
  const due = 'SELECT count(*) AS n FROM openings WHERE opens_at < now()';
  must((await one('openings that are due', due)) === 0, 'an opening that is due was not made');

  // Stock: the last that was acknowledged, or something sent after it.
  const stock = await one('stock', "SELECT stock_quantity AS n FROM variants WHERE external_id = 's-1'");
  must(
    stock >= acknowledged.stock.acknowledged && stock <= acknowledged.stock.sent,
    `stock is ${stock}, acknowledged was ${acknowledged.stock.acknowledged}`,
  );

  // Imports: what the newest that is done wrote, nothing older has overwritten.
  const { rows: ended } = await db.query<{ state: string; n: number }>(
    'SELECT state, count(*) AS n FROM imports GROUP BY state',
  );
  for (const { state, n } of ended) counts[`imports ${state}`] = n;
  must(!ended.some(({ state }) => state === 'failed'), 'an import has failed');
  const older = `SELECT count(*) AS n FROM variants v WHERE v.external_id LIKE 'v-%' AND v.written < (
    SELECT max(write_order) FROM imports WHERE state = 'done' AND row_count > 5000)`;
  counts.filesTaken = acknowledged.imports.length;
  await one('variants', 'SELECT count(*) AS n FROM variants');
  must((await one('rows older than the newest file', older)) === 0, 'an older file overwrote a newer');
  return { faults, counts };
}
