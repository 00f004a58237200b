import { readFile } from 'node:fs/promises';
import { dayAhead, written } from '../support/dates.ts';
import { enterDate, expect, phrase, publish, readingTest, saved, sentence, test } from '../support/stage.ts';

const fileOf = (name: string, mimeType: string, text: string) => ({ name, mimeType, buffer: Buffer.from(text) });

readingTest('the catalog finds goods by what rules ask, and by what rules decide of them', async ({ owner }) => {
  await owner.getByRole('link', { name: 'Catalog' }).click();
  const rows = owner
    .getByRole('grid')
    .getByRole('row')
    .filter({ has: owner.getByRole('link') });
  await expect(owner.getByText('46 products, 72 variants')).toBeVisible();
  const aside = owner.getByRole('complementary', { name: 'Views, categories and tags' });
  await aside.getByRole('button', { name: 'Rare plants 4' }).click();
  await expect(owner.getByText('4 products, 5 variants found')).toBeVisible();

  await test.step('the same phrases as in a rule, changed in the same way', async () => {
    const asked = owner.getByLabel('Which goods, as a sentence');
    await asked.getByRole('button', { name: 'and…' }).click();
    await owner.getByRole('menuitem', { name: 'a condition', exact: true }).click();
    const phraseEditor = owner.getByRole('dialog', { name: 'Change this phrase' });
    await phraseEditor.getByLabel('Which goods').click();
    await owner.getByRole('option', { name: 'variants that are', exact: true }).click();
    await owner.keyboard.press('Escape');
    await expect(asked).toContainText('in variants that are out of stock');
    await expect(owner.getByText('3 products, 3 variants found')).toBeVisible();
    await expect(rows.filter({ hasText: 'slipper-room' })).toContainText('waitlist');
  });

  await test.step('what somebody is shown, and which rule decides it', async () => {
    await owner.getByRole('button', { name: 'Show everything' }).click();
    await owner.getByRole('button', { name: 'shown as…' }).click();
    await owner.getByLabel('What stands in the button’s place').click();
    await owner.getByRole('option', { name: 'a sign-in prompt' }).click();
    await owner.keyboard.press('Escape');
    await expect(owner.getByText(/products?, \d+ variants? found/)).toBeVisible();
    await expect(rows.filter({ hasNotText: 'sign in' })).toHaveCount(0);
    await expect(rows.first()).toBeVisible();
    await owner.getByRole('button', { name: 'Show everything' }).click();
    await owner.getByRole('button', { name: 'decided by…' }).click();
    await owner.getByLabel('A rule of the draft').click();
    await owner.getByRole('option', { name: 'Rare plants, by turn' }).click();
    await owner.keyboard.press('Escape');
    await expect(rows.filter({ hasText: 'slipper-room' })).toBeVisible();
  });

  await test.step('columns and order are chosen, and kept as a view with all that is asked', async () => {
    await owner.getByRole('button', { name: 'Columns' }).click();
    await owner.getByRole('menuitemcheckbox', { name: 'Waiting' }).click();
    await owner.getByRole('menuitemcheckbox', { name: 'Category' }).click();
    await owner.keyboard.press('Escape');
    await expect(owner.getByRole('columnheader', { name: 'Category' })).toBeHidden();
    await owner.getByRole('columnheader', { name: 'Waiting' }).click();
    await expect(owner.getByRole('columnheader', { name: 'Waiting' })).toHaveAttribute('aria-sort', 'ascending');
    await owner.getByRole('button', { name: 'Save this view…' }).click();
    await owner.getByLabel('Name of the view').fill('Rare, by demand');
    await owner.keyboard.press('Enter');
    const view = aside.getByRole('link', { name: 'Rare, by demand' });
    await expect(view).toHaveAttribute('aria-current', 'page');
    await owner.getByRole('link', { name: 'Catalog' }).click();
    await expect(owner.getByText('46 products, 72 variants')).toBeVisible();
    await view.click();
    await expect(view).toHaveAttribute('aria-current', 'page');
    await owner.reload();
    await expect(owner.getByRole('columnheader', { name: 'Waiting' })).toHaveAttribute('aria-sort', 'ascending');
    await owner.getByRole('button', { name: 'Forget the view “Rare, by demand”' }).click();
    await expect(view).toBeHidden();
  });

  await test.step('a view that asks for an audience that is gone says so, and can be asked for less', async () => {
    await owner.goto(new URL('/catalog?shown=waitlist&to=Nobody+we+know', owner.url()).href);
    await expect(owner.getByRole('alert')).toContainText('Nobody we know');
    await owner.getByRole('button', { name: 'Show everything' }).click();
    await expect(owner.getByText('46 products, 72 variants')).toBeVisible();
  });

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
  const changed = owner.getByRole('row').filter({ hasText: 'Aster ‘Night Bus’' });
  // Seven of the pot that the file names, and the seven of the other as before.
  await expect(changed).toContainText('14from €5.75');
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
  const [first, second] = [dayAhead(500), dayAhead(545)];
  await enterDate(role, /^Until/, first);
  await role.getByRole('button', { name: 'Add role' }).click();
  await expect(added.getByRole('listitem')).toContainText(`until ${written(first)}`);
  await added.getByRole('button', { name: 'Change the dates of member' }).click();
  const dates = added.getByRole('form', { name: 'Dates of member' });
  await enterDate(dates, /^Until/, second);
  await dates.getByRole('button', { name: 'Save dates' }).click();
  await expect(added.getByRole('listitem')).toContainText(`until ${written(second)}`);

  await added.getByRole('button', { name: 'Merge with another customer…' }).click();
  await added.getByLabel('The other customer').fill('kit');
  await owner.getByRole('option', { name: 'Kit Sorrel' }).click();
  await added.getByRole('button', { name: 'Keep c-11' }).click();
  const kit = owner.getByRole('dialog', { name: 'Kit Sorrel' });
  await expect(kit.getByLabel('Telephone')).toHaveValue('+351210000017');
  await kit.getByRole('button', { name: 'End member now' }).click();
  await expect(kit.getByRole('listitem').filter({ hasText: /^member/ })).toContainText('(over)');
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

test('a customer has one timeline, on which every request leads to the next thing to do', async ({ owner, stage }) => {
  await owner.goto(`${stage.understudy.url}/people?person=c-03`);
  const timeline = owner.getByRole('dialog', { name: 'Cleo Marsh' }).getByRole('region', { name: /^Timeline/ });
  await expect(timeline.getByRole('listitem').filter({ hasText: 'Pre-order' })).toContainText(
    /Dahlia ‘Saffron Hill’, 3 tubers · 2 units · order N-107.*reserved.*Allocate/,
  );
  const place = timeline
    .getByRole('listitem')
    .filter({ has: owner.getByRole('link', { name: 'Invite' }) })
    .first();
  await expect(place).toContainText('waiting');
  await place.getByRole('link', { name: 'Invite' }).click();
  await expect(owner).toHaveURL(/\/waitlists\?product=/);
  await expect(owner.getByRole('row').filter({ hasText: 'Cleo Marsh' })).toContainText('waiting');
  await expect(owner.getByRole('row')).toHaveCount(2);
});
