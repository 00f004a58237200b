import { dayAhead } from '../support/dates.ts';
import { addClause, editor, enterDate, expect, newRule, phrase, sentence, test } from '../support/stage.ts';

test('pickers know the shop: counts, near misses, pictures, people; and what is typed stays', async ({ owner }) => {
  await newRule(owner, 'Start from scratch');
  await phrase(owner, 'choose products').click();

  await test.step('a tag that nothing has, and the nearest that something has', async () => {
    await editor(owner).getByLabel('Tags').fill('wildlive');
    await owner.keyboard.press('Enter');
    await expect(editor(owner)).toContainText('Nothing in the shop has “wildlive” yet. Did you mean wildlife?');
    await editor(owner).getByRole('button', { name: 'wildlife', exact: true }).last().click();
    await expect(sentence(owner)).toContainText('For products tagged wildlife:');
  });

  await test.step('tags with their counts', async () => {
    await editor(owner).getByLabel('Tags').fill('cut flow');
    await expect(owner.getByRole('option', { name: 'cut flower' })).toContainText(/cut flower\s*\d/);
    await owner.keyboard.press('Escape');
    await owner.keyboard.press('Escape');
  });

  await test.step('people by their names', async () => {
    await addClause(owner, 'for whom');
    await editor(owner).getByLabel('For whom').fill('these customers');
    await owner.getByRole('option', { name: 'these customers', exact: true }).click();
    // The draft is saved meanwhile, which takes nothing away that is being typed.
    await editor(owner).getByLabel('Customers').fill('inês');
    await owner.getByRole('option', { name: 'Inês Prado · c-09' }).click();
    await expect(sentence(owner)).toContainText('for the customer c-09');
    await owner.keyboard.press('Escape');
    await owner.keyboard.press('Escape');
  });

  await test.step('a season as a strip of the coming months', async () => {
    await addClause(owner, 'when, or where');
    await editor(owner).getByLabel('When, or where').fill('every year');
    await owner.getByRole('option', { name: 'every year between two days' }).click();
    await expect(
      editor(owner).getByRole('figure', { name: /^Open [12] times in the coming 13 months$/ }),
    ).toBeVisible();
    await owner.keyboard.press('Escape');
  });

  await test.step('but not…', async () => {
    await sentence(owner).getByRole('button', { name: 'but not…' }).click();
    await owner.getByRole('menuitem', { name: 'these people' }).click();
    await editor(owner).getByLabel('For whom').fill('customers with any');
    await owner.getByRole('option', { name: 'customers with any of the roles' }).click();
    await editor(owner).getByLabel('Roles').fill('staff');
    await owner.getByRole('option', { name: /^staff/ }).click();
    await owner.keyboard.press('Escape');
    await owner.keyboard.press('Escape');
    await expect(sentence(owner)).toContainText(/where none of these is true\s*for customers with the role staff/);
  });
});

test('what a rule can say is changed piece by piece, with its words as shoppers will see them', async ({ owner }) => {
  await newRule(owner, 'Take pre-orders when a variant runs out');

  await addClause(owner, 'a cap on the units reserved');
  await editor(owner).getByLabel('At most, units').fill('40');
  await owner.keyboard.press('Escape');
  await expect(sentence(owner)).toContainText(
    'at most 40 units of a variant, then show “All of these are reserved.” (+ fr)',
  );
  await phrase(owner, 'then show “All of these are reserved.” (+ fr)').click();
  await editor(owner).getByLabel('Show instead, French').fill('');
  await editor(owner).getByLabel('Show instead, English').fill('All reserved');
  await owner.keyboard.press('Escape');

  await phrase(owner, '“Pre-order”').click();
  await editor(owner).getByLabel('Label, French').fill('Réserver dès maintenant pour l’automne prochain');
  const small = editor(owner).getByRole('figure').filter({ hasText: 'on a card, small screen' });
  await expect(small).toContainText('Réserver dès maintenant pour l’automne prochain');
  await owner.keyboard.press('Escape');

  await addClause(owner, 'a note');
  await editor(owner).getByLabel('Text, English').fill('**{product.title}**, [soon](/soon)');
  // Of goods that the rule speaks of.
  await expect(editor(owner).getByText('Hosta ‘Big Umbrella’')).toHaveCSS('font-weight', '700');
  await expect(editor(owner).getByText('soon', { exact: true })).not.toHaveAttribute('href');
  await editor(owner).getByLabel('Text, English').fill('{moon.phase}');
  await expect(editor(owner)).toContainText('only these placeholders');
  await owner.keyboard.press('Escape');

  await addClause(owner, 'beside the shop’s button');
  await addClause(owner, 'ignore the rules below');
  await expect(sentence(owner)).toContainText(
    'For products in variants that are on backorder: beside the button, take pre-orders, labelled “Pre-order” (+ fr), at most 40 units of a variant, then show “All reserved”, shipping within 21 days; below the control, say “product, soon”; ignore the rules below.',
  );
  await phrase(owner, 'at most 40 units of a variant').click();
  await editor(owner).getByRole('button', { name: 'Remove' }).click();
  await expect(sentence(owner)).not.toContainText('All reserved');
  await owner.getByRole('button', { name: 'Undo (Ctrl Z)' }).click();
  await expect(sentence(owner)).toContainText('then show “All reserved”');
});

test('a rule that looks at an address is offered only what may hang on one', async ({ owner }) => {
  await newRule(owner, 'Start from scratch');
  await addClause(owner, 'when, or where');
  await editor(owner).getByLabel('When, or where').fill('only on the page');
  await owner.getByRole('option', { name: 'only on the page', exact: true }).click();
  await editor(owner).getByLabel('Path').fill('/range/plants');
  await owner.keyboard.press('Escape');
  await sentence(owner).getByRole('button', { name: 'and…' }).click();
  await expect(owner.getByRole('menuitem', { name: 'whether it is seen' })).toBeVisible();
  await expect(owner.getByRole('menuitem', { name: 'the price' })).toHaveCount(0);
});

for (const { locale, order } of [
  { locale: 'en-US', order: ['Month', 'Day', 'Year', 'Hours', 'Minutes'] },
  { locale: 'pt-PT', order: ['Day', 'Month', 'Year', 'Hours', 'Minutes'] },
])
  test.describe(`an owner whose browser speaks ${locale}, far from the shop`, () => {
    test.use({ locale, timezoneId: 'Pacific/Kiritimati' });

    test('dates are in their order and in the shop’s zone; Escape closes one thing at a time', async ({ owner }) => {
      await owner.getByRole('button', { name: 'Looking at: now' }).click();
      const field = owner.getByRole('group', { name: 'A moment, Europe/Lisbon time' });
      const parts = field.getByRole('spinbutton');
      await expect(parts.first()).toBeVisible();
      expect(await parts.evaluateAll((all) => all.map((part) => part.getAttribute('aria-label')))).toEqual(order);
      const year = dayAhead(800).slice(0, 4);
      await enterDate(owner, 'A moment, Europe/Lisbon time', `${year}-03-07T18:45`);
      await expect(field).toContainText('Mar');
      await expect(owner).toHaveURL(new RegExp(`at=${year}-03-07T18%3A45`));

      await field.getByRole('button', { name: /^Choose date/ }).click();
      const calendar = owner.getByRole('dialog', { name: 'A moment, Europe/Lisbon time' });
      await calendar.getByRole('gridcell', { name: '9', exact: true }).click();
      await calendar.getByRole('option', { name: '8 hours', exact: true }).click();
      await expect(owner).toHaveURL(new RegExp(`at=${year}-03-09T08%3A45`));
      await owner.keyboard.press('Escape');
      await expect(calendar).toBeHidden();
      await expect(field).toBeVisible();
      await owner.keyboard.press('Escape');
      await expect(field).toBeHidden();
      await expect(owner.getByRole('button', { name: `Looking at: 9 Mar ${year} 08:45` })).toBeVisible();
    });
  });
