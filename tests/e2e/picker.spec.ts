import { violationsIn } from '../support/axe.ts';
import type { Page } from '@playwright/test';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapVersion } from '#core/contract/pageMapCalls.ts';
import { expect, pickerAddress, send, test, type Stage } from '../support/stage.ts';
import { forgetMaps } from '../support/pageMaps.ts';
import { staticShop } from '../support/staticShop.ts';
import { DRESSINGS } from '../support/programs.ts';
import { partOf } from '../support/sampling.ts';

const PRODUCT = '/plants/paper-lantern';

/** Opens the picker as Connection does, on a shop that has no map. */
async function openPicker(page: Page, stage: Stage): Promise<void> {
  await page.goto(await pickerAddress(stage, stage.shop.url + PRODUCT));
  await expect(page.getByRole('region', { name: 'Show me the control' })).toBeVisible();
}

const line = (page: Page, name: string) => page.locator('.panel .part').filter({ hasText: new RegExp(`^\\s*${name}`) });

/** Opens a line of the panel and has the next press on the page choose. */
async function picking(page: Page, name: string): Promise<void> {
  await line(page, name).click();
  const pick = page.locator('#pick');
  if ((await pick.textContent()) !== 'Stop picking') await pick.click();
  await expect(page.locator('.task')).toContainText(/press/i);
}

const kept = (page: Page) => expect(page.locator('.panel footer p').first()).toHaveText(/Saved in the draft/);

const PRESSES = {
  forms: { units: '.row-units', all: '.put-all' },
  script: { units: '[data-units]', all: '[data-add-all]' },
  elements: { units: '[part=units]', all: '[part=all]' },
} as const;

for (const dressing of partOf(DRESSINGS, 3)) {
  test.describe(dressing, () => {
    test.use({ dressing });
    test(`a shop dressed in ${dressing} is mapped by pressing what is meant, and then does as the rules say`, async ({
      owner,
      shopper,
      stage,
    }) => {
      const maps = (await forgetMaps(stage))!;
      const page = await owner.context().newPage();
      const { units, all } = PRESSES[dressing];
      let asRead = '';
      for (const variant of ['last-bus-9-cm-pot', 'ash-dibber-one'])
        await page.request.post(`${stage.shop.url}/basket/add`, { form: { variant } });

      await test.step('the product’s page is read at once', async () => {
        await openPicker(page, stage);
        for (const name of ['The product', 'The control', 'The price', 'The choice of size', 'Quantity'])
          await expect(line(page, name)).toContainText(/[1-9]\d* here/);
        // A page without cards leaves the listing to be looked at.
        const isWhole = dressing !== 'forms';
        await expect(page.locator('.panel footer')).toContainText(
          isWhole ? 'Saved in the draft' : 'Still needed: a card',
        );
      });
      await test.step('the panel can be used by everybody', async () => {
        expect(await violationsIn(page, { within: '[data-understudy-picker]' })).toEqual([]);
      });
      await test.step('express pay is pressed; what it would choose is outlined first; the page does nothing', async () => {
        await picking(page, 'Express pay');
        const button = page.getByRole('button', { name: 'Pay swiftly' });
        await button.hover();
        await expect(page.locator('.outline')).toBeVisible();
        await button.click();
        await expect(line(page, 'Express pay')).toContainText('1 here');
        await expect(page).toHaveURL(/paper-lantern/);
      });
      await test.step('it proves itself on every page that the map names', async () => {
        await line(page, 'The price').click();
        await page.locator('#prove').click();
        await expect(page.locator('.strip')).toContainText(/The price: [1-9]\d* on this page/);
        await page.locator('#close-strip').click();
      });
      await test.step('a listing, with its quick view', async () => {
        await page.goto(stage.shop.url);
        await page.locator('#propose').click();
        await page.locator('#swap').click();
        await expect(line(page, 'A card')).toContainText(/4\d here/);
        await expect(line(page, 'The control')).toContainText(/4\d here/);
        await page
          .getByRole('button', { name: /Quick look/ })
          .nth(1)
          .click();
        await picking(page, 'A quick view');
        await page.locator('.glance-card a').last().click();
        await page.keyboard.press('Escape');
        await page.locator('#own-words').selectText();
        // Typed text and caret stay while the page changes and the panel is redrawn.
        await page.evaluate(async () => {
          document.body.append(document.createElement('i'));
          for (let frame = 0; frame < 2; frame += 1) await new Promise(requestAnimationFrame);
        });
        await page.keyboard.insertText('.glance-card');
        await page.keyboard.press('Enter');
        await expect(page.locator('.ways code').first()).toHaveText('.glance-card');
        await kept(page);
      });
      await test.step('several products in one form', async () => {
        await page.goto(`${stage.shop.url}/border`);
        await picking(page, 'A card');
        await page.getByRole('link', { name: 'Aster ‘Last Bus’' }).click();
        await expect(line(page, 'A card')).toContainText('5 here');
        await picking(page, 'The control');
        await page.locator(units).first().click();
        await expect(line(page, 'The control')).toContainText('5 here');
        await picking(page, 'One button for several');
        await page.locator(all).click();
        await expect(line(page, 'One button for several')).toContainText('1 here');
        await kept(page);
      });
      await test.step('cart and checkout', async () => {
        await page.goto(`${stage.shop.url}/basket`);
        await picking(page, 'A line of the cart');
        await page.getByRole('link', { name: 'Aster ‘Last Bus’' }).click();
        await expect(line(page, 'A line of the cart')).toContainText('2 here');
        await picking(page, 'Links to checkout');
        await page.getByRole('link', { name: 'To checkout' }).click();
        await page.goto(`${stage.shop.url}/checkout`);
        await picking(page, 'The order button');
        await page.getByRole('button', { name: 'Place order' }).click();
        // The page was read as it opened.
        await expect(line(page, 'A payment method')).toContainText('2 here');
        asRead = (await line(page, 'A payment method').textContent()) ?? '';
        await picking(page, 'A payment method');
        await page.getByText('Invoice').click();
        await expect(line(page, 'A payment method')).toContainText('2 here');
        await kept(page);
      });
      await test.step('what was picked is undone and done again', async () => {
        await page.locator('#undo').click();
        await expect(line(page, 'A payment method')).toHaveText(asRead);
        await page.locator('#pick').click();
        await page.getByText('Invoice').click();
        await kept(page);
      });
      await test.step('back in Connection it is a draft, is checked, and published', async () => {
        await page.locator('#done').click();
        await expect(page.getByText(/^Draft of .*not live yet$/)).toBeVisible();
        await page.getByRole('textbox', { name: 'Cart and checkout: checkout’s address' }).fill('^/checkout$');
        await page.keyboard.press('Enter');
        await page.getByRole('button', { name: 'Check these pages' }).click();
        await expect(page.getByText(/^Checked /)).toBeVisible();
        await page.getByRole('button', { name: 'Publish the page map' }).click();
        await expect(page.getByText(/^Live since .* by Olive Tarrant/)).toBeVisible();
      });
      await test.step('it finds what the nursery’s own map finds', async () => {
        const { live } = (await send(stage, 'GET', '/api/page-map')) as { live: MapVersion };
        expect(live.map.checkout?.methodCodes).toEqual(maps.checkout?.methodCodes);
        for (const path of [PRODUCT, '/', '/border']) {
          await shopper.goto(stage.shop.url + path);
          const [ours, theirs] = await shopper.evaluate(countParts, [live.map, maps]);
          expect({ path, ...ours }).toEqual({ path, ...theirs });
        }
      });
      await test.step('and the shop does as the rules say', async () => {
        await shopper.goto(stage.shop.url + PRODUCT);
        await expect(shopper.getByRole('button', { name: 'Reserve for spring' })).toBeVisible();
        await expect(shopper.getByRole('button', { name: 'Pay swiftly' })).toBeHidden();
        await shopper.goto(`${stage.shop.url}/border`);
        await expect(shopper.getByText('None left this year')).toBeVisible();
      });
      await page.close();
    });
  });
}

/** Runs in the page: how many of each part two maps find, and whether they are the same. */
function countParts(maps: PageMap[]): Record<string, number>[] {
  const all = (selector: string | undefined, tree: Document | Element | ShadowRoot = document): Element[] =>
    selector === undefined
      ? []
      : [
          ...tree.querySelectorAll(selector),
          ...[...tree.querySelectorAll('*')].flatMap(({ shadowRoot }) => (shadowRoot ? all(selector, shadowRoot) : [])),
        ];
  const holds = (outer: Element, inner: Element): boolean => {
    const root = inner.getRootNode();
    return outer.contains(inner) || (root instanceof ShadowRoot && holds(outer, root.host));
  };
  return maps.map((map) => {
    const pages = new RegExp(map.productPage.path as string).test(location.pathname) ? all(map.productPage.area) : [];
    const cards = all(map.card.area);
    const within = (selector: string | undefined) =>
      all(selector).filter((element) => [...pages, ...cards].some((area) => holds(area, element)));
    const links = cards.filter(
      (card) => card.matches(map.card.link) || all(map.card.link, card).length > 0 || card.shadowRoot,
    );
    return {
      pages: pages.length,
      cards: cards.length,
      links: links.length,
      control: within(map.control).length,
      express: within(map.express).length,
      price: within(map.price).length,
      cartLinks: all(map.cart?.links).length,
    };
  });
}

test('the picker opens for its half hour, only with its token, and only to change the draft', async ({
  shopper,
  stage,
}) => {
  await shopper.goto(`${stage.shop.url}${PRODUCT}#understudy-picker=made.up.token`);
  // A token that opens nothing is forgotten: the page is as always.
  await expect(shopper.getByRole('button', { name: 'Reserve for spring' })).toBeVisible();
  await expect(shopper).toHaveURL(stage.shop.url + PRODUCT);
  await expect(shopper.locator('.panel')).toHaveCount(0);
  const refused = await shopper.request.put(`${stage.understudy.url}/v1/page-map-draft`, {
    data: {},
    headers: { Authorization: 'Bearer made.up.token' },
  });
  expect(refused.status()).toBe(401);
});

test('scripts of the shop’s page cannot press what lies over it, nor read more than the page may know', async ({
  owner,
  stage,
}) => {
  await forgetMaps(stage);
  const page = await owner.context().newPage();
  await openPicker(page, stage);
  const before = await send(stage, 'GET', '/api/page-map');
  const pressed = await page.evaluate(() => {
    const root = document.querySelector('[data-understudy-picker]')?.shadowRoot;
    const buttons = [...(root?.querySelectorAll('button') ?? [])];
    for (const button of buttons) {
      button.click();
      button.dispatchEvent(new MouseEvent('click', { bubbles: true, composed: true }));
    }
    document.querySelector('main')?.dispatchEvent(new MouseEvent('click', { bubbles: true, composed: true }));
    return buttons.length;
  });
  expect(pressed).toBeGreaterThan(3);
  await expect(page.getByRole('region', { name: 'Show me the control' })).toBeVisible();
  expect(await send(stage, 'GET', '/api/page-map')).toEqual(before);
  // With the token that the page could find, it is the picker and nothing else.
  const token = await page.evaluate(() => sessionStorage.getItem('understudy-picker') ?? '');
  expect(token).not.toBe('');
  const start = await page.request.get(`${stage.understudy.url}/v1/page-map-draft`, {
    headers: { Authorization: `Bearer ${token}` },
  });
  const { products } = (await start.json()) as { products: { path: string; prices: number[] }[] };
  expect(products.length).toBeGreaterThan(10);
  // No guest may see what a mature tree costs.
  expect(products.find(({ path }) => path === '/plants/field-maple')?.prices).toEqual([]);
  for (const path of ['/api/page-map', '/api/rulebook', '/api/connection']) {
    const answer = await page.request.get(stage.understudy.url + path, {
      headers: { Authorization: `Bearer ${token}`, Cookie: '' },
    });
    expect(answer.status()).toBe(401);
  }
});

test('on a page without the line, both windows say that the picker has not started, and what to do', async ({
  owner,
  stage,
}) => {
  const shop = await staticShop([[PRODUCT, '<h1>Dahlia</h1><button>Add to basket</button>']]);
  await owner.goto(`${stage.understudy.url}/connection`);
  await owner.getByLabel('A product’s page on the shop').fill(shop.url + PRODUCT);
  const opening = owner.context().waitForEvent('page');
  await owner.getByRole('button', { name: 'Show me the control' }).click();
  const tab = await opening;
  for (const page of [owner, tab]) {
    const alert = page.getByRole('alert');
    await expect(alert).toContainText('The picker has not started');
    // The test’s server may not read private addresses; what would let it is said.
    await expect(alert).toContainText(`UNDERSTUDY_PRIVATE_HOSTS=${new URL(shop.url).host}`);
    await expect(alert.getByRole('button', { name: 'Copy the line for the page' })).toBeVisible();
  }
  await tab.getByRole('link', { name: 'Back to Connection' }).click();
  await expect(tab.getByRole('heading', { name: 'Connection', exact: true })).toBeVisible();
  await shop.stop();
});

test.describe('a page that a script draws late', () => {
  test.use({ dressing: 'script' });
  test('is read again once it is there', async ({ owner, stage }) => {
    await forgetMaps(stage);
    const page = await owner.context().newPage();
    await page.route(/\/script\.js$/, (route) =>
      route.fulfill({
        contentType: 'text/javascript',
        body: `addEventListener('draw', () => {
          document.head.append(Object.assign(document.createElement('script'), { src: '/assets/script.js?late' }));
        });`,
      }),
    );
    await openPicker(page, stage);
    await expect(line(page, 'The control')).toContainText('not set');
    await page.evaluate(() => dispatchEvent(new Event('draw')));
    await expect(line(page, 'The control')).toContainText(/[1-9] here/);
    await expect(line(page, 'The price')).toContainText(/[1-9] here/);
  });
});
