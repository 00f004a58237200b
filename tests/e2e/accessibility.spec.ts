import type { Page } from '@playwright/test';
import { violationsIn } from '../support/axe.ts';
import { cloneDatabase } from '../support/databases.ts';
import { partOf } from '../support/sampling.ts';
import { follow, onEachScreen, SCREENS } from '../support/screens.ts';
import { SETUP_TOKEN, startUnderstudy } from '../support/programs.ts';
import { expect, newRule, phrase, readingTest, test } from '../support/stage.ts';

/** Number of scans so far, so that the themes alternate. */
let scans = 0;

/** Scans the screen in one theme, and in the other tomorrow; in both with `--long`. */
async function expectNoViolations(page: Page, what: string): Promise<void> {
  for (const colorScheme of partOf(['light', 'dark'] as const, 2, (scans += 1))) {
    await page.emulateMedia({ colorScheme });
    expect(await violationsIn(page), `${what}, ${colorScheme}`).toEqual([]);
  }
  await page.emulateMedia({ colorScheme: 'light' });
}

// Two halves, side by side.
for (const half of [0, 1])
  readingTest.describe(`half ${half + 1} of the screens`, () => {
    readingTest.use({ opensAt: '/today' });
    readingTest('axe finds nothing on any of them', async ({ owner }) => {
      const screens = SCREENS.filter((_one, index) => index % 2 === half);
      await onEachScreen(owner, screens, (address) => expectNoViolations(owner, address));
    });
  });

test('axe finds nothing on what opens over the screens', async ({ owner, stage }) => {
  await owner.goto(`${stage.understudy.url}/rules/trade-hedging`);
  await expect(owner.getByRole('table')).toBeVisible();
  await expectNoViolations(owner, 'rules');
  await owner
    .getByRole('button', { name: /Trade: Ask for a price/ })
    .first()
    .click();
  await expect(owner.getByRole('dialog', { name: 'Why' })).toBeVisible();
  await expectNoViolations(owner, 'why');
  await owner.keyboard.press('Escape');
  await newRule(owner, 'Start from scratch');
  await phrase(owner, 'choose what happens').click();
  await owner.getByRole('radio', { name: 'A link' }).click();
  await expectNoViolations(owner, 'a phrase, open');
  await owner.keyboard.press('Escape');
  await follow(owner, '/catalog');
  await owner.getByRole('button', { name: 'Import' }).click();
  await owner.locator('input[type=file]').setInputFiles('demo/data/catalog.csv');
  await expect(owner.getByRole('button', { name: 'See what will change' })).toBeVisible();
  await expectNoViolations(owner, 'a file being brought in');
  await owner.getByRole('button', { name: 'See what will change' }).click();
  await expect(owner.getByText('Nothing is written yet.')).toBeVisible();
  await expectNoViolations(owner, 'what a file will change');
});

readingTest('axe finds nothing on the sample shop, stand-ins included', async ({ shopper, stage }) => {
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
  const understudy = await startUnderstudy(await cloneDatabase('template1'));
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
  const other = await browser.newPage();
  await other.goto(understudy.url);
  await expect(other.getByLabel('E-mail')).toBeVisible();
  await expectNoViolations(other, 'sign-in');
  await other.context().close();
  await understudy.stop();
});
