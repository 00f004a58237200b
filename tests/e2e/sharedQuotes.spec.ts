import { violationsIn } from '../support/axe.ts';
import type { Browser, Page } from '@playwright/test';
import { expect, newRule, openLetter, payByCard, publish, saved, send, test, type Stage } from '../support/stage.ts';

const PASSWORD = 'rook-and-lantern-9';
const GROWERS = [
  { name: 'Tidewater Ferns', person: 'Ida Marsh', email: 'ida@quillfern.example' },
  { name: 'The Long Bed', person: 'Bram Holloway', email: 'bram@quillfern.example' },
] as const;

/** A grower who may publish at once, signed in by the letter of their invitation. */
async function grower(browser: Browser, stage: Stage, { name, person, email }: (typeof GROWERS)[number]) {
  const { id } = (await send(stage, 'POST', '/api/sellers', { name, names: [name] })) as { id: string };
  await send(stage, 'POST', `/api/sellers/${id}/people`, { name: person, email });
  const page = await (await browser.newContext()).newPage();
  await openLetter(page, stage, email, 'invites you to Quillfern Nursery');
  await page.getByRole('link', { name: 'Choose a password' }).click();
  await page.getByLabel('A password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in with it' }).click();
  await expect(page.getByRole('heading', { name: 'Running order' })).toBeVisible();
  return page;
}

/** Puts all products of the grower's under one new rule, and publishes it. */
async function sellByQuote(page: Page, products: number): Promise<void> {
  await page.getByRole('link', { name: 'Products' }).click();
  await page.getByLabel('Choose all that are shown').check();
  await expect(page.getByText(`${products} products chosen`)).toBeVisible();
  await page.getByRole('button', { name: 'Rules for them' }).click();
  const dialog = page.getByRole('dialog', { name: `Rules for ${products} products` });
  await dialog.getByLabel('What', { exact: true }).click();
  await page.getByRole('option', { name: 'Start a rule with them' }).click();
  await dialog.getByLabel('What it does').click();
  await page.getByRole('option', { name: 'Ask for a price' }).click();
  await dialog.getByRole('button', { name: 'Add to the draft' }).click();
  await expect(page.getByText(`About ${products} of your ${products} products`)).toBeVisible();
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(page.getByText('1 rule of yours is live')).toBeVisible();
}

test('growers decide in bulk, are outranked, and price one quote together, of which each sees their own lines', async ({
  owner,
  shopper,
  browser,
  stage,
}) => {
  const { terms } = (await send(stage, 'GET', '/api/sellers')) as { terms: object };
  await send(stage, 'PUT', '/api/sellers/terms', { ...terms, publishing: 'atOnce', copies: false });
  const ida = await grower(browser, stage, GROWERS[0]);
  const bram = await grower(browser, stage, GROWERS[1]);
  const priceAsked = shopper.getByRole('link', { name: 'Ask for a price' });
  const inShop = (path: string) => shopper.goto(`${stage.shop.url}/plants/${path}`);

  await test.step('the owner gives sellers their place; each puts all of their own under a rule', async () => {
    await owner.goto(`${stage.understudy.url}/sellers`);
    await owner.getByRole('button', { name: 'Add to the draft' }).click();
    await publish(owner);
    await sellByQuote(ida, 2);
    await sellByQuote(bram, 2);
    await ida.getByRole('link', { name: 'Products' }).click();
    await expect(ida.getByRole('link', { name: /^Price on request/ })).toHaveCount(2);
    expect(await violationsIn(ida)).toEqual([]);
    for (const path of ['harts-tongue', 'soft-shield', 'sweet-pea-plugs']) {
      await inShop(path);
      await expect(priceAsked).toBeVisible();
    }
  });

  await test.step('what the owner says above outranks them, until it is gone', async () => {
    await owner.goto(`${stage.understudy.url}/rules`);
    await newRule(owner, 'Show without selling');
    await owner.getByLabel('The rule as a sentence').getByRole('button', { name: 'choose products' }).click();
    await owner.getByRole('dialog', { name: 'Change this phrase' }).getByLabel('Tags').fill('native');
    await owner.getByRole('option', { name: /^native/ }).click();
    await owner.keyboard.press('Escape');
    await owner.keyboard.press('Escape');
    await saved(owner);
    await publish(owner);
    await inShop('harts-tongue');
    await expect(priceAsked).toBeHidden();
    await inShop('sweet-pea-plugs');
    await expect(priceAsked).toBeVisible();
    const { editions } = (await send(stage, 'GET', '/api/editions')) as { editions: { number: number }[] };
    await send(stage, 'POST', `/api/editions/${editions[1]?.number ?? 0}/restore`);
    await inShop('harts-tongue');
    await expect(priceAsked).toBeVisible();
  });

  await test.step('a shopper gathers plants of both, and sends one sheet', async () => {
    for (const [path, quantity] of [
      ['harts-tongue', '40'],
      ['sweet-pea-plugs', '12'],
    ] as const) {
      await inShop(path);
      await shopper.getByLabel('Quantity').fill(quantity);
      await priceAsked.click();
      const dialog = shopper.getByRole('dialog', { name: 'Ask for a price' });
      await expect(dialog.getByRole('status')).toHaveText('Added. Go on looking, or send the sheet.');
      await dialog.getByRole('button', { name: 'Close' }).click();
    }
    await shopper.getByRole('button', { name: 'Quote sheet (2)' }).click();
    const dialog = shopper.getByRole('dialog', { name: 'Ask for a price' });
    await dialog.getByLabel('E-mail').fill('wren.hollis@quillfern.example');
    await dialog.getByLabel('Name').fill('Wren Hollis');
    await dialog.getByRole('button', { name: 'Send', exact: true }).click();
    await expect(dialog.getByRole('status')).toHaveText('Thank you. We have your request and will send you a price.');
  });

  const priceLines = async (page: Page, [price, delivery, words]: readonly [string, string, string]) => {
    await page.getByRole('link', { name: /^Quotes/ }).click();
    await page.getByLabel(/^Price of /).fill(price);
    await page.getByLabel('Delivery').fill(delivery);
    await page.getByLabel('A message with it').fill(words);
    await page.getByRole('button', { name: 'Price these lines' }).click();
  };
  const quote = (page: Page) => page.getByRole('region', { name: 'Quote for Wren Hollis' });

  await test.step('each is written to, and prices their own lines; the quote waits for both', async () => {
    await openLetter(ida, stage, GROWERS[0].email, 'Wren Hollis asks for a price');
    await ida.getByRole('link', { name: 'Price it' }).click();
    await expect(quote(ida)).toContainText('Hart’s tongue');
    await expect(quote(ida)).not.toContainText('Sweet pea');
    await priceLines(ida, ['4.00', '15', 'Lifted on the day.']);
    await expect(quote(ida)).toContainText('waits for the others');
    expect(await violationsIn(ida)).toEqual([]);
    await owner.goto(`${stage.understudy.url}/quotes`);
    await owner.getByRole('button', { name: /Wren Hollis/ }).click();
    await expect(quote(owner)).toContainText('to price: 1 of 2 parts');
    await expect(quote(owner)).toContainText('Tidewater Ferns');
    expect(await violationsIn(owner)).toEqual([]);
    await priceLines(bram, ['6.00', '5', 'Watered before they leave.']);
    await expect(quote(bram)).toContainText('sent');
  });

  await test.step('it comes back as one, is accepted, and ordered at those prices', async () => {
    await openLetter(shopper, stage, 'wren.hollis', 'Your quote: €252.00');
    await shopper.getByRole('link', { name: 'See, accept or decline it' }).click();
    for (const words of ['Tidewater Ferns', 'The Long Bed', 'Lifted on the day.', 'Watered before they leave.'])
      await expect(shopper.getByText(words).first()).toBeVisible();
    await expect(shopper.getByRole('row', { name: 'Delivery' })).toHaveCount(2);
    await shopper.getByRole('button', { name: 'Accept' }).click();
    await shopper.getByRole('link', { name: 'Add to cart' }).click();
    await expect(shopper.getByRole('row', { name: 'Delivery' })).toContainText('€20.00');
    await expect(shopper.getByRole('row', { name: 'Total' })).toContainText('€252.00');
    await shopper.getByRole('link', { name: 'To checkout' }).click();
    await payByCard(shopper);
    await expect(shopper.getByText('Thank you. Your order is in.')).toBeVisible();
    await ida.reload();
    await expect(quote(ida)).toContainText('accepted');
    await expect(quote(ida)).toContainText('€175.00');
  });
  await ida.context().close();
  await bram.context().close();
});
