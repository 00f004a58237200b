import { readFile } from 'node:fs/promises';
import { expect, sentence, test } from '../support/stage.ts';

test('many products are tagged, put into a rule and taken back, seeing before what changes for shoppers', async ({
  owner,
  shopper,
  stage,
}) => {
  await owner.getByRole('link', { name: 'Catalog' }).click();
  const row = (id: string) => owner.getByRole('row').filter({ hasText: id });
  const bar = owner.getByRole('region', { name: 'What is chosen' });
  const impact = owner.getByRole('region', { name: 'What changes for shoppers' });
  const choose = async (...ids: string[]) => {
    for (const id of ids) await row(id).getByRole('checkbox').check();
  };

  await test.step('a tag that a live rule asks for changes what guests see, and says so first', async () => {
    await choose('pin-cushion', 'last-bus');
    await bar.getByRole('button', { name: 'Tags, dates, attributes…' }).click();
    const dialog = owner.getByRole('dialog', { name: 'Change 2 products' });
    await dialog.getByLabel('Tags').fill('surplus');
    await owner.keyboard.press('Enter');
    await expect(impact).toContainText('Pay what you like');
    await dialog.getByRole('button', { name: 'Change 2 products' }).click();
    await expect(owner.getByText('2 products: tagged surplus.')).toBeVisible();
    await expect(row('pin-cushion')).toContainText('own price');
    await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
    await expect(shopper.getByText('Pay what you like')).toBeVisible();
  });

  await test.step('where each fact is from stands on the product’s page', async () => {
    await row('pin-cushion').getByRole('link').click();
    const facts = owner.getByRole('region', { name: 'Product details' });
    await expect(facts).toContainText('edited');
    await owner.goBack();
  });

  await test.step('it is taken back as a whole', async () => {
    await owner.getByRole('button', { name: 'Undo' }).click();
    await expect(owner.getByText('Undone for 2 products: tagged surplus.')).toBeVisible();
    await expect(row('pin-cushion')).toContainText('button');
    await shopper.reload();
    await expect(shopper.getByText('Pay what you like')).toBeHidden();
  });

  await test.step('what was changed stays in a list, with who did it', async () => {
    await owner.getByRole('button', { name: 'Changes of many products' }).click();
    const past = owner.getByRole('dialog', { name: 'Changes of many products' });
    await expect(past.getByRole('listitem')).toContainText('Undone for 2 products: tagged surplus.Olive Tarrant');
    await past.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('all that are found but one are put into a rule of the draft', async () => {
    await owner.getByLabel('Find a product').fill('dahlia');
    await expect(owner.getByText(/4 products, \d+ variants found/)).toBeVisible();
    await choose('night-post');
    await bar.getByRole('button', { name: 'Choose all 4 that are found' }).click();
    await row('paper-lantern').getByRole('checkbox').uncheck();
    await expect(bar).toContainText('3 products chosen');
    await bar.getByRole('button', { name: 'Rules…' }).click();
    const dialog = owner.getByRole('dialog', { name: 'Rules for 3 products' });
    await dialog.getByLabel('Rule').fill('Trees too big');
    await owner.getByRole('option', { name: 'Trees too big to post' }).click();
    await dialog.getByLabel('Tag').fill('by van only');
    await expect(impact).toContainText('once the draft is live');
    await dialog.getByRole('button', { name: 'Add to the draft' }).click();
    await expect(owner.getByText('3 products: put into “Trees too big to post”')).toBeVisible();
  });

  await test.step('a file of what is chosen is taken away, and a rule is started from it', async () => {
    await choose('night-post', 'copper-kettle');
    const saving = owner.waitForEvent('download');
    await bar.getByRole('button', { name: 'Export CSV' }).click();
    const file = await readFile(await (await saving).path(), 'utf8');
    expect(file).toContain('night-post');
    expect(file).toContain('by van only');
    await bar.getByRole('button', { name: 'Rules…' }).click();
    const dialog = owner.getByRole('dialog', { name: 'Rules for 2 products' });
    await dialog.getByLabel('What', { exact: true }).click();
    await owner.getByRole('option', { name: 'Start a rule with them' }).click();
    await dialog.getByLabel('What it does').click();
    await owner.getByRole('option', { name: 'Show without selling' }).click();
    await expect(impact).toContainText('will be shown otherwise');
    await dialog.getByRole('button', { name: 'Add to the draft' }).click();
    await expect(sentence(owner)).toContainText(
      'For products that are Dahlia ‘Night Post’ or Dahlia ‘Copper Kettle’: show “Not sold at the moment”',
    );
  });
});
