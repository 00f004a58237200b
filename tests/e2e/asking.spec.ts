import { violationsIn } from '../support/axe.ts';
import {
  chooseTag,
  expect,
  newRule,
  openLetter,
  payByCard,
  publish,
  saved,
  signInAtShop,
  test,
} from '../support/stage.ts';

test('a quote, from the rule to the order: gathered over pages, priced, accepted, and sold at its price once', async ({
  owner,
  shopper,
  stage,
}) => {
  await newRule(owner, 'Ask for a price');
  await chooseTag(owner, 'wildlife');
  await saved(owner);
  await publish(owner);

  await test.step('the sheet follows the visitor over pages, is changed and sent', async () => {
    await shopper.goto(`${stage.shop.url}/plants/blue-ledger`);
    await shopper.getByLabel('Size').selectOption('2 litre pot');
    await shopper.getByLabel('Quantity').fill('30');
    await shopper.getByRole('link', { name: 'Ask for a price' }).click();
    const dialog = shopper.getByRole('dialog', { name: 'Ask for a price' });
    await expect(dialog.getByRole('status')).toHaveText('Added. Go on looking, or send the sheet.');
    await dialog.getByRole('button', { name: 'Empty the sheet' }).click();
    await expect(dialog.getByRole('status')).toHaveText('Nothing is on the sheet.');
    await dialog.getByRole('button', { name: 'Close' }).click();
    await expect(shopper.getByRole('button', { name: /Quote sheet/ })).toBeHidden();
    await shopper.getByRole('link', { name: 'Ask for a price' }).click();
    await dialog.getByRole('button', { name: 'Close' }).click();
    await shopper.goto(`${stage.shop.url}/quote-sheet`);
    await expect(shopper.locator('[data-understudy-quote-sheet]').getByLabel('Units: ')).toHaveValue('30');
    await expect(shopper.getByRole('button', { name: /Quote sheet/ })).toHaveCount(0);
    await shopper.goto(`${stage.shop.url}/tools/ash-dibber`);
    // The rest of the dialog comes while somebody writes, and takes nothing from them.
    const waiting: (() => void)[] = [];
    await shopper.route('**/v1/forms/**', async (route) => {
      await new Promise<void>((resolve) => waiting.push(resolve));
      await route.continue();
    });
    await shopper.getByRole('button', { name: 'Quote sheet (1)' }).click();
    const units = dialog.getByLabel('Units: ');
    await expect(units).toHaveValue('30');
    await units.fill('40');
    await expect.poll(() => waiting.length).toBe(1);
    waiting.forEach((goOn) => {
      goOn();
    });
    await expect(dialog.getByLabel('Where to')).toBeVisible();
    await expect(units).toBeFocused();
    await expect(units).toHaveValue('40');
    await shopper.unroute('**/v1/forms/**');
    await dialog.getByLabel('Note: ').fill('In bud, if you can');
    await dialog.getByLabel('Where to').fill('Wharf Lane');
    await dialog.getByLabel('E-mail').fill('wren.hollis@quillfern.example');
    await dialog.getByLabel('Name').fill('Wren Hollis');
    expect(await violationsIn(shopper, { within: '[data-understudy-dialog]' })).toEqual([]);
    await dialog.getByRole('button', { name: 'Send', exact: true }).click();
    await expect(dialog.getByRole('status')).toHaveText('Thank you. We have your request and will send you a price.');
    await expect(shopper.getByRole('button', { name: /Quote sheet/ })).toBeHidden();
    await shopper.goto(`${stage.shop.url}/quote-sheet`);
    await expect(shopper.getByText('Nothing yet. Hedging by the hundred is priced for you.')).toBeVisible();
  });

  await test.step('the owner prices each line, adds one, and sends it', async () => {
    await owner.getByRole('link', { name: 'Quotes' }).click();
    await owner.getByRole('button', { name: /Wren Hollis/ }).click();
    await expect(owner.getByText('In bud, if you can')).toBeVisible();
    await owner.getByLabel(/^Price of /).fill('6.50');
    await owner.getByLabel('Add a product').fill('dibber');
    await owner.getByRole('option', { name: /Dibber/ }).click();
    await owner.getByLabel('Delivery').fill('20');
    await owner.getByLabel('A message with it').fill('With a dibber, at our price.');
    await owner.getByRole('button', { name: 'Send the quote' }).click();
    await expect(owner.getByRole('region', { name: 'Quote for Wren Hollis' })).toContainText('sent');
  });

  await test.step('the customer accepts, and orders at those prices, once', async () => {
    await openLetter(shopper, stage, 'wren.hollis', 'Your quote: €296.00');
    await shopper.getByRole('link', { name: 'See, accept or decline it' }).click();
    await expect(shopper.getByText('With a dibber, at our price.')).toBeVisible();
    await shopper.getByRole('button', { name: 'Accept' }).click();
    const toBasket = shopper.getByRole('link', { name: 'Add to cart' });
    const address = await toBasket.getAttribute('href');
    await toBasket.click();
    await expect(shopper.getByRole('cell', { name: '€260.00' })).toBeVisible();
    // Goods of 276 euros, and what was asked for delivery.
    await expect(shopper.getByRole('row', { name: 'Delivery' })).toContainText('€20.00');
    await expect(shopper.getByRole('row', { name: 'Total' })).toContainText('€296.00');
    await shopper.getByRole('link', { name: 'To checkout' }).click();
    await payByCard(shopper);
    await expect(shopper.getByText('Thank you. Your order is in.')).toBeVisible();
    await expect(shopper.getByRole('row', { name: 'Total' })).toContainText('€296.00');
    await shopper.goto(address ?? '');
    await expect(shopper.getByText('Your basket is empty.')).toBeVisible();
    await owner.reload();
    await expect(owner.getByRole('region', { name: 'Quote for Wren Hollis' })).toContainText('accepted');
  });
});

test('a question about goods: asked on their page, answered by mail, and counted', async ({
  owner,
  shopper,
  stage,
}) => {
  await newRule(owner, 'A contact form when sold out');
  await saved(owner);
  await publish(owner);
  await signInAtShop(shopper, stage.shop.url, 'Cleo Marsh');
  await shopper.goto(`${stage.shop.url}/plants/blue-ledger`);
  await shopper.getByLabel('Size').selectOption('9 cm pot');
  const form = shopper.locator('[data-place=belowControl]');
  await expect(form.getByRole('heading', { name: 'Ask about this' })).toBeVisible();
  await form.getByLabel('Your question').fill('When are the small pots back?');
  // Signed-in customers are not asked for an address.
  await expect(form.getByLabel('E-mail')).toHaveCount(0);
  await form.getByRole('button', { name: 'Send' }).press('Enter');
  await expect(form.getByRole('status')).toContainText('Thank you.');
  await shopper.reload();
  await shopper.getByLabel('Size').selectOption('9 cm pot');
  await expect(shopper.getByText('You have asked. We will answer you.')).toBeVisible();

  await owner.getByRole('link', { name: 'Enquiries' }).click();
  await expect(owner.getByText('When are the small pots back?')).toBeVisible();
  await owner.getByLabel('Your answer').fill('In the first week of May.');
  await owner.getByRole('button', { name: 'Send the answer' }).click();
  await expect(owner.getByText('In the first week of May.').first()).toBeVisible();
  await openLetter(shopper, stage, 'cleo.marsh', 'Our answer about');
  await expect(shopper.getByRole('article')).toContainText('In the first week of May.');
});
