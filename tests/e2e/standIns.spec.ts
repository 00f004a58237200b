import type { Page } from '@playwright/test';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { expect, publish, signInAtShop, test, type Stage } from '../support/stage.ts';

/** Publishes rules, each for one product, as a file that an owner brings in. */
async function bringIn(owner: Page, outcomes: Readonly<Record<string, Outcome>>): Promise<void> {
  const rules = Object.entries(outcomes).map(([id, then]): Rule => ({
    id,
    on: true,
    when: { fact: 'product.id', op: 'in', value: [id] },
    then,
  }));
  const book = JSON.stringify({ format: 'understudy-rulebook', version: 1, rules });
  await owner.getByRole('link', { name: 'As text' }).click();
  await owner
    .locator('input[type=file]')
    .setInputFiles({ name: 'rules.json', mimeType: 'application/json', buffer: Buffer.from(book) });
  await expect(owner.getByText('saved in the draft')).toBeVisible();
  await publish(owner);
}

const pageOf = ({ shop }: Stage, path: string) => shop.url + path;

test('stand-ins beside the button, their colours, notes in their places, prices and CSS classes', async ({
  owner,
  shopper,
  stage,
}) => {
  await bringIn(owner, {
    'last-bus': {
      control: { kind: 'quote', label: 'Ask for a hundred', beside: true, look: { fill: '#16323a', ink: '#f6f3ec' } },
      notes: [
        { place: 'aboveControl', text: 'Above' },
        { place: 'belowControl', text: 'Below, **first**' },
        { place: 'belowControl', text: 'Below, second' },
        { place: 'belowPrice', text: 'By the [price](/terms)' },
        { place: 'badge', text: 'A badge <b>as written</b>' },
      ],
      style: ['is-new', 'is-warm'],
    },
    'ash-dibber': { price: { adjust: { percent: -25 } } },
    'long-row': { price: { show: true, suffix: 'a packet' } },
    'pin-cushion': { control: { kind: 'link', href: 'https://quillfern.example/x', newTab: true, label: 'Elsewhere' } },
  });

  await test.step('beside: both are there, and both work', async () => {
    await shopper.goto(pageOf(stage, '/plants/last-bus'));
    const link = shopper.getByRole('link', { name: 'Ask for a hundred' });
    await expect(link).toHaveAttribute('href', /\/ask\/quote\?path=%2Fplants%2Flast-bus&variant=last-bus-9-cm-pot$/);
    await expect(link).toHaveCSS('background-color', 'rgb(22, 50, 58)');
    await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeVisible();
    await expect(shopper.getByRole('button', { name: 'Pay swiftly' })).toBeVisible();
    await shopper.getByLabel('Size').selectOption('2 litre pot');
    await expect(link).toHaveAttribute('href', /variant=last-bus-2-litre-pot$/);
  });

  await test.step('notes stand in their places, in order, and say markup as it is written', async () => {
    const main = shopper.getByRole('main');
    const order = await main.evaluate((area) => {
      const parts = '[data-place], .cost, .put-in-basket';
      return [...area.querySelectorAll(parts)].map((part) => part.getAttribute('data-place') ?? part.className);
    });
    expect(order).toEqual([
      'badge',
      'cost',
      'belowPrice',
      'aboveControl',
      'put-in-basket',
      'put-in-basket',
      'belowControl',
      'belowControl',
    ]);
    await expect(main.getByText('A badge <b>as written</b>')).toBeVisible();
    await expect(main.getByRole('link', { name: 'price' })).toHaveAttribute('href', '/terms');
    await expect(main).toHaveClass(/\bis-new is-warm\b/);
  });

  await test.step('a page that takes notes away gets them back, and no more of them', async () => {
    await shopper.evaluate(() => {
      document.querySelector('[data-place=belowControl]')?.remove();
    });
    await expect(shopper.locator('[data-place=belowControl]')).toHaveCount(2);
    await expect(shopper.locator('[data-place]')).toHaveCount(5);
  });

  await test.step('prices of the rule’s own', async () => {
    await shopper.goto(pageOf(stage, '/tools/ash-dibber'));
    await expect(shopper.getByText('€12.00')).toBeVisible();
    await expect(shopper.locator('s')).toHaveText('€16.00');
    await shopper.goto(pageOf(stage, '/plants/long-row'));
    await expect(shopper.getByText('€2.60 a packet')).toBeVisible();
    await expect(shopper.getByText('€2.60', { exact: true })).toBeHidden();
  });

  await test.step('a link in a tab of its own', async () => {
    await shopper.goto(pageOf(stage, '/plants/pin-cushion'));
    const link = shopper.getByRole('link', { name: 'Elsewhere' });
    await expect(link).toHaveAttribute('target', '_blank');
    await expect(link).toHaveAttribute('rel', 'noopener');
  });
});

test('what is kept off listings, what has no page, and what a shopper may not take', async ({
  owner,
  shopper,
  stage,
}) => {
  await bringIn(owner, {
    'ash-dibber': { visibility: { state: 'offListings' } },
    'pin-cushion': { visibility: { state: 'blocked', redirectTo: '/range/plants' } },
    'last-bus': { limits: { min: 2, max: 6, step: 2 } },
    'harts-tongue': { control: { kind: 'preorder', cap: { units: 3, per: 'variant' } } },
    'surplus-kale': { control: { kind: 'ownPrice', min: 500 } },
  });
  const put = async (variant: string, quantity: number) => {
    const answer = await shopper.request.post(pageOf(stage, '/basket/add'), {
      form: { variant, quantity: String(quantity) },
      maxRedirects: 0,
    });
    return answer.status();
  };

  await test.step('off listings: no card, but a page', async () => {
    await shopper.goto(pageOf(stage, '/range/tools'));
    await expect(shopper.getByText('Hand fork, short')).toBeVisible();
    await expect(shopper.getByText('Dibber, ash')).toBeHidden();
    await shopper.goto(pageOf(stage, '/tools/ash-dibber'));
    await expect(shopper.getByRole('button', { name: 'Put in basket' })).toBeVisible();
  });
  await test.step('blocked: the page leads elsewhere, and the guard refuses', async () => {
    await shopper.goto(pageOf(stage, '/plants/pin-cushion'));
    await expect(shopper).toHaveURL(/\/range\/plants$/);
    expect(await put('pin-cushion-9-cm-pot', 1)).toBe(409);
  });
  await test.step('limits, caps and least prices hold on the shop’s server', async () => {
    expect([await put('last-bus-9-cm-pot', 1), await put('last-bus-9-cm-pot', 3)]).toEqual([409, 409]);
    expect(await put('last-bus-9-cm-pot', 4)).toBe(303);
    expect([await put('harts-tongue-9-cm-pot', 4), await put('harts-tongue-9-cm-pot', 3)]).toEqual([409, 303]);
    // Nobody offered a price of their own, so the least is what it is sold at.
    expect(await put('surplus-kale-pot-of-6', 1)).toBe(303);
    await shopper.goto(pageOf(stage, '/basket'));
    await expect(shopper.getByRole('row', { name: /Surplus kale/ })).toContainText('€5.00');
  });
  await test.step('for whoever is signed in as well', async () => {
    await signInAtShop(shopper, stage.shop.url, 'Hugo Vale');
    expect(await put('last-bus-9-cm-pot', 5)).toBe(409);
  });
});
