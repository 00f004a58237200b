import type { Locator, Page } from '@playwright/test';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { DRESSINGS } from '../support/programs.ts';
import { dayAhead } from '../support/dates.ts';
import { partOf } from '../support/sampling.ts';
import { expect, openLetter, publishRules, send, test, type Stage } from '../support/stage.ts';
import { areaOf } from '../support/visitors.ts';

const SURFACES = ['listing', 'quickView', 'product'] as const;
type Surface = (typeof SURFACES)[number];

interface Press {
  readonly page: Page;
  readonly stage: Stage;
  readonly surface: Surface;
  /** The part of the page that shows the product. */
  readonly area: Locator;
  /** E-mail address that the shopper types. */
  readonly email: string;
}

/** A stand-in, and what must have come of it once it was pressed and followed to its end. */
interface StandIn {
  readonly id: string;
  readonly path: string;
  readonly title: string;
  readonly control: NonNullable<Outcome['control']>;
  readonly follow: (press: Press) => Promise<void>;
}

const LABEL = 'Go ahead';
const press = ({ area }: Press) => area.getByRole('link', { name: LABEL }).click();
const dialogOf = ({ page }: Press) => page.getByRole('dialog').filter({ has: page.getByRole('heading') });
const sendQuestion = async (form: Locator, email: string) => {
  await form.getByLabel('Your question').fill('How tall does it grow?');
  await form.getByLabel('E-mail').fill(email);
  await form.getByRole('button', { name: 'Send' }).click();
};
const isListed = async ({ stage, email }: Press, list: 'quotes' | 'enquiries') => {
  const all = JSON.stringify(await send(stage, 'GET', `/api/${list}`));
  expect(all, `${list} from ${email}`).toContain(email);
};

const STAND_INS: readonly StandIn[] = [
  {
    id: 'harts-tongue',
    path: '/plants/harts-tongue',
    title: 'Hart’s tongue fern',
    control: { kind: 'waitlist', per: 'product', label: LABEL },
    follow: async (at) => {
      await press(at);
      await dialogOf(at).getByLabel('E-mail').fill(at.email);
      await dialogOf(at).getByRole('button', { name: 'Join' }).click();
      await expect(dialogOf(at).getByRole('status')).toContainText('We have sent you a link.');
      await openLetter(at.page, at.stage, at.email, 'Please confirm');
      await at.page.getByRole('article').getByRole('link', { name: 'Yes, put me on the list' }).click();
      await at.page.getByRole('button', { name: 'Put me on the waitlist' }).click();
      await expect(at.page.getByText(/You are number \d+/)).toBeVisible();
      const entries = await send(at.stage, 'GET', '/api/waitlists/entries?product=harts-tongue');
      expect(JSON.stringify(entries)).toContain(at.email);
    },
  },
  {
    id: 'pin-cushion',
    path: '/plants/pin-cushion',
    title: 'Astrantia ‘Pin Cushion’',
    control: { kind: 'quote', label: LABEL },
    follow: async (at) => {
      await press(at);
      const sheet = dialogOf(at);
      await expect(sheet.getByRole('row')).toContainText('Pin Cushion');
      await sheet.getByLabel('E-mail').fill(at.email);
      await sheet.getByRole('button', { name: 'Send', exact: true }).click();
      await expect(sheet.getByRole('status')).toContainText('We have your request');
      await isListed(at, 'quotes');
    },
  },
  {
    id: 'long-row',
    path: '/plants/long-row',
    title: 'Pea ‘Long Row’',
    control: { kind: 'enquiry', form: 'contact', open: 'dialog', label: LABEL },
    follow: async (at) => {
      await press(at);
      await sendQuestion(dialogOf(at), at.email);
      await expect(dialogOf(at).getByRole('status')).toContainText('Thank you.');
      await isListed(at, 'enquiries');
    },
  },
  {
    id: 'big-umbrella',
    path: '/plants/big-umbrella',
    title: 'Hosta ‘Big Umbrella’',
    control: { kind: 'enquiry', form: 'contact', open: 'inline', label: LABEL },
    follow: async (at) => {
      // A form on every card would bury a listing, so there it opens over it.
      if (at.surface === 'listing') await press(at);
      const form = at.surface === 'listing' ? dialogOf(at) : at.area;
      await sendQuestion(form, at.email);
      await expect(form.getByRole('status').filter({ hasText: 'Thank you.' })).toBeVisible();
      await isListed(at, 'enquiries');
    },
  },
  {
    id: 'scarlet-post',
    path: '/plants/scarlet-post',
    title: 'Runner bean ‘Scarlet Post’',
    control: { kind: 'link', href: '/collection', label: LABEL },
    follow: async (at) => {
      await press(at);
      await expect(at.page).toHaveURL(`${at.stage.shop.url}/collection`);
    },
  },
  {
    id: 'last-bus',
    path: '/plants/last-bus',
    title: 'Aster ‘Last Bus’',
    control: { kind: 'link', href: '/collection', newTab: true, label: LABEL },
    follow: async (at) => {
      const opened = at.page.waitForEvent('popup');
      await press(at);
      await expect(await opened).toHaveURL(`${at.stage.shop.url}/collection`);
      await (await opened).close();
    },
  },
  {
    id: 'surplus-kale',
    path: '/plants/surplus-kale',
    title: 'Surplus kale seedlings',
    control: { kind: 'signIn', href: '/sign-in?back={product.path}', label: LABEL },
    follow: async (at) => {
      await press(at);
      await at.page.getByRole('button', { name: /Greta Holm/ }).click();
      await expect(at.page).toHaveURL(`${at.stage.shop.url}/plants/surplus-kale`);
      await expect(at.page.locator('.bed').getByRole('button', { name: 'Put in basket' })).toBeVisible();
      await at.page.context().clearCookies();
    },
  },
  {
    id: 'soft-shield',
    path: '/plants/soft-shield',
    title: 'Soft shield fern',
    control: { kind: 'ownPrice', min: 100, label: LABEL },
    follow: async (at) => {
      await press(at);
      await dialogOf(at)
        .getByLabel(/^Your price for one/)
        .fill('6');
      await dialogOf(at).getByRole('button', { name: 'Add to cart' }).click();
      await expect(at.page.getByText('€6.00').first()).toBeVisible();
    },
  },
];

const rules: readonly Rule[] = STAND_INS.map(({ id, control }) => ({
  id,
  on: true,
  when: {
    all: [
      { fact: 'product.id', op: 'in', value: [id] },
      { fact: 'visitor.signedIn', op: 'is', value: false },
    ],
  },
  then: { control },
}));

/** Presses of each rule's stand-in, according to Insights. */
async function presses(stage: Stage): Promise<Record<string, number>> {
  const { rows } = (await send(stage, 'GET', `/api/insights/funnel?from=${dayAhead(-1)}&until=${dayAhead(2)}`)) as {
    rows: readonly { readonly rule: string | null; readonly pressed: number }[];
  };
  return Object.fromEntries(STAND_INS.map(({ id }) => [id, rows.find(({ rule }) => rule === id)?.pressed ?? 0]));
}

for (const dressing of partOf(DRESSINGS, 3))
  test.describe(dressing, () => {
    test.use({ dressing });
    test(`every stand-in leads to its end from every surface and is counted, dressed in ${dressing}`, async ({
      shopper,
      stage,
    }) => {
      await publishRules(stage, rules);
      const before = await presses(stage);
      for (const { id, path, title, follow } of STAND_INS)
        for (const surface of SURFACES)
          await test.step(`${id}, ${surface}`, async () => {
            await shopper.goto(stage.shop.url + (surface === 'product' ? path : '/'));
            if (surface === 'quickView')
              await shopper.getByRole('button', { name: new RegExp(`(Quick look|Coup d’œil): ${title}`) }).click();
            const email = `${id}.${surface.toLowerCase()}@quillfern.example`;
            await follow({ page: shopper, stage, surface, area: areaOf(shopper, surface, title), email });
          });
      // The page sends its counts when it is left.
      await shopper.goto('about:blank');
      const each = Object.fromEntries(STAND_INS.map(({ id }) => [id, before[id]! + SURFACES.length]));
      await expect.poll(() => presses(stage)).toEqual(each);
    });
  });
