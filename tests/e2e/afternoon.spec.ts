import {
  addClause,
  chooseTag,
  editor,
  enterDate,
  expect,
  newRule,
  saved,
  send,
  signInAtShop,
  type Stage,
  test,
} from '../support/stage.ts';

const PLANT = '/plants/paper-lantern';

interface Openings {
  readonly openings: readonly { readonly id: number; readonly at: string }[];
}
const openings = async (stage: Stage) => ((await send(stage, 'GET', '/api/openings')) as Openings).openings;

test('the owner’s afternoon: a change is seen, checked, put right, set to open, looked at on the shop, live, and taken back', async ({
  owner,
  shopper,
  stage,
}) => {
  test.slow();
  let rule = '';
  const checks = owner.getByRole('region', { name: 'Spot checks' });

  await test.step('what a guest sees is kept as a spot check, from its cell', async () => {
    await owner.goto(`${stage.understudy.url}/rehearsal?rows=paper-lantern`);
    await owner
      .getByRole('button', { name: /^Dahlia ‘Paper Lantern’, Guest: Reserve for spring/ })
      .first()
      .click();
    const why = owner.getByRole('dialog', { name: 'Why' });
    await why.getByRole('button', { name: 'Keep as a spot check' }).click();
    await expect(why.getByRole('status')).toHaveText(/^Kept as a spot check/);
    await owner.keyboard.press('Escape');
    await expect(checks).toContainText('Guest sees “Reserve for spring” (a pre-order) and the price for Dahlia');
    await expect(checks).toContainText('1 hold');
  });

  await test.step('a change breaks it: findings, impact and the check say so, and it cannot be published', async () => {
    await owner.getByRole('link', { name: 'Rules', exact: false }).first().click();
    await newRule(owner, 'Ask for a price');
    await chooseTag(owner, 'ships-spring');
    await saved(owner);
    rule = owner.url();
    await owner.getByRole('link', { name: /Rehearsal/ }).click();
    await expect(checks).toContainText('Fails.');
    await expect(checks).toContainText('By the draft: “Ask for a price” (a price on request)');
    await expect(owner.getByRole('region', { name: /^Findings/ })).toContainText('Sold-out sizes');
    await expect(owner.getByRole('region', { name: 'What changes for shoppers' })).toContainText('Ask for a price');
    await owner.getByRole('link', { name: /Draft: .* Review/ }).click();
    await expect(owner.getByText('It cannot be published while it fails a spot check that must hold.')).toBeVisible();
    await expect(owner.getByRole('button', { name: /Publish edition/ })).toBeDisabled();
  });

  await test.step('it is put right: members only', async () => {
    await owner.goto(rule);
    await addClause(owner, 'for whom');
    await editor(owner).getByLabel('For whom').click();
    await owner.getByRole('option', { name: 'customers with any of the roles' }).click();
    await editor(owner).getByLabel('Roles').fill('member');
    await owner.getByRole('option', { name: 'member' }).click();
    await owner.keyboard.press('Escape');
    await owner.keyboard.press('Escape');
    await saved(owner);
    await owner.getByRole('link', { name: /Rehearsal/ }).click();
    await expect(checks).toContainText('1 hold');
  });

  await test.step('it is set to open tomorrow', async () => {
    await owner.getByRole('link', { name: /Draft: .* Review/ }).click();
    await owner.getByLabel('A note for the history').fill('Tubers by quote for the circle');
    await owner.getByRole('button', { name: 'Scheduled' }).click();
    const tomorrow = new Date(Date.now() + 24 * 60 * 60 * 1000).toISOString().slice(0, 10);
    await enterDate(owner, /^Opens, /, `${tomorrow}T09:00`);
    await owner.getByRole('button', { name: /^Open it / }).click();
    const opening = owner.getByRole('region', { name: 'Scheduled to open' });
    await expect(opening).toContainText('Tubers by quote for the circle');
    await owner.getByRole('link', { name: 'Calendar' }).click();
    await expect(owner.getByText('Tubers by quote for the circle')).toBeVisible();
  });

  await test.step('the shop is looked at as a member on that day, and nothing can be done there', async () => {
    await owner.getByRole('link', { name: /Rehearsal/ }).click();
    await owner.getByLabel('See the shop as').click();
    await owner.getByRole('option', { name: 'Circle member' }).click();
    const opened = owner.waitForEvent('popup');
    await owner.getByRole('button', { name: 'Open the preview' }).click();
    const shop = await opened;
    await shop.waitForURL(`${stage.shop.url}/`);
    await shop.goto(stage.shop.url + PLANT);
    const strip = shop.getByRole('complementary', { name: 'Preview' });
    await expect(strip).toContainText('By the draft, as Circle member, now. Nothing can be bought here.');
    const main = shop.getByRole('main');
    await main.getByText('Ask for a price', { exact: true }).first().click();
    await expect(strip).toContainText('Nothing can be bought, reserved or joined in a preview.');
    await expect(shop.getByRole('dialog')).toHaveCount(0);
    // Visitors without the link see the live shop.
    await shopper.goto(stage.shop.url + PLANT);
    await expect(shopper.getByRole('button', { name: 'Reserve for spring' }).first()).toBeVisible();
    await expect(shopper.getByRole('complementary', { name: 'Preview' })).toHaveCount(0);
    await strip.getByRole('button', { name: 'End the preview' }).click();
    await expect(shop.getByRole('button', { name: 'Reserve for spring' }).first()).toBeVisible();
    await shop.close();
  });

  await test.step('its time comes, and it is live by itself', async () => {
    const [opening] = await openings(stage);
    const at = new Date(Date.now() + 1500).toISOString();
    await send(stage, 'PUT', `/api/openings/${opening?.id ?? 0}`, { at, note: 'Tubers by quote for the circle' });
    await expect.poll(() => openings(stage)).toEqual([]);
    await signInAtShop(shopper, stage.shop.url, 'Inês Prado');
    await shopper.goto(stage.shop.url + PLANT);
    await expect(shopper.getByRole('main').getByText('Ask for a price', { exact: true }).first()).toBeVisible();
  });

  await test.step('and it is taken back', async () => {
    await owner.goto(`${stage.understudy.url}/editions`);
    await expect(owner.getByText('Tubers by quote for the circle').first()).toBeVisible();
    await owner.getByRole('link', { name: /^Edition 2/ }).click();
    await owner.getByRole('button', { name: 'Make live again' }).click();
    await expect(owner.getByText(/^Live again, as edition/)).toBeVisible();
    await shopper.reload();
    await expect(shopper.getByRole('button', { name: 'Reserve for spring' }).first()).toBeVisible();
  });
});
