import { violationsIn } from '../support/axe.ts';
import { chooseTag, expect, openLetter, sentence, test } from '../support/stage.ts';

test('an owner lets a grower decide about their own plants, who does, is asked about, and is outranked', async ({
  owner,
  shopper,
  browser,
  stage,
}) => {
  const grower = await (await browser.newContext()).newPage();
  const inShop = async (path: string) => {
    await shopper.goto(`${stage.shop.url}/plants/${path}`);
  };

  await test.step('the owner adds the grower, gives sellers their place, and invites somebody', async () => {
    await owner.getByRole('link', { name: 'Sellers', exact: true }).click();
    await owner
      .getByRole('listitem')
      .filter({ hasText: 'Tidewater Ferns' })
      .getByRole('button', { name: 'Add as a seller' })
      .click();
    await expect(owner.getByRole('row', { name: /Tidewater Ferns/ })).toContainText('nobody invited');
    await owner.getByRole('button', { name: 'Add to the draft' }).click();
    await owner.getByRole('link', { name: /Review/ }).click();
    await expect(owner.getByText('Here the sellers decide about their own products.')).toBeVisible();
    await owner.getByRole('button', { name: /^Publish edition/ }).click();
    await expect(owner.getByRole('heading', { name: 'Editions' })).toBeVisible();
    await owner.getByRole('link', { name: 'Sellers', exact: true }).click();
    await owner.getByRole('button', { name: 'Tidewater Ferns' }).click();
    const dialog = owner.getByRole('dialog', { name: 'Tidewater Ferns' });
    await dialog.getByLabel('Name', { exact: true }).fill('Ida Marsh');
    await dialog.getByLabel('E-mail').fill('ida@quillfern.example');
    await dialog.getByRole('button', { name: 'Invite' }).click();
    await expect(dialog.getByText('The invitation is on its way.')).toBeVisible();
    expect(await violationsIn(owner)).toEqual([]);
    await dialog.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('the grower comes in by the letter, and makes a rule about all that is tagged', async () => {
    await openLetter(grower, stage, 'ida@quillfern.example', 'invites you to Quillfern Nursery');
    await grower.getByRole('link', { name: 'Choose a password' }).click();
    await grower.getByLabel('A password').fill('rook-and-lantern-9');
    await grower.getByRole('button', { name: 'Sign in with it' }).click();
    await expect(grower.getByText('Your 2 products are sold as the shop has it.')).toBeVisible();
    await grower.getByRole('button', { name: 'New rule' }).click();
    await expect(grower.getByRole('menuitem', { name: /Sell to members only/ })).toBeHidden();
    await grower.getByRole('menuitem', { name: /Another label on the button/ }).click();
    await chooseTag(grower, 'native');
    await grower.keyboard.press('Escape');
    await expect(sentence(grower)).toContainText('For products tagged native: ');
    await expect(grower.getByText('About 2 of your 2 products')).toBeVisible();
    await expect(grower.getByRole('region', { name: 'Proof' })).toContainText('by this rule · not live yet');
    expect(await violationsIn(grower)).toEqual([]);
    await grower.getByRole('button', { name: 'Ask to publish' }).click();
    await expect(grower.getByText(/awaits the shop’s approval|needs the shop’s approval/).first()).toBeVisible();
  });

  await test.step('it is live when the owner says yes, on their plants alone', async () => {
    await openLetter(shopper, stage, 'olive@quillfern.example', 'Tidewater Ferns asks to publish rules');
    await expect(shopper.getByRole('link', { name: 'Look at the change' })).toBeVisible();
    await inShop('harts-tongue');
    await expect(shopper.getByText('Order for collection')).toBeHidden();
    await owner.reload();
    const asked = owner.getByRole('article', { name: 'What Tidewater Ferns asks' });
    await expect(asked).toContainText('For products tagged native');
    await asked.getByRole('button', { name: 'Approve and publish' }).click();
    await expect(asked).toBeHidden();
    await openLetter(shopper, stage, 'ida@quillfern.example', 'Your rules were published');
    await inShop('harts-tongue');
    await expect(shopper.getByText('Order for collection')).toBeVisible();
    await inShop('sweet-pea-plugs');
    await expect(shopper.getByText('Order for collection')).toBeHidden();
  });

  await test.step('the owner sets a publication back, of which the grower reads', async () => {
    await grower.reload();
    await grower.getByLabel('Rule is on').uncheck();
    await grower.getByRole('button', { name: 'Ask to publish' }).click();
    await expect(grower.getByText(/awaits the shop’s approval|needs the shop’s approval/).first()).toBeVisible();
    await owner.goto(`${stage.understudy.url}/sellers`);
    const asked = owner.getByRole('article', { name: 'What Tidewater Ferns asks' });
    await asked.getByRole('button', { name: 'Approve and publish' }).click();
    await expect(asked).toBeHidden();
    await inShop('harts-tongue');
    await expect(shopper.getByText('Order for collection')).toBeHidden();
    await owner.getByRole('button', { name: 'Tidewater Ferns' }).click();
    const publications = owner.getByRole('region', { name: 'Publications' });
    await expect(publications.getByRole('listitem').first()).toContainText('live');
    await publications.getByRole('button', { name: /^Set back to the publication of/ }).click();
    await expect(publications).toContainText('For products tagged native');
    await publications.getByLabel('Reason, which the seller reads').fill('The ferns are ready.');
    await publications.getByRole('button', { name: 'Make it live again' }).click();
    await expect(publications.getByRole('listitem')).toHaveCount(3);
    await openLetter(shopper, stage, 'ida@quillfern.example', 'Your rules were set back');
    await expect(shopper.getByRole('article')).toContainText('The ferns are ready.');
    await inShop('harts-tongue');
    await expect(shopper.getByText('Order for collection')).toBeVisible();
    await owner.getByRole('button', { name: 'Close' }).click();
    // Their draft is as they left it.
    await grower.getByLabel('Rule is on').check();
  });

  await test.step('the owner sees whose rule decides, and outranks it', async () => {
    await owner.goto(`${stage.understudy.url}/catalog/harts-tongue`);
    await expect(owner.getByRole('link', { name: 'Another label, of Tidewater Ferns' })).toBeVisible();
    await owner.goto(`${stage.understudy.url}/sellers`);
    await owner.getByRole('button', { name: 'Change it' }).click();
    await owner.getByLabel('The shop’s own button').uncheck();
    await owner.getByRole('button', { name: 'Save' }).click();
    await expect(owner.getByRole('button', { name: 'Change it' })).toBeVisible();
    await inShop('harts-tongue');
    await expect(shopper.getByText('Order for collection')).toBeHidden();
  });

  await test.step('the grower reads which rule has no effect, and why it cannot be published', async () => {
    await grower.goto(`${stage.understudy.url}/rules`);
    const status = grower.getByRole('region', { name: 'What is live of your rules' });
    await expect(status).toContainText(
      'The shop no longer lets you decide this, so it has no effect. “Another label”: the button.',
    );
    await grower.getByRole('button', { name: 'New rule' }).click();
    await grower.getByRole('menuitem', { name: /Take pre-orders by tag/ }).click();
    await chooseTag(grower, 'native');
    await grower.keyboard.press('Escape');
    await status.getByRole('button', { name: 'Ask to publish' }).click();
    await expect(status.getByRole('alert')).toContainText('The shop does not let you decide this.');
    await expect(status.getByRole('alert')).not.toContainText('/rules/');
  });

  await test.step('a seller’s address leads nowhere else', async () => {
    await grower.goto(`${stage.understudy.url}/people`);
    await expect(grower.getByRole('heading', { name: 'Running order' })).toBeVisible();
    await expect(grower.getByRole('link', { name: 'People' })).toBeHidden();
    expect((await grower.request.get(`${stage.understudy.url}/api/people`)).status()).toBe(403);
  });
  await grower.context().close();
});
