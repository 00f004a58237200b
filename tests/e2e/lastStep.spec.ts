import type { Rule } from '#core/rulebook/rulebook.ts';
import { expect, publishRules, send, signInAtShop, test } from '../support/stage.ts';

const ofProduct = (id: string): Rule['when'] => ({ fact: 'product.id', op: 'in', value: [id] });
const rule = (id: string, then: Rule['then'], when = ofProduct(id)): Rule => ({ id, on: true, when, then });

test('what the checkout withholds is refused when the form is sent all the same', async ({ shopper, stage }) => {
  const { url } = stage.shop;
  const put = () => shopper.request.post(`${url}/basket/add`, { form: { variant: 'ash-dibber-one', quantity: '1' } });
  const order = (method: string) =>
    shopper.request.post(`${url}/checkout`, { form: { method }, maxRedirects: 0 }).then(async (answer) => ({
      status: answer.status(),
      text: await answer.text(),
    }));
  const express = () =>
    shopper.request.post(`${url}/swift-pay`, { form: { variant: 'ash-dibber-one', quantity: '1' }, maxRedirects: 0 });
  await put();

  await publishRules(stage, [rule('ash-dibber', { checkout: { hideMethods: ['invoice'] } })]);
  await shopper.goto(`${url}/checkout`);
  await expect(shopper.getByLabel('Invoice')).toBeHidden();
  const byInvoice = await order('invoice');
  expect(byInvoice.status).toBe(409);
  expect(byInvoice.text).toContain('This order cannot be paid that way.');
  expect((await order('card')).status).toBe(303);

  await publishRules(stage, [rule('ash-dibber', { checkout: { submitOrder: { show: false, text: 'Telephone us' } } })]);
  await shopper.goto(`${url}/checkout`);
  await expect(shopper.getByText('Telephone us')).toBeVisible();
  expect((await order('card')).text).toContain('This order cannot be placed here at the moment.');
  await shopper.goto(`${url}/tools/ash-dibber`);
  await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeVisible();
  await expect(shopper.getByRole('button', { name: 'Pay swiftly' })).toBeHidden();
  expect((await express()).status()).toBe(409);

  await publishRules(stage, [rule('ash-dibber', { control: { kind: 'nothing' }, express: 'show' })]);
  await shopper.reload();
  await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeHidden();
  await shopper.getByRole('button', { name: 'Pay swiftly' }).click();
  await expect(shopper.getByText('Thank you. Your order is in.')).toBeVisible();
});

test('a purchase that is refused shows the product’s own page, with its stand-ins', async ({ shopper, stage }) => {
  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  await shopper.evaluate(() => {
    const form = document.createElement('form');
    Object.assign(form, { method: 'post', action: '/basket/add' });
    form.innerHTML = '<input name="variant" value="fern-spores-packet"><input name="quantity" value="1">';
    document.body.append(form);
    form.submit();
  });
  await expect(shopper).toHaveURL(`${stage.shop.url}/plants/fern-spores`);
  await expect(shopper.getByRole('status').getByText('Please sign in to buy this item.')).toBeVisible();
  await expect(shopper.getByRole('link', { name: 'Sign in to buy' })).toBeVisible();
  await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeHidden();
  await shopper.reload();
  await expect(shopper.getByRole('link', { name: 'Sign in to buy' })).toBeVisible();
});

test('the basket notes each size once, as it is; a withheld product leaves no stock and no quantity', async ({
  shopper,
  stage,
}) => {
  await publishRules(stage, [
    rule('paper-lantern', {
      control: { kind: 'preorder', cap: { units: 40, per: 'variant' } },
      notes: [{ place: 'belowControl', text: '{variant.title}: {preorder.left, plural, other {# left}}' }],
    }),
    rule('last-bus', { control: { kind: 'notice', text: 'Not now' }, price: { show: false } }),
  ]);
  await shopper.goto(`${stage.shop.url}/plants/paper-lantern`);
  await shopper.getByLabel('Size').selectOption('3 tubers');
  await shopper.getByRole('button', { name: 'Pre-order' }).click();
  const line = shopper.locator('.line');
  await expect(line).toContainText('3 tubers: 40 left');
  for (const path of ['/basket', '/checkout']) {
    await shopper.goto(stage.shop.url + path);
    await expect(line.locator('[data-understudy-stand-in=note]')).toHaveCount(0);
    await expect(line.getByText(/\d left/)).toHaveCount(1);
  }

  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  await expect(shopper.getByText('Not now')).toBeVisible();
  await expect(shopper.getByLabel('Quantity')).toBeHidden();
  await expect(shopper.locator('.stock-note')).toBeHidden();
});

test('what says more about a price goes with it', async ({ browser, stage }) => {
  const { live } = (await send(stage, 'GET', '/api/page-map')) as { live: { map: object } };
  await send(stage, 'PUT', '/api/page-map', { ...live.map, besidePrice: '.was' });
  await publishRules(stage, [rule('last-bus', { price: { show: false, text: 'Ask us' } })]);
  const page = await browser.newPage();
  await page.addInitScript(() => {
    addEventListener('DOMContentLoaded', () => {
      document.querySelector('main .cost')?.insertAdjacentHTML('beforebegin', '<s class="was">€99.00</s>');
    });
  });
  await page.goto(`${stage.shop.url}/plants/last-bus`);
  await expect(page.getByText('Ask us')).toBeVisible();
  await expect(page.getByText('€99.00')).toBeHidden();
  await publishRules(stage, []);
  await page.reload();
  await expect(page.getByText('€99.00')).toBeVisible();
  await page.close();
});

test('amounts inside a choice of sizes go with the price, and the sizes stay', async ({ browser, stage }) => {
  const { live } = (await send(stage, 'GET', '/api/page-map')) as { live: { map: object } };
  await send(stage, 'PUT', '/api/page-map', { ...live.map, besidePrice: 'option, .pots label' });
  await publishRules(stage, [rule('paper-lantern', { price: { show: false, text: 'Ask us' } })]);
  const page = await browser.newPage();
  await page.addInitScript(() => {
    addEventListener('DOMContentLoaded', () => {
      for (const option of document.querySelectorAll('main option')) option.append(' – €20.86');
      const pots = '<p class="pots"><label><input type="radio" name="pot"> 9 cm pot (€1.50)</label></p>';
      document.querySelector('main .cost')?.insertAdjacentHTML('afterend', pots);
    });
  });
  const texts = () =>
    page.locator('main option, .pots label').evaluateAll((all) => all.map((one) => one.textContent.trim()));
  await page.goto(`${stage.shop.url}/plants/paper-lantern`);
  await expect(page.getByText('Ask us')).toBeVisible();
  await expect.poll(texts).toEqual(['9 cm pot', '1 tuber', '3 tubers', '5 tubers']);
  await expect(page.getByLabel('9 cm pot')).toBeVisible();
  await page.getByLabel('Size').selectOption('3 tubers');
  await publishRules(stage, []);
  await page.reload();
  await expect
    .poll(texts)
    .toEqual(['9 cm pot (€1.50)', ...['1 tuber', '3 tubers', '5 tubers'].map((size) => `${size} – €20.86`)]);
  await page.close();
});

test('a list for accounts says so before anybody fills in a form, and leads there and back', async ({
  shopper,
  stage,
}) => {
  await publishRules(stage, [
    rule('last-bus', {
      control: {
        kind: 'waitlist',
        per: 'product',
        text: 'Two a year.',
        account: 'required',
        signInAt: '/sign-in?back={product.path}',
      },
    }),
  ]);
  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  await expect(shopper.getByText('Two a year.')).toBeVisible();
  await shopper.getByRole('link', { name: 'Join the waitlist' }).click();
  const dialog = shopper.getByRole('dialog', { name: 'Join the waitlist' });
  await expect(dialog.getByText('This list is for customers with an account.')).toBeVisible();
  await expect(dialog.getByLabel('E-mail')).toHaveCount(0);
  await dialog.getByRole('link', { name: 'Sign in' }).click();
  await shopper.getByRole('button', { name: /Jonas Reed/ }).click();
  await expect(shopper).toHaveURL(`${stage.shop.url}/plants/last-bus`);
  await shopper.getByRole('link', { name: 'Join the waitlist' }).click();
  await expect(shopper.getByText('You are number 1 on the waitlist.').first()).toBeVisible();
});

test('who is signed in is shown how to join, and is not asked for what is known', async ({ shopper, stage }) => {
  await signInAtShop(shopper, stage.shop.url, 'Jonas Reed');
  await shopper.goto(`${stage.shop.url}/plants/fern-spores`);
  await shopper.getByRole('link', { name: 'Join the Frond Circle' }).click();
  await expect(shopper.getByRole('heading', { name: 'The Frond Circle' })).toBeVisible();

  await publishRules(stage, [
    rule('blue-ledger', { control: { kind: 'enquiry', form: 'contact', open: 'inline' } }),
    rule('last-bus', { control: { kind: 'quote' } }),
  ]);
  // On a listing a form would bury the goods: a button leads to it.
  await shopper.goto(`${stage.shop.url}/search?q=Blue+Ledger`);
  await expect(shopper.getByRole('link', { name: 'Ask about this' })).toBeVisible();
  await expect(shopper.getByLabel('Your question')).toHaveCount(0);
  await shopper.goto(`${stage.shop.url}/plants/blue-ledger`);
  await shopper.getByLabel('Your question').fill('Is it hardy?');
  // The size is chosen after the form stood there.
  await shopper.getByLabel('Size').selectOption('2 litre pot');
  await expect(shopper.getByLabel('Your question')).toHaveValue('Is it hardy?');
  await shopper.getByRole('button', { name: 'Send' }).click();
  await expect(shopper.getByText('Thank you. We have your question')).toBeVisible();
  const { enquiries } = (await send(stage, 'GET', '/api/enquiries?search=hardy')) as {
    enquiries: { title: string; email: string }[];
  };
  expect(enquiries).toMatchObject([
    { title: 'Geranium ‘Blue Ledger’, 2 litre pot', email: 'jonas.reed@quillfern.example' },
  ]);

  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  const ask = shopper.getByRole('link', { name: 'Ask for a price' });
  const dialog = shopper.getByRole('dialog', { name: 'Ask for a price' });
  await ask.click();
  await expect(dialog.getByLabel('Option: Aster ‘Last Bus’')).toHaveValue('last-bus-9-cm-pot');
  await expect(dialog.getByLabel('E-mail')).toHaveCount(0);
  await dialog.getByRole('button', { name: 'Close' }).click();
  await ask.click();
  await expect(dialog.getByRole('status')).toContainText('This is on your sheet already.');
  await expect(dialog.getByLabel('Units: ')).toHaveValue('1');
});

test('what is asked for on a listing has its size chosen on the sheet, and an enquiry names the chosen size', async ({
  shopper,
  stage,
}) => {
  await publishRules(stage, [
    { ...rule('yew-hedging', { control: { kind: 'quote' } }), id: 'yew' },
    { ...rule('beech-hedging', { control: { kind: 'enquiry', form: 'contact', open: 'dialog' } }), id: 'beech' },
  ]);
  await shopper.goto(`${stage.shop.url}/search?q=Yew`);
  await shopper.getByRole('link', { name: 'Ask for a price' }).click();
  const dialog = shopper.getByRole('dialog', { name: 'Ask for a price' });
  const row = dialog.getByRole('row', { name: /Yew hedging/ });
  await expect(dialog.getByRole('status')).toHaveText('Added. Go on looking, or send the sheet.');
  await row.getByLabel('Option: Yew hedging').selectOption('60–80 cm');
  await row.getByLabel(/^Units: /).fill('5');
  await dialog.getByRole('button', { name: 'Close' }).click();
  await shopper.getByRole('link', { name: 'Ask for a price' }).click();
  // The first size again; changed to the one that is there, they are one line.
  await expect(dialog.getByRole('row', { name: /Yew hedging/ })).toHaveCount(2);
  await dialog.getByLabel('Option: Yew hedging').last().selectOption('60–80 cm');
  await expect(row).toHaveCount(1);
  await expect(row.getByLabel(/^Units: /)).toHaveValue('6');
  await dialog.getByLabel('Where to').fill('Wharf Lane');
  await dialog.getByLabel('E-mail').fill('kit.sorrel@quillfern.example');
  await dialog.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(dialog.getByRole('status')).toContainText('We have your request');
  expect(await send(stage, 'GET', '/api/quotes?search=kit.sorrel&state=asked')).toMatchObject({
    quotes: [{ lines: [{ variant: 'yew-hedging-60-80-cm', units: 6 }] }],
  });

  await shopper.goto(`${stage.shop.url}/plants/beech-hedging`);
  await shopper.getByLabel('Size').selectOption('60–80 cm');
  await shopper.getByRole('link', { name: 'Ask about this' }).click();
  await expect(
    shopper.getByRole('dialog', { name: 'Ask about this' }).getByText('Beech hedging, 60–80 cm'),
  ).toBeVisible();
});

test('a line of the basket says its notes once, and nothing of a list that is joined elsewhere', async ({
  shopper,
  stage,
}) => {
  await publishRules(stage, [
    rule('last-bus', {
      control: { kind: 'waitlist', per: 'product', text: 'For spring', account: 'optional', beside: true },
      notes: [{ place: 'badge', text: 'For spring' }],
    }),
  ]);
  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  await expect(shopper.getByRole('link', { name: 'Join the waitlist' })).toBeVisible();
  await expect(shopper.getByText('For spring')).toHaveCount(2);
  await shopper.getByRole('button', { name: 'Put in basket' }).click();
  await expect(shopper.getByRole('heading', { name: 'Basket' })).toBeVisible();
  await expect(shopper.getByText('For spring')).toHaveCount(1);
});

test('notes of the same words stand once on a cart’s line', async ({ shopper, stage }) => {
  const notes = (['aboveControl', 'belowPrice'] as const).map((place) => ({ place, text: 'For **spring**' }));
  await publishRules(stage, [rule('last-bus', { notes })]);
  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  await expect(shopper.getByText('For spring')).toHaveCount(2);
  await shopper.getByRole('button', { name: 'Put in basket' }).click();
  await expect(shopper.getByRole('heading', { name: 'Basket' })).toBeVisible();
  await expect(shopper.getByText('For spring')).toHaveCount(1);
});

test.describe('goods that are drawn later', () => {
  test.use({ dressing: 'elements' });

  test('do not change what the page says of the visit', async ({ shopper, stage }) => {
    await publishRules(stage, [
      rule(
        'listings',
        { cart: { open: false } },
        {
          all: [
            { fact: 'product', op: 'every', value: true },
            { fact: 'surface', op: 'in', value: ['listing'] },
          ],
        },
      ),
    ]);
    await shopper.goto(`${stage.shop.url}/plants/last-bus`);
    const basket = shopper.getByRole('link', { name: /^Basket/ });
    const express = shopper.getByRole('main').getByRole('button', { name: 'Pay swiftly' });
    await expect(express).toBeVisible();
    const answered = shopper.waitForResponse(/\/v1\/decisions/);
    await shopper.evaluate(() => {
      const row = document.createElement('div');
      row.setAttribute('part', 'row');
      row.innerHTML = '<a href="/tools/ash-dibber">Dibber</a> <button part="take">Put in basket</button>';
      document.querySelector('main')?.append(row);
    });
    await answered;
    await expect(shopper.locator('[part=row] [data-understudy=shown]')).toHaveCount(1);
    await expect(express).toBeVisible();
    await expect(basket).toBeVisible();
    await shopper.goto(stage.shop.url);
    await expect(basket).toBeHidden();
  });
});
