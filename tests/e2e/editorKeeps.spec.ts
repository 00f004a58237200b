import { editor, expect, newRule, phrase, publish, saved, send, sentence, test } from '../support/stage.ts';

test('the editor keeps what was chosen, rule after rule', async ({ owner }) => {
  await test.step('a popover stays by its phrase, covers nothing of its own, and closes at one Escape', async () => {
    await newRule(owner, 'Take pre-orders by tag');
    // Below the closures that head the order: it opens nothing that they close.
    await expect(owner.getByText('rule 4 of 19')).toBeVisible();
    await phrase(owner, 'choose products').click();
    const before = await editor(owner).boundingBox();
    const tags = editor(owner).getByRole('combobox', { name: 'Tags' });
    await tags.fill('cut');
    await tags.press('Enter');
    await expect(sentence(owner)).toContainText('tagged “cut flower”');
    const after = await editor(owner).boundingBox();
    expect([after?.x, after?.y]).toEqual([before?.x, before?.y]);
    await expect(editor(owner).getByRole('option').first()).toBeVisible();
    const remove = editor(owner).getByRole('button', { name: 'Remove' });
    expect(
      await remove.evaluate((button) => {
        const { x, y, width, height } = button.getBoundingClientRect();
        return button.contains(document.elementFromPoint(x + width / 2, y + height / 2));
      }),
    ).toBe(true);
    await owner.keyboard.press('Escape');
    await expect(editor(owner)).toBeHidden();
    await expect(phrase(owner, 'tagged “cut flower”')).toBeFocused();
  });

  await test.step('an exception stays what it is while more is chosen for it', async () => {
    await newRule(owner, 'Pause the shop');
    const except = async (what: string) => {
      await sentence(owner).getByRole('button', { name: 'but not…' }).click();
      await owner.getByRole('menuitem', { name: what }).click();
    };
    const ask = async (question: string) => {
      await editor(owner).getByRole('combobox').first().click();
      await owner.getByRole('option', { name: question, exact: true }).click();
    };

    await except('these people');
    await ask('customers with any of the roles');
    const roles = editor(owner).getByRole('combobox', { name: 'Roles' });
    await roles.fill('staff');
    await roles.press('Enter');
    await expect(sentence(owner)).toContainText('for customers with the role staff');
    await roles.fill('trade');
    await roles.press('Enter');
    await expect(sentence(owner)).toContainText('for customers with the role staff or trade');
    await owner.keyboard.press('Escape');

    await except('at these times, or there');
    await ask('on days of the week');
    await expect(sentence(owner)).toContainText('on Saturdays and Sundays');
    await editor(owner).getByRole('button', { name: 'Mon' }).click();
    await expect(sentence(owner)).toContainText('Mondays');
    await owner.keyboard.press('Escape');
    await saved(owner);
    await owner.reload();
    await expect(sentence(owner)).toContainText('for customers with the role staff or trade');
    await expect(sentence(owner)).toContainText('Mondays');
  });

  await test.step('a cap says what happens at its end, and its default sells nothing more', async () => {
    await newRule(owner, 'Take pre-orders when a variant runs out');
    await sentence(owner).getByRole('button', { name: 'and…' }).click();
    await owner.getByRole('menuitem', { name: 'a cap on the units reserved' }).click();
    await editor(owner).getByLabel('At most, units').fill('40');
    await expect(sentence(owner)).toContainText('then show “All of these are reserved.”');
    await editor(owner).getByLabel('When that many are reserved').click();
    await owner.getByRole('option', { name: 'the rules below decide' }).click();
    await expect(sentence(owner)).toContainText('then let the rules below decide');
    await owner.keyboard.press('Escape');
  });

  await test.step('a stand-in’s words come back with it, and the last CSS class goes', async () => {
    await newRule(owner, 'Show without selling');
    await phrase(owner, 'show').click();
    const kinds = editor(owner).getByRole('radiogroup', { name: 'Instead of the button' });
    await kinds.getByRole('radio', { name: 'Nothing' }).click();
    await kinds.getByRole('radio', { name: 'A waitlist' }).click();
    await kinds.getByRole('radio', { name: 'A line of text' }).click();
    await expect(sentence(owner)).toContainText('“Not sold here”');
    await owner.keyboard.press('Escape');

    await sentence(owner).getByRole('button', { name: 'and…' }).click();
    await owner.getByRole('menuitem', { name: 'CSS classes for the shop’s pages' }).click();
    const names = editor(owner).getByLabel('Class names');
    await names.fill('quiet');
    await names.press('Enter');
    await expect(sentence(owner)).toContainText('add the CSS class quiet');
    await names.press('Backspace');
    await expect(sentence(owner)).not.toContainText('give it the style');
    await owner.keyboard.press('Escape');
  });

  await test.step('a rule that decides nothing says why', async () => {
    await newRule(owner, 'Another label on the button');
    await expect(owner.getByText('The rule is unfinished, so it does not apply yet.')).toBeVisible();
    await phrase(owner, 'choose products').click();
    const tags = editor(owner).getByRole('combobox', { name: 'Tags' });
    await tags.fill('no such tag');
    await tags.press('Enter');
    await owner.keyboard.press('Escape');
    await expect(owner.getByText('None of them matches this: tagged “no such tag”.')).toBeVisible();
  });
});

test('the last edit of a large draft is there when its page is left and opened again', async ({ owner, stage }) => {
  const text = 'A long line of words that stands in for many rules. '.repeat(20);
  const rules = Array.from({ length: 90 }, (_, index) => ({
    id: `rule-${index}`,
    name: `Rule ${index}`,
    on: true,
    when: { fact: 'product.tags', op: 'hasAny', value: ['rare'] },
    then: { notes: [{ place: 'belowControl', text }] },
  }));
  await send(stage, 'PUT', '/api/rulebook', { format: 'understudy-rulebook', version: 1, rules });
  await owner.goto(`${stage.understudy.url}/rules/rule-3`);
  await owner.getByLabel('Rule’s name').fill('Said at the last moment');
  await owner.goto(stage.shop.url);
  await owner.goto(`${stage.understudy.url}/rules/rule-3`);
  await expect(owner.getByLabel('Rule’s name')).toHaveValue('Said at the last moment');
  await expect(owner.getByText('rule 4 of 90 · saved')).toBeVisible();
  const { rules: kept } = (await send(stage, 'GET', '/api/rulebook')) as { rules: { name: string }[] };
  expect(kept[3]?.name).toBe('Said at the last moment');
});

test('a link leads to each product’s own page or its own address, and a pasted address of the shop is its path', async ({
  owner,
  shopper,
  stage,
}) => {
  const link = {
    id: 'books',
    name: 'Books',
    on: true,
    when: { fact: 'product.id', op: 'in', value: ['fern-book', 'last-bus'] },
    then: { control: { kind: 'link', href: '/collection', label: 'See it there' } },
  };
  const { rules, ...book } = (await send(stage, 'GET', '/api/rulebook')) as { rules: object[] };
  await send(stage, 'PUT', '/api/rulebook', { ...book, rules: [link, ...rules] });
  await owner.goto(`${stage.understudy.url}/rules/books`);
  const shopLeadsTo = async (path: string, address: string) => {
    await owner.keyboard.press('Escape');
    await saved(owner);
    await publish(owner);
    await shopper.goto(stage.shop.url + path);
    await expect(shopper.getByRole('link', { name: 'See it there' })).toHaveAttribute('href', address);
  };
  const leadsTo = async () => {
    await owner.goto(`${stage.understudy.url}/rules/books`);
    await phrase(owner, /^leading to/).click();
    return editor(owner).getByLabel('Leads to');
  };

  const field = await leadsTo();
  await editor(owner).getByRole('button', { name: 'The product’s own page' }).click();
  await expect(field).toHaveValue('{product.path}');
  await shopLeadsTo('/plants/last-bus', '/plants/last-bus');

  await leadsTo();
  await editor(owner).getByRole('button', { name: 'Its “sold-at”' }).click();
  await shopLeadsTo('/tools/fern-book', 'https://bindery.quillfern.example/fern-book');
  // Without such an address there is no dead link.
  await shopper.goto(`${stage.shop.url}/plants/last-bus`);
  await expect(shopper.getByRole('link', { name: 'See it there' })).toHaveCount(0);

  await leadsTo();
  await field.fill(`${stage.shop.url}/collection?about={product.id}#yard`);
  await field.press('Tab');
  await expect(field).toHaveValue('/collection?about={product.id}#yard');
  await shopLeadsTo('/plants/last-bus', '/collection?about=last-bus#yard');
});
