import type { Page } from '@playwright/test';
import { dayAhead } from '../support/dates.ts';
import {
  addClause,
  chooseTag,
  editor,
  expect,
  newRule,
  publish,
  publishRules,
  saved,
  sentence,
  test,
  type Stage,
} from '../support/stage.ts';
import { OWNER_KEY } from '../support/programs.ts';
import { forgetMaps } from '../support/pageMaps.ts';
import { staticShop } from '../support/staticShop.ts';
import { partOf } from '../support/sampling.ts';
import { LISTING, PRODUCT, themesIn } from '../support/themes.ts';

test.use({ opensAt: null });

/** Six shops that have nothing in common but what they sell. */
const THEMES = [
  ['aside', '01-ledger-dutch'],
  ['aside', '02-hashed-quebec'],
  ['aside', '03-drawn-late'],
  ['aside', '04-sticky-hebrew'],
  ['second', '07-elements-thai'],
  ['third', '06-webfont-icons'],
] as const;

/** Ship date of these shops. */
async function tagAll({ understudy }: Stage): Promise<void> {
  const answer = await fetch(`${understudy.url}/api/catalog/import`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': 'text/csv' },
    body: `variant_id,product_id,tags,dates\ninkwell-division,inkwell,ships-spring,ships=${dayAhead(500)}`,
  });
  expect(await answer.json()).toMatchObject({ refused: [] });
}

/** Controls seen in any frame. */
interface Frames {
  /** Words of the shop's own controls. */
  readonly controls: readonly string[];
  /** Words of prices, former prices, savings and instalments. */
  readonly money: readonly string[];
  readonly shift: number;
}

/** Records from a page's first frame on what is seen of what its author calls a control or money (`truth`). */
async function record(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const known = { control: new Set<Element>(), money: new Set<Element>() };
    const seen = { control: new Set<string>(), money: new Set<string>() };
    let shift = 0;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) {
        const { value, hadRecentInput } = entry as unknown as { value: number; hadRecentInput: boolean };
        if (!hadRecentInput) shift += value;
      }
    }).observe({ type: 'layout-shift', buffered: true });
    const learn = (tree: Document | ShadowRoot) => {
      for (const element of tree.querySelectorAll('[truth]')) {
        const truth = element.getAttribute('truth') ?? '';
        // Nobody but the author knows it.
        element.removeAttribute('truth');
        if (truth === 'control') known.control.add(element);
        if (truth === 'price' || truth === 'beside') known.money.add(element);
      }
    };
    const follow = (tree: Document | ShadowRoot) => {
      learn(tree);
      new MutationObserver(() => {
        learn(tree);
      }).observe(tree, { childList: true, subtree: true });
    };
    follow(document);
    const attachShadow: (this: Element, init: ShadowRootInit) => ShadowRoot = Reflect.get(
      Element.prototype,
      'attachShadow',
    );
    Element.prototype.attachShadow = function attach(init) {
      const root = attachShadow.call(this, init);
      follow(root);
      return root;
    };
    const look = () => {
      for (const kind of ['control', 'money'] as const)
        for (const element of known[kind])
          if (element.isConnected && element.checkVisibility({ visibilityProperty: true }))
            seen[kind].add((element instanceof HTMLInputElement ? element.value : element.textContent).trim());
      requestAnimationFrame(look);
    };
    look();
    Object.assign(globalThis, {
      frames: () => ({ controls: [...seen.control], money: [...seen.money], shift, of: known.control.size }),
    });
  });
}

const framesOf = (page: Page): Promise<Frames & { of: number }> =>
  page.evaluate(() => (globalThis as unknown as { frames: () => Frames & { of: number } }).frames());

for (const [set, name] of partOf(THEMES, 3))
  test(`from the line in its head to a pre-order that is live, in a shop like ${name}`, async ({
    owner,
    stage,
    browser,
  }) => {
    await publishRules(stage, []);
    await tagAll(stage);
    await forgetMaps(stage);
    await owner.goto(`${stage.understudy.url}/connection`);
    const line = await owner.locator('code').filter({ hasText: '<script' }).first().innerText();
    const theme = themesIn(`tests/themes/${set}`).find((one) => one.name === name);
    const [product = '', listing = ''] = theme?.pages ?? [];
    const withLine = (html: string) => html.replace(/<head>/i, `<head>${line}`);
    const shop = await staticShop([
      [PRODUCT, withLine(product)],
      [LISTING, withLine(listing)],
    ]);

    await test.step('the picker proposes, the owner agrees', async () => {
      await owner.getByLabel('A product’s page on the shop').fill(shop.url + PRODUCT);
      const opening = owner.context().waitForEvent('page');
      await owner.getByRole('button', { name: 'Show me the control' }).click();
      const tab = await opening;
      await tab.addInitScript(() => {
        new MutationObserver(() => {
          for (const element of document.querySelectorAll('[truth]')) element.removeAttribute('truth');
        }).observe(document, { childList: true, subtree: true });
      });
      const state = tab.locator('.panel footer p').first();
      await expect(tab.locator('.panel .part').filter({ hasText: /^\s*The control/ })).toContainText(/[1-9]\d* here/);
      await tab.goto(shop.url + LISTING);
      await tab.locator('#propose').click();
      await expect(state).toHaveText(/^Saved in the draft/);
      await tab.locator('#done').click();
      await owner.reload();
      await owner.getByRole('button', { name: 'Publish the page map' }).click();
      await expect(owner.getByText(/^Live since/)).toBeVisible();
    });
    await test.step('a pre-order that asks for the price', async () => {
      await owner.getByRole('link', { name: 'Rules' }).click();
      await newRule(owner, 'Take pre-orders by tag');
      await chooseTag(owner, 'ships-spring');
      await addClause(owner, 'the price');
      await editor(owner).getByLabel('The price').click();
      await owner.getByRole('option', { name: 'is hidden' }).click();
      await owner.keyboard.press('Escape');
      await expect(sentence(owner)).toContainText('hide the price');
      await saved(owner);
      await publish(owner);
    });
    await test.step('nothing of the shop’s own is seen in any frame, and nothing moves', async () => {
      const shopper = await (await browser.newContext()).newPage();
      await record(shopper);
      for (const path of [PRODUCT, LISTING]) {
        await shopper.goto(shop.url + path);
        await shopper.waitForLoadState('networkidle');
        await expect(shopper.locator('[data-understudy=shown]').first()).toBeAttached();
        const { controls, money, shift, of } = await framesOf(shopper);
        expect.soft([path, controls, money, shift]).toEqual([path, of === 0 ? [] : ['Pre-order'], [], 0]);
      }
      await shopper.context().close();
    });
    await shop.stop();
  });
