import { readFile } from 'node:fs/promises';
import { violationsIn } from '../support/axe.ts';
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
    expect(await violationsIn(owner)).toEqual([]);
    await owner.getByRole('button', { name: '7 days' }).click();
    await expect(row).toBeVisible();
    const table = owner.getByRole('region', { name: 'What stood in the button’s place' });
    const at = (await table.getByRole('link', { name: 'Export CSV' }).getAttribute('href')) ?? '';
    const file = await owner.request.get(stage.understudy.url + at);
    expect(await file.text()).toContain('spring-tubers,preorder,');
  });

  await test.step('the days are drawn, to be had as a table and as pictures', async () => {
    const chart = owner.getByRole('region', { name: /Tubers before they ship, day by day/ });
    for (const [kind, begins] of [
      ['SVG', '<svg'],
      ['PNG', '\u0089PNG'],
    ] as const) {
      const saving = owner.waitForEvent('download');
      await chart.getByRole('button', { name: kind }).click();
      const saved = await saving;
      expect(saved.suggestedFilename()).toBe(`tubers-before-they-ship.${kind.toLowerCase()}`);
      expect((await readFile(await saved.path(), 'latin1')).startsWith(begins)).toBe(true);
    }
    await chart.getByRole('button', { name: 'As a table' }).click();
    await expect(chart.getByRole('row')).toHaveCount(1 + 7);
    // The edition that came in is beside its day.
    await expect(chart.getByRole('row').nth(1)).toContainText('Edition');
  });

  await test.step('what is wanted leads to who wants it, and what was searched for to what there is', async () => {
    for (const _time of [1, 2]) await shopper.goto(`${stage.shop.url}/search?q=Blue%20poppy`);
    await shopper.goto(stage.shop.url);
    await owner.getByRole('link', { name: 'Unmet demand' }).click();
    await expect(owner.getByRole('link', { name: 'blue poppy' })).toBeVisible();
    const wanted = owner.getByRole('row', { name: /Paper Lantern/ });
    await expect(wanted).toContainText('€');
    await owner.getByRole('button', { name: 'Categories' }).click();
    await expect(owner.getByRole('row', { name: /Dinnerplate dahlias/ })).toBeVisible();
    await owner.getByRole('button', { name: 'Products' }).click();
    await wanted.getByRole('link').nth(1).click();
    await expect(owner.getByRole('heading', { name: /Paper Lantern/ })).toBeVisible();
    await owner.goBack();
    await owner.getByRole('link', { name: /invitation/ }).click();
    await expect(owner.getByText('Only lists with people invited.')).toBeVisible();
    await expect(
      owner.getByRole('complementary', { name: 'Lists' }).getByRole('link', { name: /invited/ }),
    ).toHaveCount(1);
    await owner.goBack();
  });

  await test.step('an edition of today is too young for anything to be said of it', async () => {
    await owner.getByRole('link', { name: 'What editions did' }).click();
    // The frost is weeks away.
    await expect(owner.getByText('There is nothing to compare')).toBeVisible();
    await owner
      .getByRole('complementary', { name: 'Editions' })
      .getByRole('link', { name: /^Edition 1/ })
      .click();
    await expect(owner.getByText('Too early to say').first()).toBeVisible();
  });

  const asked: string[] = [];
  shopper.on('request', (request) => asked.push(new URL(request.url()).pathname));
  await test.step('a page that says so tells nothing', async () => {
    asked.length = 0;
    // Set before the script loads, as the page's own line would.
    await shopper.addInitScript(() => {
      if (!location.search.includes('uncounted')) return;
      new MutationObserver(() => {
        document.querySelector('script[src$="/embed.js"]')?.setAttribute('data-counts', 'off');
      }).observe(document, { childList: true, subtree: true });
    });
    await shopper.goto(`${stage.shop.url}/plants/saffron-hill?uncounted`);
    await shopper.getByRole('button', { name: 'Reserve for spring' }).click();
    await expect(shopper.getByRole('link', { name: 'To checkout' })).toBeVisible();
    expect(asked).toContain('/v1/decisions');
    expect(asked).not.toContain('/v1/events');
  });

  await test.step('and nothing where the browser asks not to be tracked', async () => {
    asked.length = 0;
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
