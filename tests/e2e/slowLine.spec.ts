import type { Page } from '@playwright/test';
import { NOTE_PLACES } from '#core/model/notePlaces.ts';
import { NOTED, forProduct } from '../support/noted.ts';
import { expect, publishRules, test } from '../support/stage.ts';
import { watch, watched } from '../support/watch.ts';
import { DRESSINGS } from '../support/programs.ts';
import { partOf } from '../support/sampling.ts';

const CONTROLS = '.put-in-basket, .swift-pay, .look:not(.put-all), [data-add], [part=take], [part=swift]';

/** A slow line, as on a telephone in a garden. */
async function slowly(page: Page): Promise<void> {
  const line = await page.context().newCDPSession(page);
  await line.send('Network.enable');
  await line.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 250,
    downloadThroughput: 150_000,
    uploadThroughput: 30_000,
  });
}

for (const dressing of partOf(DRESSINGS, 3)) {
  test.describe(dressing, () => {
    test.use({ dressing });
    test(`dressed in ${dressing}, on a slow line, no wrong control is painted and nothing moves`, async ({
      shopper,
      stage,
    }) => {
      await publishRules(stage, [
        NOTED,
        forProduct('saffron-hill', {
          control: { kind: 'notice', text: 'Gone for this year, alas, and the year after' },
        }),
        forProduct('night-post', { control: { kind: 'nothing' } }),
      ]);
      await slowly(shopper);
      await watch(shopper, CONTROLS, '.bed');
      const listing = '/range/plants/bulbs-and-tubers/tubers/dahlias';
      // A shop that is drawn by a script moves by itself; that is not ours, and nothing is added to it.
      const shiftOf = async (path: string) => {
        await shopper.goto(stage.shop.url + path);
        await shopper.waitForLoadState('networkidle');
        return (await watched(shopper)).shift;
      };
      await shopper.route('**/embed.js', (route) => route.abort());
      const baseline = { product: await shiftOf('/plants/last-bus'), listing: await shiftOf(listing) };
      if (dressing === 'forms') expect(baseline).toEqual({ product: 0, listing: 0 });
      await shopper.unroute('**/embed.js');
      await test.step('a product with a note in every place', async () => {
        await shopper.goto(`${stage.shop.url}/plants/last-bus`);
        await expect(shopper.getByRole('button', { name: 'Order ahead' })).toBeVisible();
        for (const place of NOTE_PLACES) await expect(shopper.getByText(`A note that is ${place}`)).toBeVisible();
        await shopper.waitForLoadState('networkidle');
        const { seen, shift } = await watched(shopper);
        expect(seen).toEqual(['Order ahead']);
        expect(shift).toBeLessThanOrEqual(baseline.product);
      });
      await test.step('a listing on which controls change, give way, and go', async () => {
        await shopper.goto(stage.shop.url + listing);
        await expect(shopper.getByText('Gone for this year')).toBeVisible();
        await shopper.waitForLoadState('networkidle');
        expect((await watched(shopper)).shift).toBeLessThanOrEqual(baseline.listing);
      });
    });
  });
}
