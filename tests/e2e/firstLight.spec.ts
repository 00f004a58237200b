import {
  chooseTag,
  addClause,
  editor,
  expect,
  newRule,
  phrase,
  publish,
  saved,
  sentence,
  signInAtShop,
  test,
} from '../support/stage.ts';

test('from the owner’s sentence to the shopper’s button', async ({ owner, shopper, stage }) => {
  const product = `${stage.shop.url}/plants/last-bus`;
  const control = shopper.getByRole('button', { name: 'Put in basket' });

  await test.step('before, everybody buys', async () => {
    await shopper.goto(product);
    await expect(control).toBeVisible();
    await expect(shopper.getByRole('button', { name: 'Pay swiftly' })).toBeVisible();
  });

  await test.step('the owner makes a rule by changing phrases', async () => {
    await newRule(owner, 'Start from scratch');
    await expect(sentence(owner)).toContainText('For choose products: choose what happens.');

    await chooseTag(owner, 'wildlife');

    await addClause(owner, 'for whom');
    await editor(owner).getByLabel('For whom').click();
    await owner.getByRole('option', { name: 'everyone but the roles' }).click();
    await editor(owner).getByLabel('Roles').fill('member');
    await owner.getByRole('option', { name: 'member' }).click();
    await owner.keyboard.press('Escape');
    await owner.keyboard.press('Escape');

    await phrase(owner, 'choose what happens').click();
    await editor(owner).getByRole('radio', { name: 'A sign-in prompt' }).click();
    await owner.keyboard.press('Escape');
    await phrase(owner, /Sign in to buy/).click();
    await editor(owner).getByLabel('Label, English').fill('Members first');
    await editor(owner).getByLabel('Label, French').fill('Les membres d’abord');

    // The proof follows at every keystroke, while the popover is still open.
    const guests = owner.getByRole('button', {
      name: /, Guest: Members first, changed/,
      includeHidden: true,
    });
    await expect(guests.first()).toBeVisible();
    const members = owner.getByRole('button', {
      name: /, Circle member: the shop’s own button\. Why/,
      includeHidden: true,
    });
    await expect(members.first()).toBeVisible();
    await owner.keyboard.press('Escape');
    await expect(editor(owner)).toBeHidden();

    await expect(sentence(owner)).toContainText(
      'For products tagged wildlife, for everyone without the role member: ask to sign in, labelled “Members first” (+ fr), leading to “/sign-in”.',
    );
    await owner.getByLabel('Rule’s name').fill('Members first for wildlife');
    await saved(owner);
  });

  await test.step('a draft changes nothing on the shop', async () => {
    await shopper.reload();
    await expect(control).toBeVisible();
  });

  await test.step('published, the shop shows it at once', async () => {
    await publish(owner);
    await shopper.reload();
    await expect(shopper.getByRole('link', { name: 'Members first' })).toHaveAttribute('href', '/sign-in');
    await expect(control).toBeHidden();
    await expect(shopper.getByRole('button', { name: 'Pay swiftly' })).toBeHidden();
    await shopper.goto(`${stage.shop.url}/search?q=last+bus`);
    await expect(shopper.getByRole('link', { name: 'Members first' })).toBeVisible();
  });

  await test.step('what the page would not offer, the shop’s server refuses', async () => {
    for (const address of ['/basket/add', '/swift-pay']) {
      const answer = await shopper.request.post(stage.shop.url + address, {
        form: { variant: 'last-bus-9-cm-pot', quantity: '1' },
      });
      expect(answer.status()).toBe(409);
    }
    await shopper.goto(product);
    await shopper.evaluate(() => {
      document.querySelector<HTMLFormElement>('form[action="/basket/add"]')?.submit();
    });
    await expect(shopper.getByRole('status')).toHaveText('Please sign in to buy this item.');
    await expect(shopper.getByRole('link', { name: /Basket 0/ })).toBeVisible();
  });

  await test.step('a member buys, by cart and by express', async () => {
    await signInAtShop(shopper, stage.shop.url, 'Inês Prado');
    await shopper.goto(product);
    await control.click();
    await expect(shopper.getByRole('status')).toHaveText('Added to your basket.');
    await shopper.getByRole('link', { name: 'To checkout' }).click();
    await shopper.getByLabel('Invoice').check();
    await shopper.getByRole('button', { name: 'Place order' }).click();
    await expect(shopper.getByRole('heading', { name: 'Thank you. Your order is in.' })).toBeVisible();
    await shopper.goto(product);
    await shopper.getByRole('button', { name: 'Pay swiftly' }).click();
    await expect(shopper.getByText('express')).toBeVisible();
  });

  await test.step('in the shopper’s language', async () => {
    await shopper.getByRole('link', { name: 'Keep looking' }).click();
    await shopper.getByRole('button', { name: /Sign out/ }).click();
    await shopper.goto(product);
    await shopper.getByRole('button', { name: 'Français' }).click();
    await expect(shopper.getByRole('link', { name: 'Les membres d’abord' })).toBeVisible();
  });
});

test('a cart that was right before is refused at the checkout with the reason now', async ({
  owner,
  shopper,
  stage,
}) => {
  await shopper.goto(`${stage.shop.url}/tools/ash-dibber`);
  await shopper.getByRole('button', { name: 'Put in basket' }).click();
  await shopper.getByRole('link', { name: 'To checkout' }).click();
  await newRule(owner, 'Pause the shop');
  await saved(owner);
  await publish(owner);
  const refused = await shopper.request.post(`${stage.shop.url}/checkout`, { form: { method: 'card' } });
  expect(refused.status()).toBe(409);
  expect(await refused.text()).toContain('The cart is closed at the moment.');
  await shopper.getByRole('button', { name: 'Place order' }).click();
  // The page that says so is closed as well, and leads away.
  await expect(shopper.getByRole('heading', { name: 'Everything we grow' })).toBeVisible();
});

test('an earlier edition is restored, straight to the shop', async ({ owner, shopper }) => {
  await newRule(owner, 'Pause the shop');
  await saved(owner);
  await publish(owner);
  await shopper.reload();
  await expect(shopper.getByText('We are away. Back soon.').first()).toBeVisible();

  await owner.getByRole('link', { name: /Edition 2/ }).click();
  await owner.getByRole('button', { name: 'Make live again' }).click();
  await expect(owner.getByText('Live again, as edition 4.')).toBeVisible();
  await expect(owner.getByRole('link', { name: /Live: edition 4/ })).toBeVisible();
  await shopper.reload();
  await expect(shopper.getByRole('link', { name: 'See sizes and prices' }).first()).toBeVisible();
  await expect(shopper.getByText('We are away. Back soon.')).toHaveCount(0);
});
