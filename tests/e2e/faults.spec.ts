import { SignJWT } from 'jose';
import { book, make } from '../support/oneVariant.ts';
import { startUnderstudy, type Program } from '../support/programs.ts';
import { expect, publishRules, send, test, type Stage } from '../support/stage.ts';

const VARIANT = 'saffron-hill-3-tubers';
const RULES = book(
  make(
    'reserve',
    { control: { kind: 'preorder', cap: { units: 16, per: 'variant' } } },
    { fact: 'variant.id', op: 'in', value: [VARIANT] },
  ),
  make('gone', { control: { kind: 'notice', text: 'Gone' } }, { fact: 'variant.id', op: 'in', value: [VARIANT] }),
  make(
    'list',
    { control: { kind: 'waitlist', per: 'product' } },
    { fact: 'product.id', op: 'in', value: ['pin-cushion'] },
  ),
).rules;

const ORDERS = Array.from({ length: 40 }, (_, index) => `K-${index}`);

async function secretOf(stage: Stage): Promise<Uint8Array> {
  const { visitorSecret } = (await send(stage, 'GET', '/api/connection')) as { visitorSecret: string };
  return new TextEncoder().encode(visitorSecret);
}
const signed = (token: SignJWT, secret: Uint8Array) =>
  token.setProtectedHeader({ alg: 'HS256' }).setExpirationTime('1h').sign(secret);

/** Answer of a call; null if none came. */
async function post(url: string, path: string, body: object, token?: string, signal?: AbortSignal) {
  try {
    const response = await fetch(url + path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...(token ? { Authorization: `Bearer ${token}` } : {}) },
      body: JSON.stringify(body),
      ...(signal && { signal }),
    });
    const answer = (await response.json()) as { ok?: boolean; state?: string };
    return response.status < 500 ? answer : null;
  } catch {
    return null;
  }
}

/** Resolves once so many of these have been answered. */
function answered(calls: readonly Promise<unknown>[], count: number): Promise<void> {
  return new Promise((resolve) => {
    let left = count;
    for (const call of calls)
      void call.then((answer) => {
        if (answer !== null && --left === 0) resolve();
      });
  });
}

test('a server that is killed in the middle, and calls that are cut off, lose nothing and double nothing', async ({
  stage,
}) => {
  const { simulators, databaseUrl } = stage;
  await publishRules(stage, RULES);
  const before = (
    (await send(stage, 'GET', `/api/preorders?variant=${VARIANT}`)) as { preorders: { units: number; state: string }[] }
  ).preorders;
  const taken = before.filter(({ state }) => state === 'reserved').reduce((sum, { units }) => sum + units, 0);
  const secret = await secretOf(stage);
  const shop = await signed(new SignJWT().setAudience('understudy-shop'), secret);
  const visitors = await Promise.all(
    ['c-01', 'c-02', 'c-03', 'c-04', 'c-05', 'c-06', 'c-08', 'c-09'].map((id) =>
      signed(new SignJWT().setSubject(id), secret),
    ),
  );
  const order = (url: string, number: string, signal?: AbortSignal) => {
    const body = {
      order: number,
      lines: [{ variantId: VARIANT, quantity: 1 }],
      email: `${number}@quillfern.example`.toLowerCase(),
    };
    return post(url, '/v1/preorders', body, shop, signal);
  };
  const join = (url: string, visitor: string) =>
    post(url, '/v1/waitlist-entries', { path: '/plants/pin-cushion', visitor });

  const killed: Program = await startUnderstudy(databaseUrl, { SMTP_URL: simulators.smtpUrl });
  const first = ORDERS.map((number, index) =>
    // Every fourth shopper's line goes dead at once; what was sent may have arrived.
    order(killed.url, number, index % 4 === 0 ? AbortSignal.timeout(20 + index) : undefined),
  );
  const joins = visitors.map((visitor) => join(killed.url, visitor));
  await answered([...first, ...joins], 6);
  await killed.stop('SIGKILL');
  const answers = await Promise.all(first);
  await Promise.all(joins);

  const again: Program = await startUnderstudy(databaseUrl, { SMTP_URL: simulators.smtpUrl });
  const second = await Promise.all(ORDERS.map((number) => order(again.url, number)));
  await Promise.all(visitors.map((visitor) => join(again.url, visitor)));
  await Promise.all(visitors.map((visitor) => join(again.url, visitor)));

  // Everybody with a confirmation still has it, and exactly the remaining units are reserved.
  expect(answers.flatMap((answer, index) => (answer?.ok && !second[index]?.ok ? [ORDERS[index]] : []))).toEqual([]);
  expect(second.filter((answer) => answer?.ok)).toHaveLength(16 - taken);
  const { preorders } = (await send(stage, 'GET', `/api/preorders?variant=${VARIANT}&limit=200`)) as {
    preorders: { order: string; units: number; state: string }[];
  };
  const ours = preorders.filter((one) => one.order.startsWith('K-'));
  expect(new Set(ours.map((one) => one.order)).size).toBe(ours.length);
  expect(ours).toHaveLength(16 - taken);

  const { entries } = (await send(stage, 'GET', '/api/waitlists/entries?product=pin-cushion')) as {
    entries: { position: number }[];
  };
  expect(entries.map(({ position }) => position)).toEqual(visitors.map((_, index) => index + 1));

  // Each of them is told, once. What was being sent as the server was killed is sent after a minute.
  const { messages } = (await send(stage, 'GET', '/api/messages?search=k-&event=preorder.reserved&limit=200')) as {
    messages: { recipient: string }[];
  };
  expect(new Set(messages.map(({ recipient }) => recipient)).size).toBe(messages.length);
  expect(messages).toHaveLength(16 - taken);
  const arrived = (await (await fetch(`${simulators.url}/letters.json?find=k-`)).json()) as {
    to: string;
    subject: string;
  }[];
  const letters = arrived.filter(({ subject }) => subject.startsWith('Reserved for you')).map(({ to }) => to);
  expect(new Set(letters).size).toBe(letters.length);
  await again.stop();
});

test('connections to the database that break are made again; what was under way can be sent again', async ({
  stage,
}) => {
  const { databaseUrl, understudy } = stage;
  await publishRules(stage, RULES);
  const secret = await secretOf(stage);
  const shop = await signed(new SignJWT().setAudience('understudy-shop'), secret);
  const order = (number: string) =>
    post(
      understudy.url,
      '/v1/preorders',
      { order: number, lines: [{ variantId: VARIANT, quantity: 1 }], email: 'wren@quillfern.example' },
      shop,
    );
  const { default: pg } = await import('pg');
  const db = new pg.Client({ connectionString: databaseUrl });
  await db.connect();
  const calls = ORDERS.map(order);
  await answered(calls, 2);
  await db.query(
    'SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()',
  );
  await Promise.all(calls);
  const again = await Promise.all(ORDERS.map(order));
  expect(again).not.toContain(null);
  const { rows } = await db.query<{ orders: string; units: string }>(
    "SELECT count(DISTINCT order_number) AS orders, sum(units) AS units FROM preorders WHERE order_number LIKE 'K-%'",
  );
  expect(rows).toEqual([{ orders: String(again.filter((answer) => answer?.ok).length), units: rows[0]?.orders }]);
  await db.end();
});
