import { chooseTag, expect, newRule, publish, saved, test } from '../support/stage.ts';

test('before publishing, the owner sees exactly what changes, for whom, and takes it along', async ({ owner }) => {
  await newRule(owner, 'Ask for a price');
  await chooseTag(owner, 'wildlife');
  await saved(owner);
  await owner.getByRole('link', { name: /Draft: .* Review/ }).click();
  const impact = owner.getByRole('region', { name: 'What changes for shoppers' });
  await expect(impact.getByRole('status')).toHaveText(/^\d+ of 72 variants change\.$/);

  const group = impact.getByRole('button', { name: /Ask for a price/ }).first();
  await group.click();
  const rows = impact.getByRole('row');
  await expect(rows.filter({ hasText: 'Price on request' }).first()).toBeVisible();
  await impact.getByLabel('Find a change').fill('no such plant');
  await expect(impact.getByText('No product has that name.')).toBeVisible();
  await impact.getByLabel('Find a change').fill('');

  await test.step('as a file', async () => {
    const download = owner.waitForEvent('download');
    await impact.getByRole('button', { name: 'Export CSV' }).click();
    expect((await download).suggestedFilename()).toBe('impact.csv');
  });
  await test.step('on listings, and at another moment', async () => {
    await impact.getByRole('button', { name: 'Listings' }).click();
    await expect(impact.getByRole('status')).toHaveText(/^\d+ of 46 products change\.$/);
    await owner.reload();
    await expect(impact.getByRole('status')).toHaveText(/^\d+ of 46 products change\.$/);
  });
  await test.step('by an owner who would rather hear at once how far it is', async () => {
    await owner.route('**/api/rehearsal/impact', (route) =>
      route.continue({ headers: { ...route.request().headers(), prefer: 'respond-async, wait=0' } }),
    );
    const working = owner.waitForResponse((response) => response.status() === 202);
    await impact.getByRole('button', { name: 'Quick views' }).click();
    expect(await (await working).json()).toHaveProperty('done');
    await expect(impact.getByRole('status')).toHaveText(/^\d+ of 72 variants change\.$/);
    await owner.unroute('**/api/rehearsal/impact');
  });
  await test.step('who has heard how far it is may give it up, and look again', async () => {
    let requests = 0;
    // The second question stays on its way.
    await owner.route('**/api/rehearsal/impact', async (route) => {
      requests += 1;
      if (requests === 1)
        await route.continue({ headers: { ...route.request().headers(), prefer: 'respond-async, wait=0' } });
    });
    await impact.getByRole('button', { name: 'Carts' }).click();
    await impact.getByRole('button', { name: 'Stop' }).click();
    await expect(impact.getByText('Stopped before it finished.')).toBeVisible();
    await expect(impact.getByRole('status')).toHaveCount(0);
    await owner.unroute('**/api/rehearsal/impact');
    await impact.getByRole('button', { name: 'Look again' }).click();
    await expect(impact.getByRole('status')).toHaveText(/^\d+ of 72 variants change/);
  });
  await test.step('a switch shows at once that it was pressed', async () => {
    const ahead = impact.getByRole('switch', { name: 'Include scheduled changes' });
    const after = await ahead.evaluate((input: HTMLInputElement) => {
      input.click();
      return input.checked;
    });
    expect(after).toBe(true);
    await expect(impact.getByRole('status')).toContainText('scheduled changes in the next 400 days');
  });
  await owner.getByRole('link', { name: 'Rules' }).click();
  await publish(owner);
  await owner.goto(new URL('/review', owner.url()).href);
  await expect(owner.getByText('there is nothing to publish')).toBeVisible();
});
