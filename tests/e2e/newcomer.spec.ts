import { spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { expect, test as base, type Page } from '@playwright/test';
import { cloneDatabase } from '../support/databases.ts';
import { freePort } from '../support/programs.ts';
import { staticShop, type StaticShop } from '../support/staticShop.ts';
import { chooseTag, newRule, publish, saved } from '../support/stage.ts';

/** File of a shop's till: semicolons, decimal commas, Windows-1252, its own headings. */
const GOODS = [
  'Artikelnr;Bezeichnung;Seite;VK-Preis;Bestand;Schlagworte',
  'kf-1;Königsfarn;/farne/koenigsfarn;1.012,50 €;0;Frühjahr, selten',
  'lk-1;Blaues Lungenkraut;/stauden/lungenkraut;9,00 €;12;Schatten',
].join('\r\n');
const PEOPLE = [
  'Kundennummer;Vorname;Nachname;E-Mail;Gruppe;Mitglied bis',
  'K1;Jörg;Öhler;joerg@quillfern.example;Mitglied;28.02.2041',
].join('\r\n');
const inWindows = (name: string, text: string) => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from(text.replaceAll('€', '\u0080'), 'latin1'),
});

const page = (line: string, body: string) =>
  `<!doctype html><html lang="de"><head>${line}<title>Farne</title><style>button{padding:10px 18px}</style></head><body>${body}</body></html>`;
const PRODUCT = `<main><h1>Königsfarn</h1><p class="preis">1.012,50 €</p>
  <form method="post" action="/korb"><input type="hidden" name="artikel" value="kf-1"><label>Menge <input type="number" name="menge" value="1" min="1"></label>
  <button type="submit">In den Warenkorb</button></form></main>`;
const LISTING = `<main><h1>Farne</h1><ul><li><a href="/farne/koenigsfarn">Königsfarn</a><span>1.012,50 €</span>
  <form method="post" action="/korb"><input type="hidden" name="artikel" value="kf-1"><button>In den Warenkorb</button></form></li>
  <li><a href="/stauden/lungenkraut">Blaues Lungenkraut</a><span>9,00 €</span>
  <form method="post" action="/korb"><input type="hidden" name="artikel" value="lk-1"><button>In den Warenkorb</button></form></li></ul></main>`;

interface Machine {
  readonly url: string;
  readonly setup: string;
  readonly shop: StaticShop;
}

/** An empty machine, as `bin/start --bare` starts it once it is built and has a database. */
const test = base.extend<{ machine: Machine }>({
  machine: async ({}, use) => {
    const shop = await staticShop([]);
    const port = await freePort();
    const child = spawn(process.execPath, ['bin/launch.mjs'], {
      env: {
        ...process.env,
        UNDERSTUDY_BARE: '1',
        PORT: String(port),
        // Empty: a bare installation makes its own tables.
        DATABASE_URL: await cloneDatabase('template1'),
        UNDERSTUDY_PRIVATE_HOSTS: new URL(shop.url).host,
        CHROMIUM: '',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let setup = '';
    for await (const line of createInterface(child.stdout)) {
      setup = /Make the first owner\s+(\S+)/.exec(line)?.[1] ?? setup;
      if (line.includes('Ctrl-C')) break;
    }
    await use({ url: `http://127.0.0.1:${port}`, setup, shop });
    child.kill('SIGTERM');
    await new Promise((resolve) => child.once('exit', resolve));
    await shop.stop();
  },
});

/** Chooses a file by pressing, as people do. */
async function choose(owner: Page, file: ReturnType<typeof inWindows>): Promise<void> {
  const choosing = owner.waitForEvent('filechooser');
  await owner.getByRole('button', { name: 'Choose a CSV file' }).click();
  await (await choosing).setFiles(file);
}

async function bringIn(owner: Page, file: ReturnType<typeof inWindows>): Promise<void> {
  await choose(owner, file);
  await owner.getByRole('button', { name: 'See what will change' }).click();
  await owner.getByRole('button', { name: /^Import \d+ rows?$/ }).click();
  await expect(owner.getByRole('dialog')).toContainText('rows are in.');
  await owner.getByRole('button', { name: 'Close' }).click();
  await owner.getByRole('link', { name: 'Today' }).click();
}

test('a newcomer has a first pre-order live in under 40 presses, and a colleague who may not publish', async ({
  machine: { url, setup, shop },
  browser,
}) => {
  test.slow();
  const context = await browser.newContext({ locale: 'de-DE', timezoneId: 'Europe/Berlin' });
  let presses = 0;
  await context.exposeBinding('pressed', () => {
    presses += 1;
  });
  await context.addInitScript(() => {
    const count = (event: MouseEvent) => {
      if (event.isTrusted) (globalThis as unknown as { pressed: () => void }).pressed();
    };
    addEventListener('click', count, true);
  });
  const owner = await context.newPage();
  const step = (name: string) =>
    owner.getByRole('region', { name: 'First steps' }).getByRole('listitem').filter({ hasText: name });

  await test.step('becomes the owner: all faults at once, what the browser knows filled in', async () => {
    await owner.goto(setup);
    await expect(owner.getByLabel('Time zone')).toHaveValue(/Europe\/Berlin/);
    await expect(owner.getByLabel('Currency')).toHaveValue('Euro, EUR');
    await expect(owner.getByText('German')).toBeVisible();
    await expect(owner.getByText('Understudy has no way to send letters yet.')).toBeVisible();
    await owner.getByRole('button', { name: 'Open the shop’s rules' }).click();
    for (const fault of [
      'Write what the shop is called',
      'Write your name',
      'Write your e-mail address',
      'Choose a password',
    ])
      await expect(owner.getByText(fault)).toBeVisible();
    await owner.getByLabel('Shop’s name').fill('Farngarten');
    await owner.getByLabel('Your name').fill('Olive Tarrant');
    await owner.getByLabel('Your e-mail').fill('olive@quillfern.example');
    await owner.getByLabel('A password').fill('password12');
    await owner.getByLabel('A password').press('Enter');
    await expect(owner.getByText(/several words do well/)).toBeVisible();
    await owner.getByLabel('A password').fill('tansy-and-thyme');
    await owner.getByLabel('A password').press('Enter');
    await expect(owner.getByRole('heading', { name: 'Today' })).toBeVisible();
    await expect(owner.getByRole('link', { name: /No letters are sent/ })).toBeVisible();
  });

  await test.step('brings the catalog in, and people', async () => {
    await step('Bring the catalog in').getByRole('link').click();
    await bringIn(owner, inWindows('artikel.csv', GOODS));
    await expect(step('Bring the catalog in')).toContainText('2 products');
    await step('Bring your customers in').getByRole('link').click();
    await bringIn(owner, inWindows('kunden.csv', PEOPLE));
    await expect(step('Bring your customers in')).toContainText('1 person');
  });

  await test.step('shows where the button is', async () => {
    await step('Put the line on your pages').getByRole('link').click();
    const line = await owner.locator('code').filter({ hasText: '<script' }).first().innerText();
    shop.pages.set('/farne/koenigsfarn', page(line, PRODUCT)).set('/farne', page(line, LISTING));
    await owner.getByLabel('A product’s page on the shop').fill(`${shop.url}/farne/koenigsfarn`);
    const opening = context.waitForEvent('page');
    await owner.getByRole('button', { name: 'Show me the control' }).click();
    const tab = await opening;
    await expect(tab.locator('.panel .part').filter({ hasText: /^\s*The control/ })).toContainText(/[1-9]\d* here/);
    await tab.goto(`${shop.url}/farne`);
    await tab.locator('#propose').click();
    await expect(tab.locator('.panel footer p').first()).toHaveText(/^Saved in the draft/);
    await tab.locator('#done').click();
    await owner.bringToFront();
    await owner.reload();
    await owner.getByRole('button', { name: 'Publish the page map' }).click();
    await expect(owner.getByText(/^Live since/)).toBeVisible();
    await owner.getByRole('link', { name: 'Today' }).click();
    await expect(step('Put the line on your pages')).toContainText(`seen on ${shop.url}`);
    await expect(step('Show where the button is')).toContainText('found, and live');
  });

  await test.step('writes a pre-order rule and publishes it', async () => {
    await step('Write the first rule').getByRole('link').click();
    await newRule(owner, 'Take pre-orders by tag');
    await chooseTag(owner, 'Frühjahr');
    await saved(owner);
    await publish(owner);
    await owner.getByRole('link', { name: 'Today' }).click();
    await expect(owner.getByRole('heading', { name: 'What shoppers see now' })).toBeVisible();
    await expect(owner.getByRole('region', { name: 'First steps' })).toBeHidden();
  });

  const shopper = await (await browser.newContext({ locale: 'de-DE' })).newPage();
  await shopper.goto(`${shop.url}/farne/koenigsfarn`);
  await expect(shopper.getByRole('button', { name: 'Vorbestellen' })).toBeVisible();
  await expect(shopper.getByRole('button', { name: 'In den Warenkorb' })).toBeHidden();
  await shopper.context().close();

  await test.step('invites a colleague who may not publish', async () => {
    await owner.getByRole('button', { name: 'Signed in as Olive Tarrant' }).click();
    await owner.getByRole('menuitem', { name: 'Settings' }).click();
    await owner.getByRole('link', { name: 'Colleagues' }).click();
    const invitation = owner.getByRole('region', { name: 'Invite a colleague' });
    await invitation.getByLabel('Name').fill('Wren Alder');
    await invitation.getByLabel('E-mail').fill('wren@quillfern.example');
    await owner.getByRole('button', { name: 'Invite', exact: true }).click();
    const link = await owner.getByText(/\/password\?token=/).innerText();
    const colleague = await (await browser.newContext()).newPage();
    await colleague.goto(link);
    await colleague.getByLabel('A password').fill('rook-and-lantern-9');
    await colleague.getByLabel('A password').press('Enter');
    await expect(colleague.getByRole('heading', { name: 'Today' })).toBeVisible();
    await colleague.getByRole('link', { name: 'Rules' }).click();
    await newRule(colleague, 'Ask guests to sign in');
    await chooseTag(colleague, 'Schatten');
    await saved(colleague);
    await colleague.getByRole('link', { name: /Draft: .* Review/ }).click();
    await expect(colleague.getByRole('button', { name: /^Publish edition/ })).toBeDisabled();
    const session = (await (await colleague.request.get(`${url}/api/session`)).json()) as { csrfToken: string };
    const refused = await colleague.request.post(`${url}/api/editions`, {
      headers: { 'X-CSRF-Token': session.csrfToken },
    });
    expect(refused.status()).toBe(403);
    await colleague.context().close();
  });
  test.info().annotations.push({ type: 'presses', description: String(presses) });
  expect(presses).toBeLessThan(40);
  await context.close();
});
