import { violationsIn } from '../support/axe.ts';
import { expect, newRule, openLetter, payByCard, publish, saved, send, test } from '../support/stage.ts';

const LEDGER = '/plants/blue-ledger';

test('a waitlist, from the rule to the purchase: joined by mail, invited in turn, bought, and by nobody else', async ({
  owner,
  shopper,
  stage,
  browser,
}) => {
  await newRule(owner, 'Keep a waitlist for sold-out products');
  await saved(owner);
  await publish(owner);

  const join = shopper.getByRole('link', { name: 'Join the waitlist' });
  await test.step('a guest joins by a link that is sent', async () => {
    await shopper.goto(stage.shop.url + LEDGER);
    await shopper.getByLabel('Size').selectOption('9 cm pot');
    await join.press('Enter');
    const dialog = shopper.getByRole('dialog', { name: 'Join the waitlist' });
    await expect(dialog.getByLabel('E-mail')).toBeFocused();
    expect(await violationsIn(shopper, { within: '[data-understudy-dialog]' })).toEqual([]);
    await dialog.getByLabel('E-mail').fill('wren.hollis@quillfern.example');
    await dialog.getByLabel('Name').fill('Wren Hollis');
    await dialog.getByRole('button', { name: 'Join' }).click();
    await expect(dialog.getByRole('status')).toHaveText('We have sent you a link. Follow it, and you are on the list.');
    await dialog.getByRole('button', { name: 'Close' }).click();
    await expect(dialog).toBeHidden();
    await openLetter(shopper, stage, 'wren.hollis', 'Please confirm');
    await shopper.getByRole('link', { name: 'Yes, put me on the list' }).click();
    await shopper.getByRole('button', { name: 'Put me on the waitlist' }).click();
    await expect(shopper.getByText('You are number 1 on the waitlist.')).toBeVisible();
    await shopper.getByRole('link', { name: 'Back to the shop' }).click();
    await expect(shopper).toHaveURL(stage.shop.url + LEDGER);
  });

  await test.step('the owner invites them when a pot is there, and takes it back and gives it again', async () => {
    await send(stage, 'PUT', '/api/stock', [{ variantId: 'blue-ledger-9-cm-pot', quantity: 1 }]);
    await owner.getByRole('link', { name: 'Waitlists' }).click();
    await owner.getByRole('link', { name: /9 cm pot/ }).click();
    const wren = owner.getByRole('row').filter({ hasText: 'Wren Hollis' });
    await wren.getByLabel('Note about').fill('Telephoned about it');
    await wren.getByRole('checkbox').check();
    await owner.getByRole('button', { name: 'Remove from the list' }).click();
    await expect(wren).toContainText('removed');
    await owner.getByRole('button', { name: 'Undo' }).click();
    await expect(wren).toContainText('waiting');
    await owner.getByRole('button', { name: 'Invite', exact: true }).click();
    await expect(owner.getByText('One person was invited.')).toBeVisible();
    await expect(wren).toContainText('invited');
    await owner.reload();
    await expect(wren.getByLabel('Note about')).toHaveValue('Telephoned about it');
  });

  await test.step('the pot is for whoever was invited, and for nobody else', async () => {
    const other = await (await browser.newContext()).newPage();
    await other.goto(stage.shop.url + LEDGER);
    await other.getByLabel('Size').selectOption('9 cm pot');
    await expect(other.getByRole('link', { name: 'Join the waitlist' })).toBeVisible();
    await other.context().close();
    await openLetter(shopper, stage, 'wren.hollis', 'It is your turn');
    await shopper.getByRole('link', { name: 'Buy it now' }).click();
    await shopper.getByLabel('Size').selectOption('9 cm pot');
    await shopper.getByRole('button', { name: 'Put in basket' }).click();
    await shopper.getByRole('link', { name: 'To checkout' }).click();
    await payByCard(shopper);
    await expect(shopper.getByText('Thank you. Your order is in.')).toBeVisible();
  });
});

test('who is signed in joins at once, is told where they stand, and leaves by the link', async ({ shopper, stage }) => {
  await shopper.goto(`${stage.shop.url}/sign-in`);
  await shopper.getByRole('button', { name: /Bram Oakes/ }).click();
  await shopper.goto(`${stage.shop.url}/plants/inkwell`);
  await shopper.getByRole('link', { name: 'Hear when we divide it' }).click();
  const dialog = shopper.getByRole('dialog');
  await expect(dialog.getByRole('status')).toContainText('You are number 8 on the waitlist.');
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(shopper.getByRole('main').getByText('You are number 8 on the waitlist.')).toBeVisible();
  await expect(shopper.getByRole('link', { name: 'Hear when we divide it' })).toBeHidden();
  await shopper.getByRole('link', { name: 'Leave the list' }).click();
  await shopper.getByRole('button', { name: 'Leave the waitlist' }).click();
  await shopper.goto(`${stage.shop.url}/plants/inkwell`);
  await expect(shopper.getByRole('link', { name: 'Hear when we divide it' })).toBeVisible();
});
