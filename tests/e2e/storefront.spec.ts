import { readFileSync } from 'node:fs';
import { cloneDatabase } from '../support/databases.ts';
import { SEEDED } from '../support/seeded.ts';
import { expect, readingTest, test } from '../support/stage.ts';
import { staticShop } from '../support/staticShop.ts';
import { startServer } from '../support/testServer.ts';
import { watch, watched } from '../support/watch.ts';

const CONTROLS = '.put-in-basket, .swift-pay';

readingTest('no wrong control is ever seen, and nothing moves', async ({ shopper, stage }) => {
  await watch(shopper, CONTROLS);
  await shopper.goto(`${stage.shop.url}/plants/saffron-hill`);
  await expect(shopper.getByRole('button', { name: 'Reserve for spring' })).toBeVisible();
  expect(await watched(shopper)).toMatchObject({ seen: ['Reserve for spring'], shift: 0 });
  await shopper.goto(`${stage.shop.url}/range/plants/trees`);
  await expect(shopper.getByRole('link', { name: 'Arrange collection' })).toHaveCount(4);
  expect(await watched(shopper)).toMatchObject({ seen: ['Arrange collection'], shift: 0 });
});

readingTest('variants switch at once, without another request', async ({ shopper, stage }) => {
  await shopper.goto(`${stage.shop.url}/plants/paper-lantern`);
  await expect(shopper.getByRole('button', { name: 'Reserve for spring' })).toBeVisible();
  const requests: string[] = [];
  shopper.on('request', (request) => {
    if (request.url().startsWith(stage.understudy.url)) requests.push(request.url());
  });
  await shopper.getByLabel('Size').selectOption('3 tubers');
  await expect(shopper.getByRole('status')).toHaveText('Sold out for now: 3 tubers.');
  await expect(shopper.getByRole('button', { name: 'Reserve for spring' })).toBeHidden();
  await shopper.getByLabel('Size').selectOption('5 tubers');
  await expect(shopper.getByRole('button', { name: 'Reserve for spring' })).toBeVisible();
  await expect(shopper.getByText('€22.00')).toBeVisible();
  expect(requests).toEqual([]);
});

readingTest('a listing shows one control for each product, and hides prices that are withheld', async ({ shopper }) => {
  const card = (name: string) => shopper.getByRole('listitem').filter({ hasText: name });
  await expect(card('Paper Lantern').getByRole('link', { name: 'See sizes and prices' })).toHaveAttribute(
    'href',
    '/plants/paper-lantern',
  );
  await expect(card('Fern spores').getByRole('link', { name: 'Members only' })).toBeVisible();
  await expect(card('Copper Kettle').getByText('Sold out')).toBeVisible();
  await expect(card('Dibber').getByRole('button', { name: 'Put in basket' })).toBeVisible();
  await expect(card('Field maple').getByText('Priced with delivery')).toBeVisible();
  await expect(card('Field maple').getByText('€420.00')).toBeHidden();
});

readingTest('pages that rewrite themselves are put right before anyone sees it', async ({ shopper, stage }) => {
  await watch(shopper, CONTROLS);
  await shopper.goto(`${stage.shop.url}/plants/inkwell`);
  const standIn = shopper.getByRole('link', { name: 'Hear when we divide it' });
  await expect(standIn).toBeVisible();
  await shopper.evaluate(() => {
    const buttons = document.querySelector('.buttons');
    if (buttons) buttons.innerHTML = '<button class="put-in-basket">Put in basket</button>';
  });
  await expect(standIn).toHaveCount(1);
  await expect(standIn).toBeVisible();
  // Cards that appear later are asked about and put right as well.
  await shopper.evaluate(() => {
    const later = document.createElement('div');
    later.className = 'shelf-item';
    later.innerHTML =
      '<a class="shelf-link" href="/plants/yew-cone">Yew</a><button class="put-in-basket">Put in basket</button>';
    document.querySelector('main')?.append(later);
  });
  await expect(shopper.getByRole('link', { name: 'Arrange collection' })).toBeVisible();
  expect((await watched(shopper)).seen).toEqual(['Hear when we divide it', 'Arrange collection']);
});

readingTest('words that a page writes back are ours again', async ({ shopper, stage }) => {
  await shopper.goto(`${stage.shop.url}/plants/saffron-hill`);
  const button = shopper.getByRole('button', { name: 'Reserve for spring' });
  await expect(button).toBeVisible();
  await shopper.evaluate(() => {
    const control = document.querySelector('.put-in-basket');
    if (control) control.textContent = 'Put in basket';
  });
  await expect(button).toBeVisible();
});

readingTest('the keyboard’s place is kept when a control is swapped', async ({ shopper, stage }) => {
  await shopper.goto(`${stage.shop.url}/plants/slipper-room`);
  await shopper.getByLabel('Size').selectOption('three years old');
  const button = shopper.getByRole('button', { name: 'Put in basket' });
  await button.focus();
  await shopper.evaluate(() => {
    const select = document.querySelector('select');
    if (!select) return;
    select.value = 'slipper-room-flowering';
    select.dispatchEvent(new Event('change', { bubbles: true }));
  });
  await expect(shopper.getByRole('link', { name: 'Hear when we divide it' })).toBeFocused();
});

test('when Understudy does not answer, the shop shows its own controls, and sells nothing unchecked', async ({
  shopper,
  stage,
}) => {
  await shopper.goto(`${stage.shop.url}/plants/inkwell`);
  await expect(shopper.getByRole('link', { name: 'Hear when we divide it' })).toBeVisible();
  await shopper.route('**/v1/decisions**', () => undefined);
  await shopper.goto(`${stage.shop.url}/plants/greenmantle`);
  await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeVisible();
  await shopper.unroute('**/v1/decisions**');
  await stage.understudy.stop();
  await shopper.goto(`${stage.shop.url}/tools/ash-dibber`);
  await shopper.getByRole('button', { name: 'Put in basket' }).click();
  await expect(shopper.getByRole('status')).toHaveText(
    'We cannot check your basket right now. Please try again in a moment.',
  );
});

readingTest('a page map that does not fit leaves the shop its own controls', async ({ shopper, stage }) => {
  await shopper.route('**/embed.js', async (route) => {
    const script = await (await route.fetch()).text();
    await route.fulfill({ contentType: 'text/javascript', body: script.replace('a.shelf-link', 'a[') });
  });
  await shopper.goto(`${stage.shop.url}/range/plants/trees`);
  await expect(shopper.getByRole('button', { name: 'Put in basket' })).toHaveCount(4);
});

readingTest('a hidden control cannot be pressed with the Enter key', async ({ shopper, stage }) => {
  await shopper.goto(`${stage.shop.url}/plants/inkwell`);
  await expect(shopper.getByRole('link', { name: 'Hear when we divide it' })).toBeVisible();
  await shopper.getByLabel('Quantity').press('Enter');
  await expect(shopper).toHaveURL(/\/plants\/inkwell$/);
});

test('an answer from the browser’s cache ends when its window does', async ({ page }) => {
  const server = await startServer(await cloneDatabase(SEEDED));
  // Lisbon's clocks show UTC in winter.
  const start = new Date('2027-01-12T11:00:00Z');
  server.now = start.getTime();
  const early = {
    id: 'early',
    on: true,
    when: {
      all: [
        { fact: 'product.id', op: 'in', value: ['ash-dibber'] },
        { fact: 'moment', op: 'between', value: { until: '2027-01-12T12:00' } },
      ],
    },
    then: { control: { kind: 'buy', label: 'Reserve' } },
  };
  expect((await server.publish({ format: 'understudy-rulebook', version: 1, rules: [early] })).status).toBe(201);
  const settings = {
    origin: server.url,
    pageMap: { productPage: { path: '^/tools/', area: 'main' }, card: { area: 'li', link: 'a' }, control: 'button' },
    texts: { en: { from: 'from', waiting: 'waiting' } },
  };
  const script = readFileSync('dist/server/embed.js', 'utf8').replace('"__UNDERSTUDY_SETTINGS__"', () =>
    JSON.stringify(settings),
  );
  const html = `<!doctype html><html lang="en"><script>${script}</script><main><button>Buy</button></main></html>`;
  const shop = await staticShop([['/tools/ash-dibber', html]]);
  await page.clock.install({ time: start });

  const control = page.getByRole('button');
  await page.goto(`${shop.url}/tools/ash-dibber`);
  await expect(control).toHaveText('Reserve');
  server.now = Date.parse('2027-01-12T11:59:00Z');
  const again = page.waitForResponse(/\/v1\/decisions\?/);
  await page.reload();
  await expect(control).toHaveText('Reserve');
  // An hour old, and confirmed by the server as still valid.
  expect(new Date(((await (await again).json()) as { at: string }).at)).toEqual(start);
  server.now = Date.parse('2027-01-12T12:00:00Z');
  await page.clock.fastForward(61_000);
  await expect(control).toHaveText('Buy');
  await shop.stop();
  await server.stop();
});
