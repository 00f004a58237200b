import type { Page } from '@playwright/test';
import { dayAhead, written } from '../support/dates.ts';
import {
  editor,
  enterDate,
  expect,
  newRule,
  phrase,
  readingTest,
  saved,
  sentence,
  signIn,
  test,
} from '../support/stage.ts';

const order = (page: Page) => page.getByRole('region', { name: 'Running order' }).getByRole('listitem');
const names = async (page: Page) =>
  (await order(page).getByRole('button').allInnerTexts()).map((text) => text.split('\n')[0]);

test('rules are reordered, switched off, duplicated and deleted, and every step is undone', async ({ owner }) => {
  const first = ['Frost closure', 'Society seed list', 'Snowdrops, members first'];
  expect((await names(owner)).slice(0, 3)).toEqual(first);

  await test.step('moved by keyboard', async () => {
    await order(owner)
      .getByRole('button', { name: /^Society seed list/ })
      .click();
    await expect(owner.getByLabel('Rule’s name')).toHaveValue('Society seed list');
    await owner.keyboard.press('Alt+ArrowUp');
    expect((await names(owner)).slice(0, 2)).toEqual(['Society seed list', 'Frost closure']);
    await owner.keyboard.press('Control+z');
    expect((await names(owner)).slice(0, 2)).toEqual(['Frost closure', 'Society seed list']);
    await owner.keyboard.press('Control+Shift+z');
    expect((await names(owner)).slice(0, 2)).toEqual(['Society seed list', 'Frost closure']);
  });

  await test.step('moved by dragging', async () => {
    const handle = order(owner).nth(0).getByTitle('Drag to move');
    const target = await order(owner).nth(2).boundingBox();
    const from = await handle.boundingBox();
    if (!target || !from) throw new Error('the rows are not there');
    await owner.mouse.move(from.x + 5, from.y + 5);
    await owner.mouse.down();
    await owner.mouse.move(from.x + 5, from.y + 40, { steps: 4 });
    await owner.mouse.move(from.x + 5, target.y + target.height / 2 + 4, { steps: 8 });
    await owner.mouse.up();
    await expect
      .poll(async () => (await names(owner)).slice(0, 3))
      .toEqual(['Frost closure', 'Snowdrops, members first', 'Society seed list']);
  });

  await test.step('switched off', async () => {
    await owner.getByLabel('Rule is on').click();
    await expect(order(owner).filter({ hasText: 'Society seed list' })).toContainText('off · changed in draft');
    await expect(owner.getByText('Decides 0 of 72 variants')).toBeVisible();
  });

  await test.step('duplicated, with a name and an id of its own', async () => {
    await owner.getByRole('button', { name: 'Duplicate this rule' }).click();
    await expect(owner.getByLabel('Rule’s name')).toHaveValue('Society seed list, again');
    await expect(owner).toHaveURL(/society-seed-list-again/);
  });

  await test.step('deleted, and brought back', async () => {
    await owner.getByRole('button', { name: 'Delete this rule' }).click();
    await expect(order(owner).filter({ hasText: 'Society seed list, again' })).toHaveCount(0);
    await owner.getByRole('button', { name: 'Undo (Ctrl Z)' }).click();
    await expect(order(owner).filter({ hasText: 'Society seed list, again' })).toHaveCount(1);
  });

  await test.step('and all of it is there after a reload', async () => {
    await saved(owner);
    const before = await names(owner);
    await owner.reload();
    await expect(order(owner).first()).toBeVisible();
    expect(await names(owner)).toEqual(before);
  });
});

test('goods, stock, time, listing, price and express pay are changed in place', async ({ owner }) => {
  await newRule(owner, 'Show without selling');

  await phrase(owner, 'choose products').click();
  await editor(owner).getByLabel('Which goods').click();
  await owner.getByRole('option', { name: 'in a category and all below' }).click();
  await editor(owner).getByLabel('Categories').fill('tubers');
  await owner.getByRole('option', { name: /› Tubers ?\d/ }).click();
  await owner.keyboard.press('Escape');
  await owner.keyboard.press('Escape');

  const and = async (clause: string) => {
    await sentence(owner).getByRole('button', { name: 'and…' }).click();
    await owner.getByRole('menuitem', { name: clause }).click();
  };
  await and('which goods');
  await editor(owner).getByLabel('Which goods').click();
  await owner.getByRole('option', { name: 'variants with stock below' }).click();
  await editor(owner).getByLabel('Units').fill('13');
  await owner.keyboard.press('Escape');

  const [from, until, later] = [dayAhead(-400), dayAhead(500), dayAhead(900)];
  await and('when, or where');
  await enterDate(editor(owner), 'From, Europe/Lisbon time', `${from}T09:00`);
  await enterDate(editor(owner), 'Until', `${until}T00:00`);
  await owner.keyboard.press('Escape');

  await and('something else on listings');
  await editor(owner).getByLabel('On listings, English').fill('Later');
  await owner.keyboard.press('Escape');

  await phrase(owner, 'hide the price').click();
  await editor(owner).getByLabel('Show instead, English').fill('Ask us');
  await owner.keyboard.press('Escape');

  await and('express pay');
  await editor(owner).getByRole('radio', { name: 'Shown' }).click();
  await owner.keyboard.press('Escape');

  await expect(sentence(owner)).toContainText(
    `For products in Plants › Bulbs and tubers › Tubers and all below, in variants with fewer than 13 left, from ${written(from, 'long')}, 09:00 until ${written(until, 'long')}: show “Not sold here” (“Later” on listings) instead of the button; show “Ask us” instead of the price; show express pay.`,
  );
  await saved(owner);

  await test.step('the proof shows the listing too', async () => {
    await owner.getByRole('button', { name: 'Listing', exact: true }).click();
    await expect(owner.getByRole('button', { name: /^Dahlia ‘Copper Kettle’, Guest: Later, changed/ })).toBeVisible();
    await expect(owner).toHaveURL(/surface=listing/);
  });

  await test.step('another moment changes every preview', async () => {
    await owner.getByRole('button', { name: 'Looking at: now' }).click();
    await enterDate(owner, 'A moment, Europe/Lisbon time', `${later}T12:00`);
    await owner.keyboard.press('Escape');
    await expect(owner.getByRole('button', { name: `Looking at: ${written(later)} 12:00` })).toBeVisible();
    await expect(owner.getByText('Decides 0 of 46 products')).toBeVisible();
  });

  await test.step('a phrase is taken out again', async () => {
    await phrase(owner, new RegExp(`^from ${written(from, 'long')}`)).click();
    await editor(owner).getByRole('button', { name: 'Remove' }).click();
    await expect(sentence(owner)).not.toContainText(written(from, 'long'));
    await expect(owner.getByText(/Decides [1-9]\d* of 46 products/)).toBeVisible();
  });
});

test('a rule is made, proved and asked about by keyboard alone', async ({ owner }) => {
  const press = async (...keys: string[]) => {
    for (const key of keys) await owner.keyboard.press(key);
  };
  await owner.getByRole('button', { name: 'New rule' }).focus();
  await press('Enter');
  await expect(owner.getByRole('menuitem', { name: 'Pause the shop' })).toBeVisible();
  await owner.keyboard.type('Pause');
  await press('Enter');
  await expect(sentence(owner)).toContainText(
    'For everything: show “We are away. Back soon.” instead of the button; close the cart; close the checkout.',
  );

  await phrase(owner, '“We are away. Back soon.”').focus();
  await press('Enter');
  await expect(editor(owner).getByLabel('Text, English')).toBeFocused();
  await press('Control+a');
  await owner.keyboard.type('Back after the frost');
  await press('Escape');
  await expect(phrase(owner, '“Back after the frost”')).toBeFocused();

  const cell = owner.getByRole('button', { name: /Guest: Back after the frost, changed in the draft/ }).first();
  await cell.focus();
  await press('Enter');
  await expect(owner.getByRole('dialog', { name: 'Why' })).toBeFocused();
  await press('Escape');
  await expect(cell).toBeFocused();
  await press('?');
  await expect(owner.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await press('Escape', 'Control+k');
  await owner.keyboard.type('conn');
  await expect(owner.getByRole('option', { name: 'Connection' })).toBeVisible();
  await press('Enter');
  await expect(owner.getByRole('heading', { name: 'Connection' })).toBeVisible();
});

readingTest('keys typed while the palette is still loading are not lost', async ({ owner }) => {
  let release!: () => void;
  const released = new Promise<void>((resolve) => (release = resolve));
  await owner.route(/CommandPaletteDialog/, async (route) => {
    await released;
    await route.continue();
  });
  await owner.reload();
  await expect(order(owner).first()).toBeVisible();
  await owner.keyboard.press('Control+k');
  await owner.keyboard.type('conn');
  await expect(owner.getByLabel('Go to a rule, a product or a screen', { exact: true })).toHaveValue('conn');
  release();
  await owner.getByRole('option', { name: 'Connection' }).click();
  await expect(owner.getByRole('heading', { name: 'Connection' })).toBeVisible();
});

readingTest('why opens a decision into its reasons', async ({ owner }) => {
  await order(owner)
    .getByRole('button', { name: /^Society seed list/ })
    .click();
  await owner.getByRole('button', { name: /^Fern spores, mixed, Trade: Join the Frond Circle/ }).click();
  const why = owner.getByRole('dialog', { name: 'Why' });
  await expect(why.getByRole('heading')).toHaveText('Why Trade sees a sign-in prompt “Join the Frond Circle”');
  const decider = why.getByRole('listitem').filter({ hasText: 'Society seed list decides the button' }).first();
  await expect(decider).toContainText('for everyone without the role member or staff');
  await expect(decider).toContainText('trade');
  await expect(why).toContainText('Autumn bulbs, when they open is off');
  await expect(why).toContainText('Express pay is hidden: Society seed list.');
  // The address holds it, so that it can be linked and reloaded.
  await owner.reload();
  await expect(owner.getByRole('dialog', { name: 'Why' })).toBeVisible();
});

test('an unfinished rule says so, and holds up publishing until it is finished', async ({ owner }) => {
  await newRule(owner, 'Start from scratch');
  await saved(owner);
  await owner.getByRole('link', { name: /Review/ }).click();
  await expect(owner.getByRole('alert')).toContainText(
    'it names no goods, a group in it is empty, it does not say what happens',
  );
  await expect(owner.getByRole('button', { name: 'Publish edition 3' })).toBeDisabled();
  await owner.getByRole('button', { name: 'Discard these changes' }).click();
  await expect(owner.getByText('there is nothing to publish')).toBeVisible();
  await owner.getByRole('button', { name: 'Undo the last change of the draft' }).click();
  await expect(owner.getByText('New rule')).not.toHaveCount(0);
});

test('two people at once lose nothing: each hears of the other and chooses', async ({ owner, stage, browser }) => {
  const colleague = await (await browser.newContext()).newPage();
  await signIn(colleague, `${stage.understudy.url}/rules`);
  await colleague.getByLabel('Rule’s name').fill('Frost closure, theirs');
  await saved(colleague);
  await owner.getByLabel('Rule’s name').fill('Frost closure, mine');
  await expect(owner.getByRole('alert')).toContainText('Somebody else changed the draft meanwhile');
  const clash = owner.getByRole('group', { name: /^Whose Frost closure/ });
  await expect(clash).toBeVisible();
  await clash.getByRole('button', { name: 'Theirs' }).click();
  await owner.getByRole('button', { name: 'Merge both' }).click();
  await expect(owner.getByLabel('Rule’s name')).toHaveValue('Frost closure, theirs');
  await owner.getByRole('button', { name: 'Undo (Ctrl Z)' }).click();
  await expect(owner.getByLabel('Rule’s name')).toHaveValue('Frost closure, mine');
  await saved(owner);
  await colleague.context().close();
});

test('when the server is away, changes are kept and saved later', async ({ owner }) => {
  await owner.route('**/api/rulebook', (route) => route.abort());
  await owner.getByLabel('Rule’s name').fill('Kept through the storm');
  await expect(owner.getByRole('alert')).toContainText('Not saved');
  await owner.unroute('**/api/rulebook');
  await saved(owner);
  await owner.reload();
  await expect(owner.getByLabel('Rule’s name')).toHaveValue('Kept through the storm');
});
