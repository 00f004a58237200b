import { dayAhead, written } from '../support/dates.ts';
import {
  chooseTag,
  enterDate,
  expect,
  newRule,
  openLetter,
  payByCard,
  publish,
  saved,
  send,
  test,
} from '../support/stage.ts';

test('a pre-order, from the rule to the parcel: reserved with its terms, set aside as it comes in, moved and sent', async ({
  owner,
  shopper,
  stage,
}) => {
  await newRule(owner, 'Take pre-orders by tag');
  await chooseTag(owner, 'ships-spring');
  await saved(owner);
  await publish(owner);

  await test.step('a guest reserves, and sees on every page that it is reserved', async () => {
    await shopper.goto(`${stage.shop.url}/plants/saffron-hill`);
    await shopper.getByLabel('Size').selectOption('3 tubers');
    await shopper.getByLabel('Quantity').fill('2');
    await shopper.getByRole('button', { name: 'Pre-order' }).click();
    await expect(shopper.getByText(/Pre-order\. It ships from/)).toBeVisible();
    await expect(shopper.getByText('Reserved, not sent yet.')).toHaveCount(0);
    await shopper.getByRole('link', { name: 'To checkout' }).click();
    await shopper.getByLabel('Name').fill('Wren Hollis');
    await shopper.getByLabel('E-mail').fill('wren.hollis@quillfern.example');
    const order = shopper.getByRole('button', { name: 'Place order' });
    await order.click();
    // Not before its terms are accepted.
    await expect(shopper).toHaveURL(`${stage.shop.url}/checkout`);
    await shopper.getByLabel('I accept the terms of what is reserved').check();
    await payByCard(shopper);
    await expect(shopper.getByText('Thank you. Your order is in.')).toBeVisible();
    await expect(shopper.getByText(/Reserved, not sent yet\. It ships from/)).toBeVisible();
    // Returning from the payment again orders once.
    const ordered = shopper.url();
    await shopper.goto(ordered.replace('/order/', '/paid/'));
    await expect(shopper).toHaveURL(ordered);
    await openLetter(shopper, stage, 'wren.hollis', 'Reserved for you');
    await expect(shopper.getByRole('article').getByText(/2 × Dahlia ‘Saffron Hill’, 3 tubers/)).toBeVisible();
  });

  const moved = dayAhead(500);
  await test.step('the owner moves the date, sets aside, and sends', async () => {
    await owner.getByRole('link', { name: 'Pre-orders' }).click();
    await owner.getByRole('link', { name: /Saffron Hill/ }).click();
    const wren = owner.getByRole('row').filter({ hasText: 'Wren Hollis' });
    await expect(wren).toContainText('reserved');
    await owner.getByRole('button', { name: 'Move the ship date' }).click();
    await enterDate(owner, 'From', moved);
    await owner.getByLabel('A message to the people waiting').fill('The spring was late.');
    await expect(owner.getByLabel(/^Promise new customers this date too \(now: ships from/)).toBeChecked();
    await owner.getByRole('button', { name: /^Move and notify/ }).click();
    await expect(wren).toContainText(`from ${written(moved)}`);
    await expect(owner.getByText('New customers are promised it too.')).toBeVisible();
    await expect
      .poll(() => send(stage, 'GET', '/api/preorders/goods?search=saffron'))
      .toMatchObject({ goods: [{ promise: { rule: null, from: moved } }] });
    await shopper.goto(`${stage.shop.url}/plants/saffron-hill`);
    await shopper.getByLabel('Size').selectOption('3 tubers');
    await shopper.getByRole('button', { name: 'Pre-order' }).click();
    await expect(shopper.getByText(`Pre-order. It ships from ${written(moved, 'long')}`)).toBeVisible();
    await wren.getByRole('checkbox').check();
    await owner.getByLabel('Units to allocate').fill('2');
    await owner.getByRole('button', { name: 'Preview' }).click();
    await expect(owner.getByText(/serves 1 of \d+, leaves 0/)).toBeVisible();
    await owner.getByRole('button', { name: 'Allocate and notify' }).click();
    await expect(wren).toContainText('allocated');
    await wren.getByRole('checkbox').check();
    await owner.getByRole('button', { name: 'Mark as sent' }).click();
    await expect(wren).toContainText('sent');
    await owner.getByRole('button', { name: 'Undo' }).click();
    await expect(wren).toContainText('allocated');
  });

  await test.step('the shopper was told of each', async () => {
    await openLetter(shopper, stage, 'wren.hollis', 'A new date for');
    await expect(shopper.getByRole('article')).toContainText(`It ships from ${written(moved, 'long')}.`);
    await expect(shopper.getByRole('article')).toContainText('The spring was late.');
    await openLetter(shopper, stage, 'wren.hollis', 'It is here');
  });
});
