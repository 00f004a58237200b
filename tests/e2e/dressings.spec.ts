import type { Page } from '@playwright/test';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { expect, publishRules, signInAtShop, test, type Stage } from '../support/stage.ts';
import { DRESSINGS } from '../support/programs.ts';
import { partOf } from '../support/sampling.ts';
import { areaOf } from '../support/visitors.ts';

/** Surfaces of a product in every dressing. */
type Surface = 'product' | 'listing' | 'quickView';
type Audience = 'guest' | 'member';

/** A rule for one product, and its visible result. */
interface Case {
  readonly product: string;
  readonly title: string;
  readonly then: Outcome;
  /** Only for guests, so that members see the shop's own. */
  readonly onlyGuests?: true;
  /** The words of the control or its stand-in; null when nothing stands there; by surface where they differ. */
  readonly control: string | null | Partial<Record<Surface, string | null>>;
  readonly express?: 'hidden';
  readonly shows?: string;
  readonly hides?: string;
  /** Not shown on listings. */
  readonly isAway?: true;
  readonly style?: string;
}

const GUESTS = { fact: 'visitor.signedIn', op: 'is', value: false } as const;
const SHOP_LABEL = 'Put in basket';

const CASES: readonly Case[] = [
  {
    product: 'last-bus',
    title: 'Aster ‘Last Bus’',
    then: { control: { kind: 'buy', label: 'Take it home', onListing: { label: 'Take' } } },
    control: { product: 'Take it home', quickView: 'Take it home', listing: 'Take' },
  },
  {
    product: 'ash-dibber',
    title: 'Dibber, ash',
    then: { control: { kind: 'preorder', label: 'Order ahead', onListing: { label: 'Ahead' } } },
    control: { product: 'Order ahead', quickView: 'Order ahead', listing: 'Ahead' },
    express: 'hidden',
  },
  {
    product: 'harts-tongue',
    title: 'Hart’s tongue fern',
    then: { control: { kind: 'waitlist', per: 'product', label: 'Wait for it' } },
    onlyGuests: true,
    control: 'Wait for it',
    express: 'hidden',
  },
  {
    product: 'pin-cushion',
    title: 'Astrantia ‘Pin Cushion’',
    then: { control: { kind: 'quote', label: 'Ask for a price' }, price: { show: false, text: 'On request' } },
    control: 'Ask for a price',
    express: 'hidden',
    shows: 'On request',
    hides: '€6.00',
  },
  {
    product: 'long-row',
    title: 'Pea ‘Long Row’',
    then: { control: { kind: 'enquiry', form: 'contact', open: 'dialog', label: 'Ask the grower' } },
    control: 'Ask the grower',
    express: 'hidden',
  },
  {
    product: 'scarlet-post',
    title: 'Runner bean ‘Scarlet Post’',
    then: { control: { kind: 'link', href: 'https://quillfern.example/elsewhere', label: 'Sold elsewhere' } },
    control: 'Sold elsewhere',
    express: 'hidden',
  },
  {
    product: 'surplus-kale',
    title: 'Surplus kale seedlings',
    then: { control: { kind: 'signIn', href: '/sign-in', label: 'Sign in to buy' } },
    onlyGuests: true,
    control: 'Sign in to buy',
    express: 'hidden',
  },
  {
    product: 'surplus-tomatoes',
    title: 'Surplus tomato seedlings',
    then: { control: { kind: 'notice', text: 'Not **today**' } },
    control: 'Not today',
    express: 'hidden',
  },
  {
    product: 'wallflower-plugs',
    title: 'Wallflower plugs',
    then: { control: { kind: 'nothing' }, style: ['is-gone'] },
    control: null,
    express: 'hidden',
    style: 'is-gone',
  },
  {
    product: 'soft-shield',
    title: 'Soft shield fern',
    then: {
      control: { kind: 'ownPrice', min: 100, label: 'Name your price' },
      price: { show: true, suffix: 'or more' },
    },
    control: 'Name your price',
    express: 'hidden',
    shows: 'or more',
  },
  {
    product: 'jute-twine',
    title: 'Jute twine',
    then: { control: { kind: 'severalAtOnce', label: 'Take several' } },
    control: 'Take several',
    express: 'hidden',
  },
  {
    product: 'fern-book',
    title: 'The Fern Book',
    then: {
      control: { kind: 'buy', label: 'At the bindery' },
      notes: [{ place: 'belowControl', text: 'Bound by hand' }],
    },
    control: 'At the bindery',
    shows: 'Bound by hand',
  },
  {
    product: 'drumroll',
    title: 'Allium ‘Drumroll’',
    then: { visibility: { state: 'offListings' }, express: 'hide' },
    control: SHOP_LABEL,
    express: 'hidden',
    isAway: true,
  },
  {
    product: 'greenmantle',
    title: 'Snowdrop ‘Greenmantle’',
    then: { price: { adjust: { percent: -50 } }, control: { kind: 'quote', beside: true, label: 'Ask for several' } },
    control: SHOP_LABEL,
    shows: 'Ask for several',
  },
];

const rules: readonly Rule[] = CASES.map(({ product, then, onlyGuests }) => ({
  id: product,
  on: true,
  when: {
    all: [{ fact: 'product.id', op: 'in', value: [product] }, ...(onlyGuests ? [GUESTS] : [])],
  },
  then,
}));

const pathOf = ({ product }: Case) =>
  `/${['ash-dibber', 'fern-book', 'jute-twine'].includes(product) ? 'tools' : 'plants'}/${product}`;

async function show(page: Page, surface: Surface, { shop }: Stage, each: Case): Promise<void> {
  if (surface === 'product') await page.goto(shop.url + pathOf(each));
  else if (page.url() !== `${shop.url}/`) await page.goto(`${shop.url}/`);
  if (surface === 'quickView')
    await page.getByRole('button', { name: new RegExp(`(Quick look|Coup d’œil): ${each.title}`) }).click();
}

async function looksRight(page: Page, surface: Surface, audience: Audience, each: Case): Promise<void> {
  const isSkipped = each.onlyGuests && audience === 'member';
  const shown = areaOf(page, surface, each.title);
  if (each.isAway && surface === 'listing') {
    await expect(shown).toBeHidden();
    return;
  }
  const words = isSkipped
    ? SHOP_LABEL
    : typeof each.control === 'string' || each.control === null
      ? each.control
      : each.control[surface];
  const control = shown
    .locator('[class*=put-in-basket], .look, [data-understudy-stand-in=control]')
    .filter({ visible: true });
  if (words === null) await expect(control).toHaveCount(0);
  else await expect(control.first()).toHaveText(words ?? SHOP_LABEL);
  if (surface !== 'listing' && each.product !== 'fern-book') {
    const express = shown.getByRole('button', { name: 'Pay swiftly' });
    if (each.express === 'hidden' && !isSkipped) await expect(express).toBeHidden();
    else await expect(express).toBeVisible();
  }
  if (each.shows && !isSkipped) await expect(shown.getByText(each.shows).first()).toBeVisible();
  if (each.hides) await expect(shown.getByText(each.hides).first()).toBeHidden();
  if (each.style) await expect(page.locator(`.${each.style}`).first()).toBeAttached();
}

for (const dressing of partOf(DRESSINGS, 3)) {
  test.describe(dressing, () => {
    test.use({ dressing });
    test(`every aspect on every surface, for guests and members, dressed in ${dressing}`, async ({
      shopper,
      stage,
    }) => {
      await publishRules(stage, rules);
      for (const audience of ['guest', 'member'] as const) {
        if (audience === 'member') await signInAtShop(shopper, stage.shop.url, 'Hugo Vale');
        // Ignores the state before the edition.
        await shopper.goto(`${stage.shop.url}/`);
        for (const surface of ['listing', 'quickView', 'product'] as const) {
          for (const each of CASES) {
            if (audience === 'member' && !each.onlyGuests && surface !== 'product') continue;
            if (each.isAway && surface === 'quickView') continue;
            await test.step(`${audience}, ${surface}, ${each.title}`, async () => {
              await show(shopper, surface, stage, each);
              await looksRight(shopper, surface, audience, each);
              if (surface === 'quickView') await shopper.getByRole('button', { name: 'Close' }).click();
            });
          }
        }
      }
    });
  });
}
