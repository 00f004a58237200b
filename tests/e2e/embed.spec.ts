import { violationsIn } from '../support/axe.ts';
import type { Page } from '@playwright/test';
import type { MapVersion } from '#core/contract/pageMapCalls.ts';
import { NOTED, forProduct } from '../support/noted.ts';
import { expect, publishRules, send, test } from '../support/stage.ts';
import { drawn } from '../support/watch.ts';
import { DRESSINGS } from '../support/programs.ts';

for (const dressing of DRESSINGS) {
  test.describe(dressing, () => {
    test.use({ dressing });
    test(`dressed in ${dressing}, the border, the cart and the checkout do as the rules say`, async ({
      shopper,
      stage,
    }) => {
      const row = (title: string) => shopper.locator('.border-row').filter({ hasText: title });
      await publishRules(stage, [
        forProduct('last-bus', { control: { kind: 'notice', text: 'Not by the border' }, limits: { min: 2 } }),
        forProduct('ash-dibber', { limits: { min: 2, max: 6, step: 2 } }),
      ]);
      await test.step('of several products in one form, only those that are withheld are', async () => {
        await shopper.goto(`${stage.shop.url}/border`);
        await expect(row('Last Bus').getByText('Not by the border')).toBeVisible();
        await expect(row('Last Bus').getByRole('spinbutton')).toBeHidden();
        await row('Hart’s tongue').getByRole('spinbutton').fill('2');
        await shopper.getByRole('button', { name: 'Put all in basket' }).click();
        await expect(shopper.getByRole('cell', { name: /Hart’s tongue.*9 cm/ })).toBeVisible();
      });
      await test.step('limits are held to in the box of how many', async () => {
        await shopper.goto(`${stage.shop.url}/tools/ash-dibber`);
        const box = shopper.getByLabel('Quantity');
        await expect(box).toHaveValue('2');
        await expect(box).toHaveAttribute('max', '6');
        await expect(box).toHaveAttribute('step', '2');
        await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
        await expect(shopper.getByLabel('Quantity')).toHaveValue('1');
      });
      await test.step('the order button gives way, and a payment method goes', async () => {
        await publishRules(stage, [
          {
            id: 'wait',
            on: true,
            when: { fact: 'product', op: 'every', value: true },
            then: { checkout: { submitOrder: { show: false, text: 'By telephone **only**' }, hideMethods: ['card'] } },
          },
        ]);
        await shopper.goto(`${stage.shop.url}/checkout`);
        await expect(shopper.getByText('By telephone only')).toBeVisible();
        await expect(shopper.getByRole('button', { name: 'Place order' })).toBeHidden();
        await expect(shopper.getByText('Card (simulated)')).toBeHidden();
        await expect(shopper.getByRole('radio', { name: 'Invoice' })).toBeChecked();
      });
      await test.step('a cart that is closed: its links vanish, its page leads away, its lines are refused', async () => {
        await publishRules(stage, [
          {
            id: 'closed',
            on: true,
            when: { fact: 'product', op: 'every', value: true },
            then: { cart: { open: false, redirectTo: '/collection' }, checkout: { open: false } },
          },
        ]);
        await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
        await expect(shopper.getByRole('link', { name: /^Basket/ })).toBeHidden();
        await shopper.goto(`${stage.shop.url}/basket`);
        await expect(shopper).toHaveURL(/\/collection$/);
        await shopper.goto(`${stage.shop.url}/checkout`);
        await expect(shopper).toHaveURL(/\/$/);
        const answer = await shopper.request.post(`${stage.shop.url}/basket/add`, {
          form: { variant: 'pin-cushion-9-cm-pot', quantity: '1' },
          maxRedirects: 0,
        });
        expect(answer.status()).toBe(409);
      });
    });

    test(`dressed in ${dressing}, a choice of size is followed at once, and so is going on`, async ({
      shopper,
      stage,
    }) => {
      await publishRules(stage, [
        {
          id: 'large',
          on: true,
          when: { fact: 'variant.id', op: 'in', value: ['last-bus-2-litre-pot'] },
          then: { control: { kind: 'preorder', label: 'Grown for you' } },
        },
      ]);
      const choose = async (size: string) => {
        if (dressing === 'forms') await shopper.getByLabel('Size').selectOption(size);
        else if (dressing === 'script') await shopper.getByRole('button', { name: size, exact: true }).click();
        else await shopper.getByRole('radio', { name: size }).check();
      };
      const bed = shopper.locator('.bed');
      await shopper.goto(`${stage.shop.url}/plants/last-bus`);
      await expect(bed.getByRole('button', { name: 'Put in basket' })).toBeVisible();
      await choose('2 litre pot');
      await expect(bed.getByRole('button', { name: 'Grown for you' })).toBeVisible();
      await expect(shopper.locator('[data-understudy-stand-in=said]')).toHaveText('Grown for you');
      await choose('9 cm pot');
      await expect(bed.getByRole('button', { name: 'Put in basket' })).toBeVisible();
      await choose('2 litre pot');
      await shopper
        .getByRole('link', { name: /^Quillfern Nursery|^Quillfern$/ })
        .first()
        .click();
      await expect(shopper.getByRole('heading', { name: 'Everything we grow' })).toBeVisible();
      const card = shopper.locator('.shelf-item, nursery-card').filter({ hasText: 'Last Bus' });
      await expect(card.getByRole('link', { name: 'See sizes and prices' })).toBeVisible();
      await card.getByRole('link', { name: 'See sizes and prices' }).click();
      await expect(bed.getByRole('button', { name: 'Put in basket' })).toBeVisible();
      await shopper.goBack();
      await expect(card.getByRole('link', { name: 'See sizes and prices' })).toBeVisible();
    });
  });
}

/** Offers in the page's structured data. */
const offers = (page: Page) =>
  page.evaluate(() => {
    const text = document.querySelector('script[type="application/ld+json"]')?.textContent ?? '{}';
    return (JSON.parse(text) as { offers: Record<string, string>[] }).offers.map(
      ({ sku, price, availability }) => `${sku} ${price ?? '-'} ${availability?.replace('https://schema.org/', '')}`,
    );
  });

test('structured data says what the page says, and no more', async ({ shopper, stage }) => {
  await publishRules(stage, [
    forProduct('pin-cushion', { price: { show: false, text: 'On request' }, control: { kind: 'notice', text: 'No' } }),
    forProduct('ash-dibber', { price: { adjust: { percent: -25 } } }),
    {
      id: 'large',
      on: true,
      when: { fact: 'variant.id', op: 'in', value: ['last-bus-2-litre-pot'] },
      then: { control: { kind: 'preorder' } },
    },
  ]);
  const hasOffers = async (path: string, expected: readonly unknown[]) => {
    await shopper.goto(stage.shop.url + path);
    // Structured data follows what is shown.
    await expect.poll(() => offers(shopper)).toEqual(expected);
  };
  const price = shopper.locator('.bed [itemprop=price]');
  const availability = shopper.locator('.bed [itemprop=availability]');
  await hasOffers('/plants/pin-cushion', ['pin-cushion-9-cm-pot - OutOfStock']);
  await expect(price).toHaveAttribute('content', '');
  await expect(availability).toHaveAttribute('href', 'https://schema.org/OutOfStock');
  await hasOffers('/tools/ash-dibber', ['ash-dibber-one 12.00 InStock']);
  await expect(price).toHaveAttribute('content', '12.00');
  await expect(availability).toHaveAttribute('href', 'https://schema.org/InStock');
  await hasOffers('/plants/last-bus', [
    expect.stringMatching(/^last-bus-9-cm-pot \d+\.\d\d InStock$/),
    expect.stringMatching(/^last-bus-2-litre-pot \d+\.\d\d PreOrder$/),
  ]);
});

test('a page that comes back as it was left looks again before anything is shown', async ({ shopper, stage }) => {
  await publishRules(stage, [forProduct('pin-cushion', { control: { kind: 'buy', label: 'As it was' } })]);
  await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
  await expect(shopper.getByRole('button', { name: 'As it was' })).toBeVisible();
  await publishRules(stage, [forProduct('pin-cushion', { control: { kind: 'buy', label: 'As it is' } })]);
  const shown = await shopper.evaluate(() => {
    // Event of a page restored from the back/forward cache.
    dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true }));
    const control = document.querySelector('.put-in-basket');
    return control?.checkVisibility({ visibilityProperty: true });
  });
  expect(shown).toBe(false);
  await expect(shopper.getByRole('button', { name: 'As it is' })).toBeVisible();
});

test('a page that rewrites its buy area a thousand times leaves nothing behind and does not go on for ever', async ({
  shopper,
  stage,
}) => {
  await publishRules(stage, [NOTED]);
  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  await expect(shopper.getByRole('button', { name: 'Order ahead' })).toBeVisible();
  const line = await shopper.context().newCDPSession(shopper);
  await line.send('Performance.enable');
  const measured = async () => {
    await line.send('HeapProfiler.collectGarbage');
    const { metrics } = await line.send('Performance.getMetrics');
    const of = (name: string) => metrics.find((metric) => metric.name === name)?.value ?? 0;
    return { nodes: of('Nodes'), listeners: of('JSEventListeners'), heap: of('JSHeapUsedSize') };
  };
  const rewrite = (times: number) =>
    shopper.evaluate(async (times) => {
      const channel = new MessageChannel();
      for (let time = 0; time < times; time += 1) {
        const form = document.querySelector('.buy-area form')!;
        const written = form.cloneNode(true) as HTMLElement;
        written.querySelector('.buttons')!.innerHTML = '<button class="put-in-basket">Put in basket</button>';
        form.replaceWith(written);
        // To the end of this task, and the page's observers.
        await new Promise((resolve) => {
          channel.port1.onmessage = resolve;
          channel.port2.postMessage(null);
        });
        const [control, ...others] = document.querySelectorAll('.buy-area .put-in-basket');
        if (control?.textContent !== 'Order ahead' || others.length > 0) throw new Error(`wrong at ${time}`);
      }
      channel.port1.close();
    }, times);
  await rewrite(50);
  const before = await measured();
  await rewrite(1000);
  const after = await measured();
  expect(after.nodes - before.nodes).toBeLessThan(100);
  expect(after.listeners - before.listeners).toBeLessThan(20);
  expect(after.heap - before.heap).toBeLessThan(2_000_000);
  await expect(shopper.locator('.buy-area [data-place=belowControl]')).toHaveCount(1);

  await test.step('all is quiet when the page is', async () => {
    await shopper.evaluate(() => {
      const noted = { changes: 0 };
      new MutationObserver((records) => (noted.changes += records.length)).observe(document, {
        subtree: true,
        childList: true,
        attributes: true,
        characterData: true,
      });
      Object.assign(globalThis, { noted });
    });
    await drawn(shopper);
    await drawn(shopper);
    expect(await shopper.evaluate(() => (globalThis as unknown as { noted: { changes: number } }).noted.changes)).toBe(
      0,
    );
  });
  await test.step('a page that writes its own words back each time still draws and answers', async () => {
    await shopper.evaluate(() => {
      const control = document.querySelector('.buy-area .put-in-basket')!;
      new MutationObserver(() => {
        if (control.textContent !== 'Put in basket') control.textContent = 'Put in basket';
      }).observe(control, { childList: true, characterData: true, subtree: true });
      control.textContent = 'Put in basket';
    });
    await drawn(shopper);
    await shopper.getByLabel('Size').selectOption('2 litre pot');
    await expect(shopper.getByLabel('Size')).toHaveValue('last-bus-2-litre-pot');
  });
});

test('the page keeps its own globals, cookies and errors; the script adds one name', async ({ shopper, stage }) => {
  const names = async () => {
    await shopper.goto(`${stage.shop.url}/plants/last-bus`);
    await expect(shopper.locator('.bed .put-in-basket')).toBeVisible();
    return shopper.evaluate(() => Object.getOwnPropertyNames(globalThis).sort());
  };
  const withScript = await names();
  await shopper.route('**/embed.js', (route) => route.abort());
  const without = await names();
  expect(withScript.filter((name) => !without.includes(name))).toEqual(['understudy']);
  const cookies = await shopper.context().cookies(stage.understudy.url);
  expect(cookies.map(({ name }) => name)).toEqual(['nursery']);
});

test('one request a page, however many products it shows', async ({ shopper, stage }) => {
  // The first page's own request is over.
  await shopper.waitForLoadState('networkidle');
  const requests: string[] = [];
  shopper.on('request', (request) => {
    if (request.url().includes('/v1/')) requests.push(request.method());
  });
  for (const path of ['/', '/plants/paper-lantern', '/border', '/collection']) {
    requests.length = 0;
    await shopper.goto(stage.shop.url + path);
    await shopper.waitForLoadState('networkidle');
    expect({ path, requests: requests.length }).toEqual({ path, requests: 1 });
  }
});

test('stand-ins can be used by everybody', async ({ shopper, stage }) => {
  await publishRules(stage, [NOTED, forProduct('pin-cushion', { control: { kind: 'waitlist', per: 'product' } })]);
  for (const path of ['/plants/last-bus', '/plants/pin-cushion']) {
    await shopper.goto(stage.shop.url + path);
    await expect(shopper.locator('main[data-understudy=shown]')).toBeVisible();
    expect(await violationsIn(shopper)).toEqual([]);
  }
});

test('in a language that is written from right to left, stand-ins go its way', async ({ shopper, stage }) => {
  await publishRules(stage, [
    forProduct('pin-cushion', { control: { kind: 'link', href: '/collection', label: 'לתיאום איסוף' } }),
  ]);
  await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
  const standIn = shopper.getByRole('link', { name: 'לתיאום איסוף' });
  await expect(standIn).toHaveCSS('direction', 'rtl');
});

test('when a part goes missing, shoppers’ browsers say so', async ({ browser, stage }) => {
  const shopper = await (await browser.newContext()).newPage();
  const { live } = (await send(stage, 'GET', '/api/page-map')) as { live: MapVersion };
  await send(stage, 'PUT', '/api/page-map', { ...live.map, control: '.of-the-old-theme' });
  const report = shopper.waitForRequest(`${stage.understudy.url}/v1/misses`);
  await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
  expect((await report).postDataJSON()).toEqual({ path: '/plants/pin-cushion', missing: ['control'] });
  await shopper.context().close();
});
