import { dayAhead, written } from '../support/dates.ts';
import { enterDate, expect, sentence, test } from '../support/stage.ts';

test('a product is found by Ctrl K; seen as every audience sees it; pre-ordered until a day in two presses', async ({
  owner,
}) => {
  await owner.keyboard.press('Control+k');
  await owner.getByPlaceholder('Go to a rule, a product or a screen').fill('dibber');
  await owner.getByRole('option', { name: 'Dibber, ash (ash-dibber)' }).click();
  await expect(owner.getByRole('heading', { level: 1, name: 'Dibber, ash' })).toBeVisible();
  await expect(owner.getByRole('link', { name: 'Its page in the shop' })).toHaveAttribute(
    'href',
    /\/tools\/|\/ash-dibber/,
  );
  const shown = owner.getByRole('region', { name: 'What shoppers see' });
  await expect(shown.getByRole('columnheader')).toHaveText([
    'Variant',
    'Guest',
    'Signed in',
    'Circle member',
    'Trade',
    'Staff',
  ]);
  const guest = shown.getByRole('button', { name: /Dibber, ash, Guest/ });
  await expect(guest).toContainText('Add to cart');

  const treat = owner.getByRole('region', { name: 'Decide for this product' });
  const until = dayAhead(500);
  await enterDate(treat, /^Until/, until);
  await treat.getByRole('button', { name: 'Add to the draft' }).click();
  await expect(treat.getByRole('status')).toContainText('Now in the draft: Pre-order: Dibber, ash');
  await expect(guest).toHaveAccessibleName(/Pre-order, changed in the draft/);
  const rules = owner.getByRole('region', { name: 'Rules that apply' });
  await expect(rules.getByRole('link', { name: /Pre-order: Dibber, ash/ })).toBeVisible();
  await guest.click();
  await expect(owner.getByRole('dialog', { name: 'Why' })).toBeVisible();
  await owner.goBack();
  await expect(owner.getByRole('dialog', { name: 'Why' })).toBeHidden();
  await treat.getByRole('link', { name: 'Pre-order: Dibber, ash' }).click();
  await expect(sentence(owner)).toContainText(`until ${written(until, 'long')}`);
  await owner.goBack();
  await owner.getByRole('link', { name: 'All products' }).click();
  await expect(owner.getByRole('heading', { name: 'Catalog' })).toBeVisible();
});

test('stock and dates of a product are changed by hand, and count at once', async ({ owner }) => {
  await owner.getByRole('link', { name: 'Catalog' }).click();
  await owner.getByLabel('Find a product').fill('dibber');
  await owner.getByRole('link', { name: 'Dibber, ash' }).click();
  const stock = owner.getByRole('region', { name: 'Stock' });
  await stock.getByLabel(/^In stock of/).fill('3');
  await stock.getByRole('button', { name: 'Save stock' }).click();
  await expect(owner.getByRole('row', { name: /Dibber, ash/ })).toContainText('3 left');
  const facts = owner.getByRole('region', { name: 'Product details' });
  await enterDate(facts, 'Ship date', dayAhead(500));
  await facts.getByRole('button', { name: 'Save dates' }).click();
  await expect(facts.getByRole('button', { name: 'Save dates' })).toBeHidden();
  await owner.reload();
  await expect(stock.getByLabel(/^In stock of/)).toHaveValue('3');
  await owner.goto(new URL('/catalog/no-such-thing', owner.url()).href);
  await expect(owner.getByRole('heading', { name: 'No such product' })).toBeVisible();
});
