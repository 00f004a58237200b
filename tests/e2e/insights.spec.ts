import { AxeBuilder } from '@axe-core/playwright';
import { expect, payByCard, send, signInAtShop, test } from '../support/stage.ts';

test('what a shopper sees, presses and orders is found by the owner, with the product behind it', async ({
  owner,
  shopper,
  stage,
}) => {
  const day = (ms: number) => new Date(ms).toISOString().slice(0, 10);
  const period = `from=${day(Date.now() - 86_400_000)}&until=${day(Date.now() + 2 * 86_400_000)}`;
  const counted = async (event: 'seen' | 'pressed' | 'finished') => {
    const { rows } = (await send(stage, 'GET', `/api/insights/funnel?${period}`)) as {
      rows: (Record<typeof event, number> & { rule: string | null })[];
    };
    return rows.find(({ rule }) => rule === 'spring-tubers')?.[event] ?? 0;
  };
  const before = await counted('finished');

  await test.step('it is told when the page is left: in view, then pressed', async () => {
    await signInAtShop(shopper, stage.shop.url, 'Hugo Vale');
    await shopper.goto(`${stage.shop.url}/plants/paper-lantern`);
    await expect(shopper.getByRole('button', { name: 'Reserve for spring' })).toBeVisible();
    await expect
      .poll(async () => {
        await shopper.evaluate(() => dispatchEvent(new Event('pagehide')));
        return counted('seen');
      })
      .toBeGreaterThan(0);
    await shopper.getByRole('button', { name: 'Reserve for spring' }).click();
    await expect.poll(() => counted('pressed')).toBe(1);
  });

  await test.step('and what came of it, where that is certain', async () => {
    await shopper.getByRole('link', { name: 'To checkout' }).click();
    await shopper.getByLabel('I accept the terms of what is reserved').check();
    await payByCard(shopper);
    await expect(shopper.getByText('Thank you. Your order is in.')).toBeVisible();
    expect(await counted('finished')).toBe(before + 1);
  });

  await test.step('the owner finds the row, and the product behind it', async () => {
    await owner.getByRole('link', { name: 'Insights' }).click();
    const row = owner.getByRole('row', { name: /Tubers before they ship/ });
    await expect(row).toContainText('A pre-order');
    await row.getByRole('button', { name: 'Tubers before they ship' }).click();
    const behind = owner.getByRole('region', { name: 'Behind Tubers before they ship' });
    await expect(behind.getByRole('link', { name: /Paper Lantern/ })).toBeVisible();
    expect((await new AxeBuilder({ page: owner }).analyze()).violations).toEqual([]);
    await owner.getByRole('button', { name: '7 days' }).click();
    await expect(row).toBeVisible();
    const file = await owner.request.get(
      `${stage.understudy.url}${(await owner.getByRole('link', { name: 'Export CSV' }).getAttribute('href')) ?? ''}`,
    );
    expect(await file.text()).toContain('spring-tubers,preorder,');
  });

  await test.step('a page that is not to be counted tells nothing', async () => {
    const asked: string[] = [];
    shopper.on('request', (request) => asked.push(new URL(request.url()).pathname));
    await shopper.addInitScript(() => {
      Object.defineProperty(navigator, 'globalPrivacyControl', { value: true });
    });
    await shopper.goto(`${stage.shop.url}/plants/saffron-hill`);
    await shopper.getByRole('button', { name: 'Reserve for spring' }).click();
    await expect(shopper.getByRole('link', { name: 'To checkout' })).toBeVisible();
    expect(asked).toContain('/v1/decisions');
    expect(asked).not.toContain('/v1/events');
  });
});
