import { violationsIn } from '../support/axe.ts';
import type { Page } from '@playwright/test';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { expect, payByCard, publishRules, send, signInAtShop, test, type Stage } from '../support/stage.ts';
import { DRESSINGS } from '../support/programs.ts';
import { partOf } from '../support/sampling.ts';

const of = (product: string, then: Rule['then'], more: Rule['when'][] = []): Rule => ({
  id: product,
  on: true,
  when: { all: [{ fact: 'product.id', op: 'in', value: [product] }, ...more] },
  then,
});
const BUYERS_PRICE = of('surplus-kale', {
  control: { kind: 'ownPrice', min: 150, suggested: 300, label: 'Name a price' },
  afterOrder: { text: 'Plant it by **Sunday**.' },
});
const SEVERAL = of('jute-twine', { control: { kind: 'severalAtOnce', label: 'Take several' }, limits: { max: 4 } });
const dialogOf = (page: Page) => page.getByRole('dialog').filter({ has: page.getByRole('heading') });

for (const dressing of partOf(DRESSINGS, 3)) {
  test.describe(dressing, () => {
    test.use({ dressing });

    test(`a price that the shopper names, and several sizes at once, dressed in ${dressing}`, async ({
      shopper,
      stage,
    }) => {
      await publishRules(stage, [BUYERS_PRICE, SEVERAL]);
      await test.step('the price goes through cart and checkout; less than the least is not taken', async () => {
        await shopper.goto(`${stage.shop.url}/plants/surplus-kale`);
        await shopper.getByRole('link', { name: 'Name a price' }).click();
        const dialog = dialogOf(shopper);
        const price = dialog.getByLabel(/^Your price for one/);
        await expect(price).toHaveValue('3.00');
        // In shadow roots, axe itself adds styles that the shop's policy forbids.
        if (dressing !== 'elements') {
          expect(await violationsIn(shopper, { within: '[data-understudy-dialog]' })).toEqual([]);
        }
        await price.fill('1.00');
        await dialog.getByRole('button', { name: 'Add to cart' }).click();
        await expect(dialog).toBeVisible();
        await price.fill('4.25');
        await price.press('Enter');
        await expect(shopper.getByRole('row', { name: /Surplus kale/ })).toContainText('€4.25');
        await shopper.getByRole('link', { name: 'To checkout' }).click();
        await payByCard(shopper);
        await expect(shopper.getByText('Plant it by Sunday.')).toBeVisible();
        await expect(shopper.getByRole('row', { name: /Surplus kale/ })).toContainText('€4.25');
      });
      await test.step('each size that was chosen is in the basket; one that is refused is named', async () => {
        await shopper.goto(`${stage.shop.url}/tools/jute-twine`);
        await shopper.getByRole('link', { name: 'Take several' }).click();
        const dialog = dialogOf(shopper);
        await dialog.getByLabel('Units: green').fill('2');
        await dialog.getByLabel('Units: natural').fill('9');
        await dialog.getByRole('button', { name: 'Add to cart' }).click();
        await expect(dialog.getByRole('status')).toContainText('natural: could not be added.');
        await dialog.getByLabel('Units: natural').fill('3');
        await dialog.getByRole('button', { name: 'Add to cart' }).click();
        await expect(shopper.getByRole('row', { name: /Jute twine green/ })).toContainText('2 ×');
        await expect(shopper.getByRole('row', { name: /Jute twine natural/ })).toContainText('3 ×');
      });
    });
  });
}

const formPage = (stage: Stage, page: Page) => page.goto(`${stage.understudy.url}/forms?form=contact`);

test('a contact form on the page itself, made by the owner, in the place that the rule names', async ({
  owner,
  shopper,
  stage,
}) => {
  await test.step('the owner makes the form', async () => {
    await formPage(stage, owner);
    await owner.getByRole('button', { name: 'Add a field' }).click();
    const added = owner.getByRole('group', { name: '2. New field' });
    await added.getByLabel('Label, English').fill('How many');
    const changed = owner.getByRole('group', { name: '2. How many' });
    await changed.getByLabel('Type').click();
    await owner.getByRole('option', { name: 'a number' }).click();
    await changed.getByRole('checkbox', { name: 'Required' }).check();
    await changed.getByRole('button', { name: 'Move “How many” up' }).click();
    await owner.getByLabel('Message, English').fill('We write **tomorrow**.');
    await expect(owner.getByRole('complementary', { name: 'Preview' })).toContainText('How many');
    await owner.getByRole('button', { name: 'Save the form' }).click();
    await expect(owner.getByText('Saved. Shoppers see it at once.')).toBeVisible();
  });
  const enquiry = { kind: 'enquiry', form: 'contact', open: 'inline', place: 'belowPrice' } as const;
  await publishRules(stage, [of('pin-cushion', { control: enquiry })]);

  await test.step('the shopper fills it in where it stands', async () => {
    await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
    const form = shopper.locator('[data-place=belowPrice]');
    await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeHidden();
    await form.getByLabel('How many').fill('12');
    await form.getByLabel('Your question').fill('Are they in flower?');
    await form.getByLabel('E-mail').fill('wren.hollis@quillfern.example');
    await form.getByRole('button', { name: 'Send' }).click();
    await expect(form.getByRole('status')).toHaveText('We write tomorrow.');
  });
  const { enquiries } = (await send(stage, 'GET', '/api/enquiries?search=wren.hollis')) as {
    enquiries: { answers: { label: string; value: string }[] }[];
  };
  expect(enquiries[0]?.answers).toEqual([
    { label: 'How many', value: '12' },
    { label: 'Your question', value: 'Are they in flower?' },
  ]);
});

test('another page of the shop is shown where its form should stand', async ({ shopper, stage }) => {
  const control = { kind: 'enquiry', form: { page: '/collection' }, open: 'inline' } as const;
  await publishRules(stage, [of('pin-cushion', { control })]);
  await shopper.goto(`${stage.shop.url}/plants/pin-cushion`);
  const page = shopper.locator('[data-place=belowControl] iframe').contentFrame();
  await expect(page.getByRole('heading', { name: 'Arrange collection' })).toBeVisible();
});

test('whoever is asked to sign in comes back to the product; a membership that is bought lets them buy', async ({
  shopper,
  stage,
}) => {
  const MEMBERS_ONLY: Rule['when'] = { fact: 'visitor.roles', op: 'hasNone', value: ['member'] };
  const control = { kind: 'signIn', href: '/sign-in?back={product.path}', label: 'Members buy' } as const;
  await publishRules(stage, [of('pin-cushion', { control }, [MEMBERS_ONLY])]);
  const product = `${stage.shop.url}/plants/pin-cushion`;

  await shopper.goto(product);
  await shopper.getByRole('link', { name: 'Members buy' }).click();
  await shopper.getByRole('button', { name: /^Bram Oakes/ }).click();
  await expect(shopper).toHaveURL(product);
  await shopper.getByRole('link', { name: 'Members buy' }).click();
  await shopper.getByRole('link', { name: /Join the Frond Circle/ }).click();

  await test.step('a card that is refused buys nothing', async () => {
    await shopper.getByRole('button', { name: /^Join for a year/ }).click();
    await shopper.getByRole('button', { name: 'Refuse the card' }).click();
    await expect(shopper.getByText('The card was refused.')).toBeVisible();
  });
  await shopper.getByRole('button', { name: /^Join for a year/ }).click();
  await shopper.getByRole('button', { name: /^Pay / }).click();
  await expect(shopper.getByText('Welcome to the Circle.')).toBeVisible();
  await expect(shopper).toHaveURL(product);
  await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeVisible();
  await signInAtShop(shopper, stage.shop.url, 'Kit Sorrel');
  await shopper.goto(product);
  await expect(shopper.getByRole('link', { name: 'Members buy' })).toBeVisible();
});
