import type { Page } from '@playwright/test';
import { HANDS, type Hand } from '../support/hands.ts';
import { INTENDED, type Ending, type Intended } from '../support/intended.ts';
import { partOf } from '../support/sampling.ts';
import { expect, publishRules, send, signInAtShop, test, type Stage } from '../support/stage.ts';

const VISITORS = [
  { who: 'guests', name: 'a guest', customer: null },
  { who: 'others', name: 'a customer', customer: 'Greta Holm' },
  { who: 'members', name: 'a member', customer: 'Inês Prado' },
  { who: 'others', name: 'the trade', customer: 'Jonas Reed' },
] as const;

interface Visit {
  readonly page: Page;
  readonly stage: Stage;
  readonly hand: Hand;
  readonly isGuest: boolean;
}

/** Each visitor clicks and types; in a day's sample one of the two, and half of the intentions. */
const VISITS = VISITORS.flatMap((visitor, turn) =>
  partOf(Object.entries(HANDS), 2, turn).map(([way, hand]) => ({ ...visitor, way, hand, turn })),
);

for (const { who, name, customer, way, hand, turn } of VISITS)
  test(`every intention is followed to its last step by ${name}, by ${way}`, async ({ shopper: page, stage }) => {
    test.slow();
    await publishRules(
      stage,
      // The newest stands above those made before, as the editor puts them.
      INTENDED.map(({ stored }, index) => ({ id: `rule-${index}`, on: true, ...stored })).reverse(),
    );
    // Members first are first to buy what there is.
    await send(stage, 'PUT', '/api/stock', [{ variantId: 'ink-and-milk-10-bulbs', quantity: 5 }]);
    if (customer !== null) await signInAtShop(page, stage.shop.url, customer);
    for (const intended of partOf(INTENDED, 2, turn >> 1)) {
      const { intention, ends } = intended;
      const end: Ending = typeof ends === 'string' ? ends : ends[who];
      await test.step(`${intention}: ${end}`, () =>
        follow({ page, stage, hand, isGuest: customer === null }, intended, end));
    }
  });

/** Presses what stands for the goods until there is nothing more to press; what is withheld is refused by direct POST. */
async function follow(visit: Visit, { shop: { path, size, sees, as }, ends }: Intended, end: Ending): Promise<void> {
  const { page, stage, hand, isGuest } = visit;
  await page.goto(stage.shop.url + path);
  const area = page.getByRole('main');
  if (size !== undefined) await area.getByLabel('Size').selectOption(size);
  const variant = await area.locator('[name=variant]').first().inputValue();
  // Visitors outside the rule find the shop's own button.
  const isLeftAlone = typeof ends !== 'string' && end === 'ordered';
  const standIn = as === 'text' ? area.getByText(sees) : area.getByRole(as, { name: sees, exact: true });
  const control = isLeftAlone ? area.getByRole('button', { name: 'Put in basket' }) : standIn;
  await expect(control).toBeVisible();
  if (end !== 'ordered' && end !== 'priced') await isRefused(visit, variant);
  const dialog = page.getByRole('dialog');
  switch (end) {
    case 'nothing':
      return;
    case 'signIn':
      await hand.press(control);
      await expect(page.getByRole('heading', { name: 'Who is signing in?' })).toBeVisible();
      return;
    case 'asked':
      await hand.write(area.getByLabel('Your question'), 'When is it back?');
      if (isGuest) await writeOneself(visit, area);
      await hand.press(area.getByRole('button', { name: 'Send' }));
      await expect(area.getByRole('status').filter({ hasText: 'Thank you.' })).toBeVisible();
      return;
    case 'quoted':
      await hand.press(control);
      if (isGuest) await writeOneself(visit, dialog);
      await hand.press(dialog.getByRole('button', { name: 'Send', exact: true }));
      await expect(dialog.getByRole('status')).toContainText('We have your request and will send you a price.');
      return;
    case 'listed':
      await hand.press(control);
      if (isGuest) {
        await writeOneself(visit, dialog);
        await hand.press(dialog.getByRole('button', { name: 'Join' }));
        await expect(dialog.getByRole('status')).toContainText('We have sent you a link.');
      } else await expect(page.getByText(/You are number \d+ on the waitlist\./).first()).toBeVisible();
      return;
    case 'priced':
      await hand.press(control);
      await hand.write(dialog.getByLabel(/^Your price for one/), '6');
      await hand.press(dialog.getByRole('button', { name: 'Add to cart' }));
      break;
    case 'ordered':
      await hand.press(control);
  }
  await order(visit);
}

/** From the basket to the thanks. */
async function order({ page, hand, isGuest }: Visit): Promise<void> {
  await hand.press(page.getByRole('link', { name: 'To checkout' }));
  const place = page.getByRole('button', { name: 'Place order' });
  await expect(place).toBeVisible();
  const terms = page.getByLabel('I accept the terms of what is reserved');
  if ((await terms.count()) > 0) {
    if (isGuest) {
      await hand.write(page.getByLabel('Name'), 'Nell Ashby');
      await hand.write(page.getByLabel('E-mail'), 'nell.ashby@quillfern.example');
    }
    await terms.press('Space');
    await expect(terms).toBeChecked();
  }
  await page.getByLabel('Invoice').press('Space');
  await hand.press(place);
  await expect(page.getByText('Thank you. Your order is in.')).toBeVisible();
}

async function writeOneself({ hand }: Visit, form: ReturnType<Page['locator']>): Promise<void> {
  await hand.write(form.getByLabel('E-mail'), 'nell.ashby@quillfern.example');
  await hand.write(form.getByLabel('Name'), 'Nell Ashby');
}

async function isRefused({ page, stage }: Visit, variant: string): Promise<void> {
  for (const path of ['/basket/add', '/swift-pay']) {
    const form = { variant, quantity: '1', name: 'Nell Ashby', email: 'nell.ashby@quillfern.example' };
    const answer = await page.request.post(stage.shop.url + path, { form, maxRedirects: 0 });
    expect(answer.status(), `${path} of ${variant}`).toBe(409);
  }
}
