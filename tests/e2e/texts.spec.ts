import { readFileSync } from 'node:fs';
import { expect, test } from '../support/stage.ts';

test.use({ opensAt: null });

test('the owner changes what the shop says, in one language, and shoppers read it', async ({
  owner,
  shopper,
  stage,
}) => {
  await owner.goto(`${stage.understudy.url}/texts`);
  const label = owner.getByRole('textbox', { name: 'See sizes and prices' });
  await label.click();
  await expect(label).toHaveValue('See sizes and prices');
  await label.fill('Look closer');
  await owner.keyboard.press('Tab');
  await expect(owner.getByText('109 texts, 1 changed')).toBeVisible();
  await owner.getByRole('button', { name: 'Undo' }).click();
  await expect(owner.getByText('109 texts, 0 changed')).toBeVisible();
  await expect(label).toHaveValue('');
  await label.click();
  await expect(label).toHaveValue('See sizes and prices');
  await label.fill('Look closer');
  await owner.keyboard.press('Tab');
  await expect(owner.getByText('109 texts, 1 changed')).toBeVisible();
  await shopper.goto(stage.shop.url);
  await expect(shopper.getByRole('link', { name: 'Look closer' }).first()).toBeVisible();
  const download = owner.waitForEvent('download');
  await owner.getByRole('button', { name: 'Export CSV' }).click();
  expect(readFileSync(await (await download).path(), 'utf8')).toContain('See sizes and prices,Look closer');

  // A placeholder that is none is refused before it is saved.
  const waiting = owner.getByRole('textbox', { name: /^You are number/ });
  await waiting.fill('Number {place}');
  await owner.keyboard.press('Tab');
  await expect(owner.getByText('Only these placeholders: position, leave (not place)')).toBeVisible();

  await owner.getByRole('button', { name: 'Restore the default' }).click();
  await expect(owner.getByText('109 texts, 0 changed')).toBeVisible();
  await shopper.goto(stage.shop.url);
  await expect(shopper.getByRole('link', { name: 'See sizes and prices' }).first()).toBeVisible();
});
