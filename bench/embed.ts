import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { chromium, type Page } from '@playwright/test';
import { BROWSER } from '#tests/support/browser.ts';
import { cloneDatabase } from '#tests/support/databases.ts';
import { OWNER_KEY, SETUP_TOKEN, startUnderstudy } from '#tests/support/programs.ts';
import { staticShop } from '#tests/support/staticShop.ts';

/**
 * Measures the storefront script on a page with 200 products, in a real browser against a real server: time from its start,
 * and from the answer, until everything is applied; requests, bytes and long tasks. Needs TEST_PG_URL.
 */
const PRODUCTS = 200;
const ROUNDS = 7;

const understudy = await startUnderstudy(await cloneDatabase());
const call = async (method: string, path: string, body: string, type = 'application/json') => {
  const headers = { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': type, 'If-Match': '*' };
  const answer = await fetch(understudy.url + path, { method, headers, body });
  if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`);
};
await call(
  'POST',
  '/api/setup',
  JSON.stringify({
    token: SETUP_TOKEN,
    shop: { name: 'Quillfern Nursery', zone: 'Europe/Lisbon', locales: ['en'], currency: 'EUR' },
    owner: { name: 'Olive Tarrant', email: 'olive@quillfern.example', password: 'tansy-and-thyme' },
  }),
);
const ids = Array.from({ length: PRODUCTS }, (_, index) => `plant-${index}`);
const rows = ids.flatMap((id, index) =>
  [1, 3, 5].map(
    (size) =>
      `${id}-${size},${id},/plants/${id},Plant ${index},tag-${index % 10},${size * 4}.50,true,${(index + size) % 4}`,
  ),
);
await call(
  'POST',
  '/api/catalog/import',
  ['variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity', ...rows].join('\n'),
  'text/csv',
);
const rule = (tag: number, then: object) => ({
  id: `rule-${tag}`,
  on: true,
  when: { fact: 'product.tags', op: 'hasAny', value: [`tag-${tag}`] },
  then,
});
await call(
  'PUT',
  '/api/rulebook',
  JSON.stringify({
    format: 'understudy-rulebook',
    version: 1,
    rules: [
      rule(1, {
        control: { kind: 'preorder', label: 'Reserve' },
        notes: [{ place: 'belowControl', text: 'Ships **soon**' }],
      }),
      rule(2, { control: { kind: 'waitlist', per: 'product' } }),
      rule(3, { price: { show: false, text: 'On request' }, control: { kind: 'quote' } }),
      rule(4, { control: { kind: 'notice', text: 'Not for sale' } }),
      rule(5, { notes: [{ place: 'badge', text: 'New' }], style: ['is-new'] }),
    ],
  }),
);
await call('POST', '/api/editions', '{}');
const map = {
  productPage: { path: '^/plants/[^/]+$', area: '.product' },
  card: { area: '.card', link: 'a' },
  control: '.add',
  express: '.fast',
  price: '.cost',
  title: '.name',
};
await call('PUT', '/api/page-map', JSON.stringify(map));

const cards = ids.map(
  (id) =>
    `<li class="card"><a href="/plants/${id}"><span class="name">${id}</span></a><p class="cost">€4.50</p>` +
    `<form><button class="add">Add</button><button class="fast">Fast</button></form></li>`,
);
const page = (head: string) =>
  `<!doctype html><html lang="en"><head>${head}</head><body><ul>${cards.join('')}</ul></body></html>`;
const shop = await staticShop([
  ['/', page(`<script src="${understudy.url}/embed.js"></script>`)],
  ['/without', page('')],
]);
const script = await (await fetch(`${understudy.url}/embed.js`)).text();
// Parts used only by the check are not sent.
const { pages: _pages, ...fuller } = JSON.parse(readFileSync('demo/data/pageMaps/forms.json', 'utf8')) as {
  pages: unknown;
};
const bytes = (text: string) => `${gzipSync(text, { level: 9 }).length} bytes`;

interface Measured {
  readonly whole: number;
  readonly afterAnswer: number;
  readonly requests: number;
  /** The longest task of the page; 0 when under 50 ms. */
  readonly longest: number;
}

type Noted = Record<'applied' | 'longest', number>;

/** Longest task of the script, in µs of wall and CPU time. */
interface TraceEvent {
  readonly name: string;
  readonly dur?: number;
  readonly tdur?: number;
  readonly args: { readonly data?: { readonly url?: string } };
}

/**
 * Runs in the page before anything else: records when the last product was applied, and long tasks (Long Tasks API).
 */
function note(products: number): void {
  const noted = { applied: 0, longest: 0 };
  new PerformanceObserver((list) => {
    for (const { duration } of list.getEntries()) noted.longest = Math.max(noted.longest, duration);
  }).observe({ type: 'longtask', buffered: true });
  new MutationObserver(() => {
    const applied = document.querySelectorAll('.card[data-understudy]').length;
    if (applied === products && noted.applied === 0) noted.applied = performance.now();
  }).observe(document, { subtree: true, childList: true, attributes: true, attributeFilter: ['data-understudy'] });
  Object.assign(globalThis, { noted });
}

async function measure(browserPage: Page): Promise<Measured> {
  await browserPage.goto(shop.url);
  await browserPage.waitForFunction(() => (globalThis as unknown as { noted: Noted }).noted.applied > 0);
  await drawn(browserPage);
  return browserPage.evaluate((): Measured => {
    const { applied, longest } = (globalThis as unknown as { noted: Noted }).noted;
    const entries = performance.getEntriesByType('resource');
    const end = (part: string) =>
      (entries.find(({ name }) => name.includes(part)) as PerformanceResourceTiming | undefined)?.responseEnd ?? NaN;
    return {
      whole: applied - end('/embed.js'),
      afterAnswer: applied - end('/v1/decisions'),
      requests: entries.filter(({ name }) => name.includes('/v1/')).length,
      longest,
    };
  });
}

/** Longest task of the script during an action, in ms of wall and CPU time. */
async function longestPiece(
  browserPage: Page,
  happens: () => Promise<void>,
): Promise<Record<'clock' | 'spent', number>> {
  await browser.startTracing(browserPage, { categories: ['devtools.timeline', 'v8', 'toplevel'] });
  await happens();
  const { traceEvents } = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
  const pieces = traceEvents.filter(({ args }) => args.data?.url?.endsWith('/embed.js'));
  if (pieces.length === 0) throw new Error('the script was not seen at work');
  const longest = (time: 'dur' | 'tdur') => Math.max(...pieces.map((piece) => piece[time] ?? 0)) / 1000;
  return { clock: longest('dur'), spent: longest('tdur') };
}

/** The longest task of the same page without the script. */
async function longestWithout(browserPage: Page): Promise<number> {
  await browserPage.goto(`${shop.url}/without`);
  await drawn(browserPage);
  return browserPage.evaluate(() => (globalThis as unknown as { noted: Noted }).noted.longest);
}

/** Waits for two more paints, by when long tasks have been reported. */
const drawn = (browserPage: Page) =>
  browserPage.evaluate(
    () =>
      new Promise<void>((resolve) => {
        requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(resolve, 100)));
      }),
  );

const browser = await chromium.launch({ executablePath: BROWSER!, args: ['--no-sandbox', '--disable-gpu'] });
/** Opens a page in a browser without cache or cookies of the shop. */
const freshPage = async (slowdown: number): Promise<Page> => {
  const browserPage = await (await browser.newContext()).newPage();
  await browserPage.addInitScript(note, PRODUCTS);
  const session = await browserPage.context().newCDPSession(browserPage);
  await session.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
  return browserPage;
};
const medians = async (slowdown: number) => {
  const rounds: (Measured & Record<'without' | 'clock' | 'spent', number>)[] = [];
  for (let round = 0; round <= ROUNDS; round += 1) {
    const plainly = await freshPage(slowdown);
    const measured = await measure(plainly);
    const without = await longestWithout(plainly);
    await plainly.context().close();
    const traced = await freshPage(slowdown);
    const pieces = await longestPiece(traced, async () => {
      await measure(traced);
    });
    await traced.context().close();
    // The first warms the server up.
    if (round > 0) rounds.push({ ...measured, ...pieces, without });
  }
  const sorted = (of: keyof (typeof rounds)[number]) => rounds.map((measured) => measured[of]).sort((a, b) => a - b);
  return {
    median: (of: keyof (typeof rounds)[number]) => sorted(of)[Math.floor(rounds.length / 2)] ?? NaN,
    most: (of: keyof (typeof rounds)[number]) => sorted(of).at(-1) ?? NaN,
  };
};
const plain = await medians(1);
const slow = await medians(4);
await browser.close();
await shop.stop();
await understudy.stop();

const ms = (value: number) => `${value.toFixed(1)} ms`;
const long = (value: number) => (value === 0 ? 'none over 50 ms' : ms(value));
const line = (what: string, measured: string, goal: string) => `| ${what} | ${measured} | ${goal} |`;
console.log(
  [
    line('what, on a page with 200 products', 'measured', 'goal'),
    line('---', '---', '---'),
    line('script with its page map, gzip', bytes(script), 'at most 9,216'),
    line(
      'the same, with the demo’s map',
      bytes(script.replace(JSON.stringify(map), JSON.stringify(fuller))),
      'at most 9,216',
    ),
    line('requests', String(plain.median('requests')), '1'),
    line('from the script to all applied', ms(plain.median('whole')), ''),
    line('from the answer to all applied', ms(plain.median('afterAnswer')), 'at most 10 ms'),
    line('the same, at 4× CPU slowdown', ms(slow.median('afterAnswer')), ''),
    line('longest that the script runs at once, 4×, of all loads', ms(slow.most('spent')), 'none over 50 ms'),
    line('the same by the clock, median', ms(slow.median('clock')), ''),
    line('longest task of the page with it, 4×', long(slow.median('longest')), ''),
    line('longest task of the page without it, 4×', long(slow.median('without')), ''),
  ].join('\n'),
);
