import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { cloneDatabase } from '../support/databases.ts';
import { SETUP_TOKEN, startUnderstudy } from '../support/programs.ts';
import { expect, newRule, phrase, readingTest, signIn, test } from '../support/stage.ts';

/** Axe without its blank page for adding up the frames of other origins, which none of these screens has. */
const axeOn = (page: Page) => new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });

async function expectNoViolations(page: Page, what: string): Promise<void> {
  const expectNone = async (axe: AxeBuilder, scheme: string) => {
    const { violations } = await axe.analyze();
    const found = violations.flatMap(({ id, nodes }) =>
      nodes.map(({ target, failureSummary }) => ({ id, target, failureSummary })),
    );
    expect(found, `${what}, ${scheme}`).toEqual([]);
  };
  await expectNone(axeOn(page), 'light');
  // In the dark nothing but colours is other.
  await page.emulateMedia({ colorScheme: 'dark' });
  await expectNone(axeOn(page).withRules(['color-contrast', 'link-in-text-block']), 'dark');
  await page.emulateMedia({ colorScheme: 'light' });
}

test('axe finds nothing on any screen', async ({ stage, browser }) => {
  test.slow();
  const page = await (await browser.newContext({ colorScheme: 'light' })).newPage();
  await page.goto(stage.understudy.url);
  await expect(page.getByLabel('E-mail')).toBeVisible();
  await expectNoViolations(page, 'sign-in');
  await signIn(page, stage.understudy.url);
  await page.goto(`${stage.understudy.url}/rules/trade-hedging`);
  await expect(page.getByRole('table')).toBeVisible();
  await expectNoViolations(page, 'rules');
  await page
    .getByRole('button', { name: /Trade: Ask for a price/ })
    .first()
    .click();
  await expect(page.getByRole('dialog', { name: 'Why' })).toBeVisible();
  await expectNoViolations(page, 'why');
  await page.keyboard.press('Escape');
  await newRule(page, 'Start from scratch');
  await phrase(page, 'choose what happens').click();
  await page.getByRole('radio', { name: 'A link' }).click();
  await expectNoViolations(page, 'a phrase, open');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: /Review/ }).click();
  await expect(page.getByRole('heading', { name: 'Review the draft' })).toBeVisible();
  await expectNoViolations(page, 'review');
  for (const [address, heading] of [
    ['/today', 'Today'],
    ['/rehearsal', 'Rehearsal'],
    ['/calendar', 'Calendar'],
    ['/editions', 'Editions'],
    ['/connection', 'Connection'],
    ['/text', 'The rulebook as text'],
    ['/people', 'People'],
    ['/waitlists', 'Waitlists'],
    ['/preorders', 'Pre-orders'],
    ['/quotes', 'Quotes'],
    ['/enquiries', 'Enquiries'],
    ['/messages', 'Messages'],
    ['/messages/words', 'Message templates'],
    ['/texts', 'Shop texts'],
    ['/messages/settings', 'Design and channels'],
    ['/settings/shop', 'Settings'],
    ['/settings/record', 'Settings'],
    ['/settings/you', 'Settings'],
    ['/forms', 'Forms'],
    ['/catalog/paper-lantern', 'Dahlia ‘Paper Lantern’'],
    [`/catalog?where=${encodeURIComponent('{"fact":"stock.status","op":"in","value":["outOfStock"]}')}`, 'Catalog'],
  ] as const) {
    await page.goto(stage.understudy.url + address);
    await expect(page.getByRole('heading', { name: heading, exact: true })).toBeVisible();
    await page.waitForLoadState('networkidle');
    await expectNoViolations(page, address);
  }
  await page.getByRole('button', { name: 'Import' }).click();
  await page.locator('input[type=file]').setInputFiles('demo/data/catalog.csv');
  await expect(page.getByRole('button', { name: 'See what will change' })).toBeVisible();
  await expectNoViolations(page, 'a file being brought in');
  await page.getByRole('button', { name: 'See what will change' }).click();
  await expect(page.getByText('Nothing is written yet.')).toBeVisible();
  await expectNoViolations(page, 'what a file will change');
  await page.context().close();
});

readingTest('axe finds nothing on the sample shop, stand-ins included', async ({ shopper, stage }) => {
  test.slow();
  for (const path of [
    '/',
    '/plants/inkwell',
    '/plants/paper-lantern',
    '/seeds',
    '/sign-in',
    '/basket',
    '/plants/fern-spores',
  ]) {
    await shopper.goto(stage.shop.url + path);
    await shopper.waitForLoadState('networkidle');
    await expectNoViolations(shopper, path);
  }
});

test('a bare installation is opened by its one-time link', async ({ browser }) => {
  const understudy = await startUnderstudy(await cloneDatabase());
  const page = await (await browser.newContext()).newPage();
  await page.goto(understudy.url);
  await expect(page.getByRole('heading', { name: 'This shop is not set up yet' })).toBeVisible();
  await expectNoViolations(page, 'not set up');
  await page.goto(`${understudy.url}/setup?token=${SETUP_TOKEN}`);
  await page.getByLabel('Shop’s name').fill('Quillfern Nursery');
  await page.getByLabel('Your name').fill('Olive Tarrant');
  await page.getByLabel('Your e-mail').fill('olive@quillfern.example');
  await page.getByLabel('A password').fill('short');
  await page.getByRole('button', { name: 'Open the shop’s rules' }).click();
  await expect(page.getByText('At least 10 characters')).toBeVisible();
  await expectNoViolations(page, 'setup');
  await page.getByLabel('A password').fill('tansy-and-thyme');
  await page.getByRole('button', { name: 'Open the shop’s rules' }).click();
  await expect(page.getByRole('heading', { name: 'First steps' })).toBeVisible();
  await expectNoViolations(page, 'the first steps');
  await page.getByRole('navigation', { name: 'Screens' }).getByRole('link', { name: 'Rules' }).click();
  await expect(page.getByRole('heading', { name: 'No rules yet' })).toBeVisible();
  await newRule(page, 'Pause the shop');
  await expect(page.getByText('There are no products to show yet.')).toBeVisible();
  await expectNoViolations(page, 'rules without goods');
  await page.context().close();
  await understudy.stop();
});
