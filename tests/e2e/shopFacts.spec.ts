import { readFile } from 'node:fs/promises';
import { enterDate, expect, phrase, publish, readingTest, saved, sentence, test } from '../support/stage.ts';

const fileOf = (name: string, mimeType: string, text: string) => ({ name, mimeType, buffer: Buffer.from(text) });

readingTest('the catalog shows what the rules see, and what each audience is shown of it', async ({ owner }) => {
  await owner.getByRole('link', { name: 'Catalog' }).click();
  await expect(owner.getByText('46 products')).toBeVisible();
  const aside = owner.getByRole('complementary', { name: 'Categories and tags' });
  await aside.getByRole('button', { name: 'Rare plants 4' }).click();
  await expect(owner.getByText('4 products found')).toBeVisible();
  await owner.getByRole('button', { name: 'Out of stock', exact: true }).click();
  await expect(owner.getByText('3 products found')).toBeVisible();
  await owner.getByRole('button', { name: /^Cypripedium ‘Slipper Room’/ }).click();
  const facts = owner.getByRole('listitem').filter({ hasText: 'slipper-room' });
  await expect(facts).toContainText('/plants/slipper-room');
  const flowering = facts.getByRole('row', { name: /^flowering/ });
  await expect(flowering).toContainText('0 in stock');
  await expect(flowering).toContainText('Hear when we divide it');
  await expect(facts.getByRole('row', { name: /^three years old/ })).toContainText('Add to cart');
  // The address holds it all, so that it can be linked and reloaded.
  await owner.reload();
  await expect(flowering).toContainText('Hear when we divide it');
  await owner.getByLabel('Find a product').fill('nothing like it');
  await expect(owner.getByText('No products match.')).toBeVisible();
});

test('a file is brought in with its columns matched, and what is refused is said with its reason', async ({
  owner,
}) => {
  await owner.getByRole('link', { name: 'Catalog' }).click();
  await owner.getByRole('button', { name: 'Import' }).click();
  const dialog = owner.getByRole('dialog', { name: 'Import products' });
  const csv =
    'Article;Name;Qty;Glaze;price\nlast-bus-9-cm-pot;Aster ‘Night Bus’;7;blue;5,75\nlast-bus-2-litre-pot;Aster ‘Night Bus’;many;;9,00';
  const file = fileOf('goods.csv', 'text/csv', csv);
  await dialog.locator('input[type=file]').setInputFiles(file);
  await expect(dialog).toContainText('goods.csv: 5 columns');
  await expect(dialog.getByRole('combobox', { name: 'What Article is' })).toHaveText(/^variant_id/);
  await expect(dialog.getByRole('combobox', { name: 'What Qty is' })).toHaveText(/^stock_quantity/);
  await dialog.getByRole('combobox', { name: 'What Glaze is' }).click();
  await owner.getByRole('option', { name: 'left out' }).click();
  await dialog.getByRole('button', { name: 'See what will change' }).click();
  await expect(dialog).toContainText('0 new, 1 changed. Nothing is written yet.');
  await expect(dialog.getByRole('row', { name: /Aster ‘Night Bus’/ })).toContainText('5.00 5.75');
  await expect(dialog.getByRole('row', { name: /^3 stock_quantity/ })).toContainText('many');
  await dialog.getByRole('button', { name: 'Import 1 row', exact: true }).click();
  await expect(dialog).toContainText('1 of 2 rows are in.');
  const saving = owner.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Download what was refused' }).click();
  expect(await readFile(await (await saving).path(), 'utf8')).toContain('stock_quantity');
  await dialog.getByRole('button', { name: 'Close' }).click();
  await owner.getByRole('button', { name: /^Aster ‘Night Bus’/ }).click();
  await expect(owner.getByRole('row', { name: /^9 cm pot/ })).toContainText('7 in stock');
  // The next file with these headings is read as this one was.
  await owner.getByRole('button', { name: 'Import' }).click();
  await dialog.locator('input[type=file]').setInputFiles(file);
  await expect(dialog).toContainText('matched as last time');
  await expect(dialog.getByRole('combobox', { name: 'What Glaze is' })).toHaveText('left out');
});

readingTest('people are shown with what they hold now, held before, and will hold', async ({ owner }) => {
  await owner.getByRole('link', { name: 'People' }).click();
  await expect(owner.getByRole('row', { name: /^Edie Quayle/ })).toContainText('(over)');
  await expect(owner.getByRole('row', { name: /^Luce Martin/ })).toContainText('(not yet)');
  await owner.getByRole('complementary').getByRole('button', { name: 'trade 3' }).click();
  await expect(owner.getByText('3 customers found')).toBeVisible();
  await owner.getByLabel('Find a customer').fill('fenn');
  await expect(owner.getByText('1 customer found')).toBeVisible();
});

test('the rulebook is read, changed, brought in and exported as text', async ({ owner, shopper, stage }) => {
  await owner.getByRole('link', { name: 'As text' }).click();
  const text = owner.getByRole('textbox', { name: 'Rulebook as JSON' });
  const status = owner.getByRole('status').first();
  await expect(text).toContainText('"understudy-rulebook"');

  await test.step('a fault is marked where it is, and nothing is saved meanwhile', async () => {
    const book = await (await owner.request.get(`${stage.understudy.url}/api/rulebook`)).text();
    const wrong = JSON.parse(book) as { rules: { then: Record<string, unknown> }[] };
    if (wrong.rules[0]) wrong.rules[0].then = { express: 'perhaps', colour: 'green' };
    await owner
      .locator('input[type=file]')
      .setInputFiles(fileOf('wrong.json', 'application/json', JSON.stringify(wrong, null, 2)));
    await expect(status).toContainText('2 faults: not saved until they are fixed');
    await expect(owner.getByText('wrong.json has 2 faults')).toBeVisible();
    await owner.getByRole('button', { name: '/rules/0/then/express' }).click();
    await expect(text.locator('.cm-lintRange-error').first()).toHaveText('"perhaps"');
    expect(await (await owner.request.get(`${stage.understudy.url}/api/rulebook`)).text()).toBe(book);
  });

  await test.step('what can be written is offered at the cursor', async () => {
    // The fault is selected.
    await owner.keyboard.press('Backspace');
    await owner.keyboard.type('"');
    await owner.getByRole('option', { name: 'hide' }).click();
    await expect(text).toContainText('"express": "hide",');
    await expect(status).toContainText('1 fault: not saved until they are fixed');
  });

  await test.step('a right file takes the draft’s place, and can be undone', async () => {
    const pause = {
      format: 'understudy-rulebook',
      version: 1,
      rules: [
        {
          id: 'pause',
          name: 'Pause',
          on: true,
          when: { fact: 'product', op: 'every', value: true },
          then: { control: { kind: 'notice', text: 'Back on Monday' } },
        },
      ],
    };
    await owner
      .locator('input[type=file]')
      .setInputFiles(fileOf('pause.json', 'application/json', JSON.stringify(pause)));
    await expect(owner.getByText('pause.json: 1 rules are in the draft.')).toBeVisible();
    await expect(status).toContainText('saved in the draft');
    const saving = owner.waitForEvent('download');
    await owner.getByRole('button', { name: 'Download' }).click();
    expect(JSON.parse(await readFile(await (await saving).path(), 'utf8'))).toEqual(pause);
    await owner.getByRole('button', { name: 'Undo' }).click();
    await expect(text).toContainText('"frost-closure"');
    await owner.keyboard.press('Control+Shift+z');
    await expect(text).toContainText('Back on Monday');
    await owner.getByRole('link', { name: 'As sentences' }).click();
    await expect(sentence(owner)).toContainText('For everything: show “Back on Monday” instead of the button.');
    await expect(phrase(owner, '“Back on Monday”')).toBeVisible();
    await saved(owner);
    await publish(owner);
    await shopper.reload();
    await expect(shopper.getByText('Back on Monday').first()).toBeVisible();
  });
});

test('a customer is added, given a membership with dates, and merged with the account that they open', async ({
  owner,
}) => {
  await owner.getByRole('link', { name: 'People' }).click();
  await owner.getByRole('button', { name: 'Add a customer' }).click();
  const adding = owner.getByRole('dialog', { name: 'Add a customer' });
  await adding.getByRole('button', { name: 'Add the customer' }).click();
  await expect(adding.getByText('Write a name or an e-mail address')).toBeVisible();
  await adding.getByLabel('Name').fill('K. Sorrel');
  await adding.getByLabel('Telephone').fill('+351 210 000 017');
  await adding.getByRole('button', { name: 'Add the customer' }).click();

  const added = owner.getByRole('dialog', { name: 'K. Sorrel' });
  const role = added.getByRole('form', { name: 'Add a role' });
  await role.getByLabel('Role').fill('member');
  await enterDate(role, /^Until/, '2099-03-01');
  await role.getByRole('button', { name: 'Add role' }).click();
  await expect(added.getByRole('listitem')).toContainText('until 1 Mar 2099');
  await added.getByRole('button', { name: 'Change the dates of member' }).click();
  const dates = added.getByRole('form', { name: 'Dates of member' });
  await enterDate(dates, /^Until/, '2099-04-15');
  await dates.getByRole('button', { name: 'Save dates' }).click();
  await expect(added.getByRole('listitem')).toContainText('until 15 Apr 2099');

  await added.getByRole('button', { name: 'Merge with another customer…' }).click();
  await added.getByLabel('The other customer').fill('kit');
  await owner.getByRole('option', { name: 'Kit Sorrel' }).click();
  await added.getByRole('button', { name: 'Keep c-11' }).click();
  const kit = owner.getByRole('dialog', { name: 'Kit Sorrel' });
  await expect(kit.getByLabel('Telephone')).toHaveValue('+351210000017');
  await kit.getByRole('button', { name: 'End member now' }).click();
  await expect(kit.getByRole('listitem')).toContainText('(over)');
  await kit.getByRole('button', { name: 'Close' }).click();
  await expect(owner.getByRole('row').filter({ hasText: 'Sorrel' })).toHaveCount(1);
  await expect(owner).toHaveURL(/\/people$/);
});

test('an audience is added where a proof is, and has its column at once', async ({ owner }) => {
  await owner.getByRole('link', { name: 'Rehearsal' }).click();
  const columns = owner.getByRole('region', { name: 'Proof' }).getByRole('columnheader');
  await expect(columns.filter({ hasText: 'Staff' })).toBeVisible();
  await owner.getByRole('button', { name: 'Change audiences' }).click();
  const dialog = owner.getByRole('dialog', { name: 'Audiences' });
  await dialog.getByRole('button', { name: 'Add Invited' }).click();
  await dialog.getByRole('button', { name: 'Add an audience' }).click();
  await dialog.getByRole('button', { name: 'Save audiences' }).click();
  await expect(dialog.getByText('Give it a name')).toBeVisible();
  await dialog.getByLabel('Who').last().click();
  await owner.getByRole('option', { name: 'One customer' }).click();
  await dialog.getByLabel('Customer', { exact: true }).fill('luce');
  await owner.getByRole('option', { name: 'Luce Martin' }).click();
  await dialog.getByRole('button', { name: 'Remove Signed in' }).click();
  await dialog.getByRole('button', { name: 'Save audiences' }).click();
  await expect(dialog).toBeHidden();
  await expect(columns).toHaveText(['Variant', 'Guest', 'Circle member', 'Trade', 'Staff', 'Invited', 'Luce Martin']);
  // Rare plants wait on a list for everybody but whose turn it is.
  await owner.getByLabel('Also look at').fill('Inkwell');
  await owner.getByRole('option', { name: /Inkwell/ }).click();
  const cells = owner.getByRole('row').filter({ hasText: 'Inkwell' }).getByRole('cell');
  await expect(cells.nth(0)).not.toContainText('Add to cart');
  await expect(cells.nth(4)).not.toHaveText((await cells.nth(0).textContent()) ?? '');
});
