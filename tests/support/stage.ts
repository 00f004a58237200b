import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test as base, type Browser, type BrowserContext, type Locator, type Page } from '@playwright/test';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { shiftClock } from './clockShift.mjs';
import { cpuTime } from './cpuTime.ts';
import { cloneDatabase } from './databases.ts';
import {
  OWNER_KEY,
  startSampleShop,
  startSimulators,
  startUnderstudy,
  takeLogs,
  type Dressing,
  type Program,
  type Simulators,
} from './programs.ts';
import { restoreCopy } from './demoCopy.ts';
import { SEEDED, SHOP_DATA } from './seeded.ts';

/** Everything that runs, with the demo in it. */
export interface Stage {
  readonly databaseUrl: string;
  readonly understudy: Program;
  readonly shop: Program;
  readonly simulators: Simulators;
}

interface Fixtures {
  /** Markup style of the sample shop. */
  readonly dressing: Dressing;
  readonly stage: Stage;
  /** The screen that the owner opens; null for none yet. */
  readonly opensAt: string | null;
  /** The owner, signed in. */
  readonly owner: Page;
  /** A shopper at the sample shop, a guest. */
  readonly shopper: Page;
  /** Notes each test's CPU time, and what the programs logged where it fails. */
  readonly record: undefined;
}

/** Server and database of a worker, restored to the demo between tests. */
class Stages {
  private server: { readonly databaseUrl: string; readonly understudy: Program } | null = null;
  private stage: (Stage & { readonly dressing: Dressing }) | null = null;
  /** A shop remembers nothing but baskets, by cookie, and orders, by number: the next test can have it as it is. */
  private readonly shops = new Map<Dressing, Program>();

  constructor(private readonly simulators: Simulators) {}

  /** @returns the demo as it was filled in, until `changed` is called */
  async take(dressing: Dressing): Promise<Stage> {
    if (this.stage?.dressing === dressing && this.stage.understudy.isRunning()) return this.stage;
    const { databaseUrl, understudy } = await this.demo();
    const { simulators } = this;
    const shop = await this.shop(dressing, understudy);
    this.stage = { databaseUrl, understudy, shop, simulators, dressing };
    const pageMap = JSON.parse(readFileSync(`demo/data/pageMaps/${dressing}.json`, 'utf8')) as object;
    // The server also reads again what is live.
    await send(this.stage, 'PUT', '/api/page-map', { ...pageMap, site: shop.url });
    return this.stage;
  }

  /** Marks the stage as changed. */
  changed(): void {
    this.stage = null;
  }

  async stop(): Promise<void> {
    for (const shop of this.shops.values()) await shop.stop();
    await this.server?.understudy.stop();
  }

  private async shop(dressing: Dressing, understudy: Program): Promise<Program> {
    const running = this.shops.get(dressing);
    if (running?.isRunning()) return running;
    const shop = await startSampleShop(understudy.url, SHOP_DATA, { dressing, payments: this.simulators.url });
    this.shops.set(dressing, shop);
    return shop;
  }

  private async demo() {
    if (this.server?.understudy.isRunning()) {
      await restoreCopy(this.server.databaseUrl);
      return this.server;
    }
    const databaseUrl = await cloneDatabase(SEEDED);
    // Shops know the server by its address, which is another now.
    for (const shop of this.shops.values()) await shop.stop();
    const understudy = await startUnderstudy(databaseUrl, {
      SMTP_URL: this.simulators.smtpUrl,
      UNDERSTUDY_PRIVATE_HOSTS: new URL(this.simulators.url).host,
    });
    this.server = { databaseUrl, understudy };
    return this.server;
  }
}

/**
 * The owner's browser, kept by a worker: its HTTP cache holds the application, which a third of a screen's CPU time goes
 * into otherwise. Cookies, storage and pages end with each test.
 */
class OwnersBrowser {
  private context: BrowserContext | null = null;
  private settings = '';

  constructor(private readonly browser: Browser) {}

  /** @param settings of the browser in this test: others need a context of their own */
  async open(settings: string): Promise<Page> {
    if (this.settings !== settings) await this.close();
    this.settings = settings;
    this.context ??= await this.browser.newContext();
    return this.context.newPage();
  }

  /** @param origins of which it may hold storage */
  async clear(origins: readonly string[]): Promise<void> {
    if (!this.context) return;
    const pages = this.context.pages();
    const blank = await this.context.newPage();
    // Pages may store data as they close.
    for (const page of pages) await page.close();
    const session = await this.context.newCDPSession(blank);
    for (const origin of origins)
      await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,indexeddb' });
    await this.context.clearCookies();
    await blank.close();
  }

  /** Ends it, so that the next test has another: a failed test's pages are photographed as their context closes. */
  async close(): Promise<void> {
    await this.context?.close();
    this.context = null;
  }
}

interface Shared {
  readonly stages: Stages;
  readonly ownersBrowser: OwnersBrowser;
}

export const test = base.extend<Fixtures, Shared>({
  browser: [
    async ({ browser }, use) => {
      const shift = Number(process.env.CLOCK_SHIFT_MS ?? 0);
      const newContext = browser.newContext.bind(browser);
      if (shift !== 0)
        browser.newContext = async (options) => {
          const context = await newContext(options);
          await context.addInitScript(shiftClock, shift);
          return context;
        };
      await use(browser);
    },
    { scope: 'worker' },
  ],
  stages: [
    async ({}, use) => {
      // Its simulators take the mail of all.
      const simulators = await startSimulators();
      const stages = new Stages(simulators);
      await use(stages);
      await stages.stop();
      await simulators.stop();
    },
    { scope: 'worker' },
  ],
  ownersBrowser: [
    async ({ browser }, use) => {
      const kept = new OwnersBrowser(browser);
      await use(kept);
      await kept.close();
    },
    { scope: 'worker' },
  ],
  record: [
    async ({}, use, testInfo) => {
      takeLogs();
      const before = cpuTime();
      await use(undefined);
      const after = cpuTime();
      const spent = (['server', 'browser', 'runner'] as const).map((part) => [part, after[part] - before[part]]);
      testInfo.annotations.push({ type: 'cpu', description: JSON.stringify(Object.fromEntries(spent)) });
      const log = testInfo.outputPath('server.log');
      if (testInfo.status === testInfo.expectedStatus) return;
      writeFileSync(log, takeLogs());
      testInfo.attachments.push({ name: 'server log', path: log, contentType: 'text/plain' });
    },
    { auto: true },
  ],
  dressing: ['forms', { option: true }],
  stage: async ({ dressing, stages }, use) => {
    await use(await stages.take(dressing));
    stages.changed();
  },
  opensAt: ['/rules', { option: true }],
  owner: async ({ stage, ownersBrowser, opensAt, locale, timezoneId, viewport }, use, testInfo) => {
    const page = await ownersBrowser.open(JSON.stringify([locale, timezoneId, viewport]));
    const complaints = complaintsOf(page);
    await page.request.post(`${stage.understudy.url}/api/session`, { data: OWNER });
    if (opensAt !== null) await page.goto(stage.understudy.url + opensAt);
    if (opensAt === '/rules') await expect(page.getByRole('heading', { name: 'Running order' })).toBeVisible();
    await use(page);
    if (testInfo.status === testInfo.expectedStatus) await ownersBrowser.clear([stage.understudy.url, stage.shop.url]);
    else await ownersBrowser.close();
    expect(complaints).toEqual([]);
  },
  shopper: async ({ stage, browser }, use) => {
    const page = await (await browser.newContext()).newPage();
    const complaints = complaintsOf(page);
    await page.goto(stage.shop.url);
    await use(page);
    expect(complaints).toEqual([]);
    await page.context().close();
  },
});

/** For tests that change nothing: the next finds the demo as it is. */
export const readingTest = test.extend({
  stage: async ({ dressing, stages }, use) => use(await stages.take(dressing)),
});

export { expect };

export const OWNER = { email: 'olive@quillfern.example', password: 'tansy-and-thyme' };

/** Console errors and exceptions of a page, except responses that a test provokes. */
function complaintsOf(page: Page): string[] {
  const complaints: string[] = [];
  page.on('console', (message) => {
    const isAnswer = /status of (4\d\d|503)|ERR_CONNECTION_(REFUSED|RESET)|ERR_FAILED/.test(message.text());
    if (['error', 'warning'].includes(message.type()) && !isAnswer) complaints.push(message.text());
  });
  page.on('pageerror', (error) => complaints.push(error.message));
  return complaints;
}

export async function signIn(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await page.getByLabel('E-mail').fill(OWNER.email);
  await page.getByLabel('Password').fill(OWNER.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Screens' })).toBeVisible();
}

/** Types a date, with or without its time (ISO 8601), into the parts of a field, whatever their order. */
export async function enterDate(within: Page | Locator, label: string | RegExp, date: string): Promise<void> {
  const [year = '', month = '', day = '', hours = '', minutes = ''] = date.split(/[-T:]/);
  const digits: Readonly<Record<string, string>> = {
    Year: year,
    Month: month,
    Day: day,
    Hours: hours,
    Minutes: minutes,
  };
  const parts = within.getByRole('group', { name: label }).getByRole('spinbutton');
  await parts.first().focus();
  const names = await parts.evaluateAll((all) => all.map((part) => part.getAttribute('aria-label') ?? ''));
  await parts.page().keyboard.type(names.map((name) => digits[name]).join(''));
}

/** The rule as a sentence. */
export const sentence = (page: Page): Locator => page.getByLabel('The rule as a sentence');

/** A phrase of the sentence. */
export const phrase = (page: Page, name: string | RegExp): Locator =>
  sentence(page).getByRole('button', typeof name === 'string' ? { name, exact: true } : { name });

/** The popover of the phrase that is open. */
export const editor = (page: Page): Locator => page.getByRole('dialog', { name: 'Change this phrase' });

export const saved = (page: Page): Promise<void> => expect(page.getByText(/rule \d+ of \d+ · saved/)).toBeVisible();

export async function newRule(page: Page, intention: string): Promise<void> {
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByRole('menuitem', { name: intention }).click();
}

/** Says that a new rule is for the goods with a tag. */
export async function chooseTag(page: Page, tag: string): Promise<void> {
  await phrase(page, 'choose products').click();
  await editor(page).getByLabel('Tags').fill(tag);
  await page.getByRole('option', { name: new RegExp(`^${tag}`) }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
}

/** Adds a clause to the sentence and leaves its popover open. */
export async function addClause(page: Page, clause: string): Promise<void> {
  await sentence(page).getByRole('button', { name: 'and…' }).click();
  await page.getByRole('menuitem', { name: clause }).click();
}

/** Publishes what the draft holds. */
export async function publish(page: Page): Promise<void> {
  await page.getByRole('link', { name: /Draft: .* Review/ }).click();
  await page.getByRole('button', { name: /Publish edition/ }).click();
  await expect(page.getByRole('heading', { name: 'Editions' })).toBeVisible();
}

/** Signs in at the sample shop as one of its customers. */
export async function signInAtShop(page: Page, shopUrl: string, name: string): Promise<void> {
  await page.goto(`${shopUrl}/sign-in`);
  await page.getByRole('button', { name: new RegExp(name) }).click();
  await expect(page.getByRole('button', { name: new RegExp(`${name}: Sign out`) })).toBeVisible();
}

/** Places the order, and pays it on the page of the service for cards. */
export async function payByCard(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Place order' }).click();
  await page.getByRole('button', { name: /^Pay / }).click();
}

/** Makes a call as a program of the owner's, and answers with its body. */
export async function send({ understudy }: Stage, method: string, path: string, body?: unknown): Promise<unknown> {
  const answer = await fetch(understudy.url + path, {
    method,
    headers: { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': 'application/json', 'If-Match': '*' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  expect(answer.ok, `${method} ${path}: ${text}`).toBe(true);
  return text === '' ? undefined : (JSON.parse(text) as unknown);
}

/** Makes rules live. */
export async function publishRules(stage: Stage, rules: readonly Rule[]): Promise<void> {
  await send(stage, 'PUT', '/api/rulebook', { format: 'understudy-rulebook', version: 1, rules });
  await send(stage, 'POST', '/api/editions');
}

/** The address of a shop's page that opens the picker over it. */
export async function pickerAddress(stage: Stage, page: string): Promise<string> {
  return ((await send(stage, 'POST', '/api/picker', { page })) as { address: string }).address;
}

/** Opens, in the simulator, the letter to an address whose subject has these words; waits until it is there. */
export async function openLetter(page: Page, { simulators }: Stage, to: string, subject: string): Promise<void> {
  const letter = page.getByRole('row').filter({ hasText: to }).getByRole('link', { name: subject });
  await expect(async () => {
    await page.goto(`${simulators.url}/?find=${encodeURIComponent(to)}`);
    await expect(letter.first()).toBeVisible({ timeout: 500 });
  }).toPass();
  await letter.first().click();
}
