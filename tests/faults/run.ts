import { setMaxListeners } from 'node:events';
import { setTimeout } from 'node:timers/promises';
import pg from 'pg';
import { SignJWT } from 'jose';
import { pino } from 'pino';
import { connect, POOLS } from '../../server/db/database.ts';
import { databaseUrl } from '../support/databases.ts';
import type { MapCheck } from '#core/contract/pageMapCalls.ts';
import { ENDLESS, hostilePage, ODD } from '../support/hostilePages.ts';
import { startMailbox } from '../support/mailbox.ts';
import { watchMemory } from '../support/memory.ts';
import { OWNER_KEY, SETUP_TOKEN } from '../support/programs.ts';
import { startReceiver } from '../support/receiver.ts';
import { staticShop } from '../support/staticShop.ts';
import { booksOf } from './books.ts';
import { crashDatabase, freezeDatabase, Server } from './machine.ts';

/**
 * Lets everything go wrong for some time: servers killed and suspended, PostgreSQL ended and frozen, mail and web hooks
 * down, long imports and previews, shop pages that never end, 300 shoppers at once, on two servers. Afterwards the books
 * must agree.
 */
const MINUTES = Number(process.argv[2] ?? 60);
const SHOPPERS = 300;
const ROWS = 300_000;
const CAP = 400;
/** Goods that are reserved, each with a cap. */
const CAPPED = 20;
/** A shopper looks at a page for so long, more or less. */
const THINK_MS = 8000;
const SLOW_MS = 1000;
/** After PostgreSQL is back, so long until its own recovery no longer counts as its absence. */
const RECOVERY_MS = 5000;

const name = 'understudy_faults';
const admin = new pg.Client({ connectionString: databaseUrl('postgres') });
await admin.connect();
await admin.query(`CREATE DATABASE ${name}`);
await admin.end();
const url = databaseUrl(name);
const db = connect(url, pino({ level: 'silent' }), POOLS.thread);

let mail = await startMailbox();
const { port: mailPort } = new URL(mail.smtpUrl);
const hooks = await startReceiver();
const hostile = await staticShop(
  Object.entries({ ...ENDLESS, ...ODD }).map(([path, script]) => [path, hostilePage(script)] as const),
);
const hosts = [hooks.url, hostile.url].map((address) => new URL(address).host);
const env = { SMTP_URL: mail.smtpUrl, UNDERSTUDY_PRIVATE_HOSTS: hosts.join(',') };
const servers = [new Server(url, env), new Server(url, env)] as const;
for (const server of servers) await server.start();

// ---------------------------------------------------------------- asking

const stopping = new AbortController();
setMaxListeners(0, stopping.signal);
const isOver = () => stopping.signal.aborted;
/** When PostgreSQL was away, from and until; epoch ms. */
const absences: { from: number; until: number }[] = [];
const wasAway = (from: number, until: number) =>
  absences.some((absence) => from < absence.until + RECOVERY_MS && until > absence.from);

interface Times {
  count: number;
  busy: number;
  slow: number;
  slowAtStart: number;
  worst: number;
  failed: number;
}
const times: Record<string, Times> = {};
/** Late answers, with the time since the last fault. */
const slow: { what: string; ms: number; fault: string; secondsSince: number }[] = [];
const lastFault = { kind: 'none', at: Date.now() };

/** One call, at whichever server is there; null when none answered. */
async function call(
  what: string,
  method: string,
  path: string,
  {
    body,
    bearer,
    raw,
    type = 'application/json',
  }: { body?: unknown; bearer?: string; raw?: string | AsyncGenerator<Uint8Array>; type?: string } = {},
): Promise<{ status: number; body: unknown } | null> {
  const there = servers.filter((server) => server.url !== null);
  const server = there[Math.floor(Math.random() * there.length)];
  if (!server?.url) return null;
  const { url: address } = server;
  const content = raw ?? (body === undefined ? undefined : JSON.stringify(body));
  const begun = Date.now();
  try {
    const response = await fetch(address + path, {
      method,
      headers: {
        ...(bearer === undefined ? {} : { Authorization: `Bearer ${bearer}` }),
        ...(content === undefined ? {} : { 'Content-Type': type }),
        'If-Match': '*',
      },
      ...(content === undefined ? {} : { body: content as BodyInit, duplex: 'half' }),
      signal: AbortSignal.timeout(120_000),
    });
    const text = await response.text();
    const ms = Date.now() - begun;
    const one = (times[what] ??= { count: 0, busy: 0, slow: 0, slowAtStart: 0, worst: 0, failed: 0 });
    if (!wasAway(begun, Date.now()) && !server.wasAway(begun)) {
      one.count += 1;
      if (response.status === 503) one.busy += 1;
      if (response.status >= 500 && response.status !== 503) {
        one.failed += 1;
        console.error(`${what}: ${response.status} ${text.slice(0, 300)}`);
      }
      if (ms > SLOW_MS && server.isStarting(begun)) one.slowAtStart += 1;
      else if (ms > SLOW_MS) {
        one.slow += 1;
        slow.push({ what, ms, fault: lastFault.kind, secondsSince: Math.round((begun - lastFault.at) / 1000) });
      }
      one.worst = Math.max(one.worst, ms);
    }
    return { status: response.status, body: text === '' ? null : (JSON.parse(text) as unknown) };
  } catch {
    return null;
  }
}
const owner = (what: string, method: string, path: string, body?: unknown) =>
  call(what, method, path, { body, bearer: OWNER_KEY });

// ---------------------------------------------------------------- the shop

const rules = (label: string) => [
  {
    id: 'reserve',
    on: true,
    when: { fact: 'product.id', op: 'in', value: Array.from({ length: CAPPED }, (_, n) => `capped-${n}`) },
    then: {
      control: {
        kind: 'preorder',
        label,
        cap: { units: CAP, per: 'product' },
        atCap: 'close',
        closedText: 'None left',
      },
    },
  },
  {
    id: 'wait',
    on: true,
    when: { fact: 'product.id', op: 'in', value: ['rare'] },
    then: { control: { kind: 'waitlist', label: 'Join', per: 'product' } },
  },
];
const setUp = {
  token: SETUP_TOKEN,
  shop: { name: 'Quillfern Nursery', zone: 'Europe/Lisbon', locales: ['en'], currency: 'EUR' },
  owner: { name: 'Olive Tarrant', email: 'olive@quillfern.example', password: 'tansy-and-thyme' },
};
await call('set up', 'POST', '/api/setup', { body: setUp });
await setTimeout(500);
const bring = (target: string, csv: string) =>
  call('import', 'POST', `/api/${target}/import`, { raw: csv, type: 'text/csv', bearer: OWNER_KEY });
await bring(
  'catalog',
  `variant_id,product_id,path,title,price,stock_tracked,stock_quantity\n${Array.from({ length: CAPPED }, (_, n) => `c-${n},capped-${n},/plants/capped-${n},Capped ${n},5,false,0\n`).join('')}r-1,rare,/plants/rare,Rare,5,false,0\ns-1,stocked,/plants/stocked,Stocked,5,true,0`,
);
await bring(
  'people',
  [
    'customer_id,email,name',
    ...Array.from({ length: SHOPPERS }, (_, n) => `c-${n},c-${n}@quillfern.example,Customer ${n}`),
  ].join('\n'),
);
await owner('hooks', 'POST', '/api/web-hooks', { url: `${hooks.url}/hook`, events: ['preorder.new'] });
await owner('draft', 'PUT', '/api/rulebook', { format: 'understudy-rulebook', version: 1, rules: rules('Reserve') });
await owner('publish', 'POST', '/api/editions');
const { visitorSecret } = (await owner('connection', 'GET', '/api/connection'))!.body as { visitorSecret: string };
const sign = (audience: string, subject?: string) => {
  const token = new SignJWT({}).setProtectedHeader({ alg: 'HS256' }).setAudience(audience).setExpirationTime('3h');
  return (subject === undefined ? token : token.setSubject(subject)).sign(new TextEncoder().encode(visitorSecret));
};
const shopToken = await sign('understudy-shop');

/** Acknowledged requests, which the books must contain. */
const acknowledged = {
  orders: new Map<string, { ok: boolean; units: number }>(),
  joined: new Set<string>(),
  editions: [] as number[],
  stock: { acknowledged: 0, sent: 0 },
  imports: [] as number[],
};

async function shopper(number: number): Promise<void> {
  const visitor = await sign('understudy-visitor', `c-${number}`);
  const think = () =>
    setTimeout(THINK_MS * (0.5 + Math.random()), undefined, { signal: stopping.signal }).catch(() => undefined);
  await setTimeout(Math.random() * 20_000);
  for (let visit = 0; !isOver(); visit += 1) {
    const products = [
      { id: `capped-${number % CAPPED}` },
      { id: 'rare' },
      { id: 'stocked' },
      { id: `p-${Math.floor(Math.random() * 1000)}` },
    ];
    await call('decisions', 'POST', '/v1/decisions', { body: { surface: 'listing', products, visitor } });
    await think();
    // All are told to stop at once: that they all came at once would say nothing.
    if (isOver()) return;
    const lines = [{ variantId: `c-${(number + visit) % CAPPED}`, quantity: 1 + (visit % 2) }];
    await call('guard', 'POST', '/v1/guard', { body: { via: 'cart', lines, visitor } });
    if (Math.random() < 0.3) {
      const order = `${number}-${visit}`;
      // An order is sent until it is answered: it is taken once, however often it comes.
      for (let again = true; again && !isOver();) {
        const answer = await call('order', 'POST', '/v1/preorders', {
          body: { order, lines, visitor },
          bearer: shopToken,
        });
        again = answer?.status !== 200;
        if (answer && !again)
          acknowledged.orders.set(order, { ok: (answer.body as { ok: boolean }).ok, units: lines[0]!.quantity });
        else await setTimeout(500 + Math.random() * 1000);
      }
    }
    if (!acknowledged.joined.has(`c-${number}`) && Math.random() < 0.2) {
      const answer = await call('join', 'POST', '/v1/waitlist-entries', { body: { path: '/plants/rare', visitor } });
      if (answer?.status === 200) acknowledged.joined.add(`c-${number}`);
    }
    await think();
  }
}

async function publishing(): Promise<void> {
  for (let number = 1; !isOver(); number += 1) {
    await setTimeout(15_000, undefined, { signal: stopping.signal }).catch(() => undefined);
    await owner('draft', 'PUT', '/api/rulebook', {
      format: 'understudy-rulebook',
      version: 1,
      rules: rules(`Reserve ${number}`),
    });
    const isSet = number % 3 === 0;
    if (isSet) await owner('opening', 'POST', '/api/openings', { at: new Date(Date.now() + 20_000).toISOString() });
    else {
      const answer = await owner('publish', 'POST', '/api/editions');
      if (answer?.status === 201) acknowledged.editions.push((answer.body as { number: number }).number);
    }
  }
}

async function stockFeed(): Promise<void> {
  while (!isOver()) {
    acknowledged.stock.sent += 1;
    const quantity = acknowledged.stock.sent;
    const answer = await owner('stock', 'PUT', '/api/stock', [{ variantId: 's-1', quantity }]);
    if (answer?.status === 200) acknowledged.stock.acknowledged = quantity;
    await setTimeout(1000);
  }
}

/** Written as it is sent, so that this process goes on measuring meanwhile. */
async function* fileOf(price: number): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  yield encoder.encode('variant_id,product_id,path,title,price\n');
  for (let from = 0; from < ROWS; from += 1000) {
    const rows = Array.from({ length: 1000 }, (_, index) => {
      const product = Math.floor((from + index) / 3);
      return `v-${from + index},p-${product},/plants/p-${product},Plant ${product},${price}.00\n`;
    });
    yield encoder.encode(rows.join(''));
    await setTimeout(2);
  }
}

/** Long files, one after the other; each says another price, so that it can be told which was written last. */
async function importing(): Promise<void> {
  for (let price = 1; !isOver(); price += 1) {
    const answer = await call('import', 'POST', '/api/catalog/import', {
      raw: fileOf(price),
      type: 'text/csv',
      bearer: OWNER_KEY,
    });
    if (answer?.status !== 202) {
      await setTimeout(5000);
      continue;
    }
    acknowledged.imports.push(price);
    const { id } = answer.body as { id: string };
    for (let state = 'waiting'; !/done|failed|interrupted|cancelled/.test(state) && !isOver();) {
      await setTimeout(2000);
      state = ((await owner('job', 'GET', `/api/jobs/${id}`))?.body as { state?: string } | null)?.state ?? state;
    }
  }
}

/** Broken promises, besides those that the books show. */
const broken: string[] = [];

/** Checks of a page map whose pages try to never end. */
async function drawing(): Promise<void> {
  const map = {
    site: hostile.url,
    pages: [...hostile.pages.keys()],
    productPage: { path: '^/plants/[^/]+$', area: '.product' },
    card: { area: '.card', link: 'a' },
    control: '.add',
  };
  while (!isOver()) {
    await owner('page map', 'PUT', '/api/page-map/draft', map);
    const answer = await owner('check', 'POST', '/api/page-map/check');
    if (answer?.status === 200)
      for (const { path, notDrawn } of (answer.body as MapCheck).pages)
        if (path in ENDLESS && notDrawn === undefined) broken.push(`${path} was drawn`);
    await setTimeout(30_000, undefined, { signal: stopping.signal }).catch(() => undefined);
  }
}

/** Looks at long files and drops them: neither answers nor anybody's wait may grow with their length. */
async function previewing(): Promise<void> {
  while (!isOver()) {
    const sent = await call('preview', 'POST', '/api/catalog/import?preview=true', {
      raw: fileOf(7),
      type: 'text/csv',
      bearer: OWNER_KEY,
    });
    const { id } = (sent?.body ?? {}) as { id?: string };
    for (let state = 'previewing'; id !== undefined && /reading|previewing/.test(state) && !isOver();) {
      await setTimeout(2000);
      const job = (await owner('job', 'GET', `/api/jobs/${id}`))?.body as { state?: string } | null;
      state = job?.state ?? state;
      const characters = JSON.stringify(job).length;
      if (characters > 1_000_000) broken.push(`a preview of ${characters} characters`);
    }
    if (id !== undefined) await owner('preview dropped', 'POST', `/api/imports/${id}/cancellation`);
    await setTimeout(20_000, undefined, { signal: stopping.signal }).catch(() => undefined);
  }
}

// ---------------------------------------------------------------- the faults

const away = async (work: () => Promise<void>) => {
  const absence = { from: Date.now(), until: Number.POSITIVE_INFINITY };
  absences.push(absence);
  await work();
  absence.until = Date.now();
};
const FAULTS: Readonly<Record<string, () => Promise<void>>> = {
  'a server is killed': () => servers[0].kill(2000),
  'the other server is killed': () => servers[1].kill(2000),
  'both servers are killed': async () => {
    await Promise.all(servers.map((server) => server.kill(1000)));
  },
  'PostgreSQL crashes': () => away(crashDatabase),
  'PostgreSQL is frozen': () => away(() => freezeDatabase(10_000)),
  'a server is suspended, and its clock jumps': () => servers[1].suspend(25_000),
  'mail is down': async () => {
    await mail.stop();
    await setTimeout(25_000);
    const before = mail.letters;
    mail = await startMailbox(Number(mailPort), before);
  },
  'web hooks are refused': async () => {
    hooks.answer('/hook', ...Array<number>(20).fill(503));
    await setTimeout(10_000);
  },
};
const happened: Record<string, number> = {};

async function faults(): Promise<void> {
  const kinds = Object.keys(FAULTS);
  for (let number = 0; !isOver(); number += 1) {
    await setTimeout(20_000, undefined, { signal: stopping.signal }).catch(() => undefined);
    if (isOver()) return;
    const kind = kinds[number % kinds.length] ?? '';
    happened[kind] = (happened[kind] ?? 0) + 1;
    Object.assign(lastFault, { kind, at: Date.now() });
    await FAULTS[kind]?.();
  }
}

// ---------------------------------------------------------------- the run

console.log(`${MINUTES} minutes, ${SHOPPERS} shoppers, files of ${ROWS} rows`);
let mostMemory = 0;
const watching = setInterval(() => {
  for (const { pid } of servers) {
    if (pid === null) continue;
    try {
      mostMemory = Math.max(mostMemory, watchMemory(pid)());
    } catch {
      // The program was killed at this moment.
    }
  }
}, 1000);
const begun = Date.now();
const work = [
  ...Array.from({ length: SHOPPERS }, (_, number) => shopper(number)),
  publishing(),
  stockFeed(),
  importing(),
  drawing(),
  previewing(),
  faults(),
];
const minutes = setInterval(() => {
  const lines = Object.entries(times).map(([what, { count, slow, worst }]) => `${what} ${count}/${slow}/${worst}`);
  console.log(`${Math.round((Date.now() - begun) / 60_000)} min: ${lines.join(', ')}`);
}, 60_000);
await setTimeout(MINUTES * 60_000);
stopping.abort();
await Promise.all(work);
clearInterval(minutes);
clearInterval(watching);

const books = await booksOf(db, { acknowledged, cap: CAP, letters: () => mail.letters, isSettled: setTimeout });
for (const server of servers) await server.stop();
await mail.stop();
await hooks.stop();
await hostile.stop();
await db.end();

const lateness: Record<string, Record<string, number>> = {};
for (const { what, fault, secondsSince } of slow) {
  const kind = (lateness[fault] ??= {});
  const when = `${what} ${Math.min(60, Math.ceil(Math.max(1, secondsSince) / 5) * 5)} s after`;
  kind[when] = (kind[when] ?? 0) + 1;
}
console.log(
  JSON.stringify(
    { minutes: MINUTES, lateness, faults: happened, times, mostMemoryMB: Math.round(mostMemory / 1e6), broken, books },
    null,
    2,
  ),
);
const isSlow = ['decisions', 'guard'].some((what) => (times[what]?.slow ?? 0) > 0);
const hasFailed = Object.values(times).some(({ failed }) => failed > 0);
process.exit(books.faults.length > 0 || broken.length > 0 || isSlow || hasFailed ? 1 : 0);
