import type { Rule } from '#core/rulebook/rulebook.ts';
import { make } from '../support/oneVariant.ts';
import { expect, openLetter, publishRules, test, type Stage } from '../support/stage.ts';

const line = (variantId: string, quantity: number) => ({ variantId, quantity });

/** A guest asks for prices of hedging. */
async function askFor(stage: Stage, name: string, lines: readonly object[]): Promise<void> {
  const response = await fetch(`${stage.understudy.url}/v1/quotes`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      email: `${name.toLowerCase()}@quillfern.example`,
      name,
      lines,
      key: `key of ${name}`,
      answers: { where: 'Wharf Lane' },
    }),
  });
  expect(response.status).toBe(201);
}

test.describe('a quote being priced', () => {
  test.use({ opensAt: null });

  test('its lines are removed, restored, given another size and corrected before it is sent', async ({
    owner,
    shopper,
    stage,
  }) => {
    const hedging: Rule['when'] = { fact: 'product.categories', op: 'within', value: ['plants/hedging'] };
    await publishRules(stage, [make('hedging', { control: { kind: 'quote' } }, hedging)]);
    await askFor(stage, 'Robin', [line('yew-hedging-30-40-cm', 30), line('beech-hedging-40-60-cm', 12)]);
    await askFor(stage, 'Linnet', [line('hornbeam-hedging-40-60-cm', 5)]);
    await owner.goto(`${stage.understudy.url}/quotes?state=asked&search=robin`);
    const quote = owner.getByRole('region', { name: 'Quote for Robin' });
    const send = quote.getByRole('button', { name: 'Send the quote' });
    const total = quote.getByRole('row', { name: /^Total/ });
    await expect(total).toContainText('€164.40');

    await test.step('on paper there is the quote alone', async () => {
      await owner.emulateMedia({ media: 'print' });
      await expect(quote.getByRole('heading', { name: 'Robin' })).toBeVisible();
      await expect(total).toBeVisible();
      for (const part of [
        owner.getByRole('navigation', { name: 'Screens' }),
        owner.getByRole('region', { name: 'Quotes', exact: true }),
        send,
        quote.getByLabel('A message with it'),
        quote.getByLabel('Add a product'),
      ])
        await expect(part).toBeHidden();
      await owner.emulateMedia({ media: 'screen' });
      await expect(quote.getByRole('button', { name: 'Print' })).toBeVisible();
    });

    await test.step('no units, no price and no validity are faults, each at its field', async () => {
      await quote.getByLabel(/^Units of Yew/).fill('0');
      await quote.getByLabel(/^Price of Beech/).fill('');
      await quote.getByLabel('Valid for days').fill('0');
      await send.click();
      await expect(quote.getByText('Write 1 or more')).toBeVisible();
      await expect(quote.getByText('Write a price')).toBeVisible();
      await expect(quote.getByText('Write 1 to 365 days')).toBeVisible();
      await expect(quote.getByLabel(/^Units of Yew/)).toBeFocused();
      await quote.getByLabel(/^Units of Yew/).fill('20');
      await quote.getByLabel(/^Price of Beech/).fill('1.50');
      await quote.getByLabel('Valid for days').fill('7');
      await expect(total).toContainText('€114.00');
    });

    await test.step('a removed line counts for nothing until it is restored; one has to stay', async () => {
      await quote.getByRole('button', { name: /^Remove Yew/ }).click();
      await expect(total).toContainText('€18.00');
      await quote.getByRole('button', { name: /^Remove Beech/ }).click();
      await send.click();
      await expect(quote.getByText('Restore a line or add a product, or decline the request')).toBeVisible();
      await quote.getByRole('button', { name: /^Restore Yew/ }).click();
      await expect(total).toContainText('€96.00');
    });

    await test.step('a line gets another size of its product, at that size’s price', async () => {
      await quote.getByRole('combobox', { name: /^Size of Yew/ }).click();
      await owner.getByRole('option', { name: '60–80 cm' }).click();
      await expect(quote.getByLabel(/^Price of Yew hedging, 60–80 cm/)).toHaveValue('11.50');
      await expect(total).toContainText('€230.00');
    });

    await test.step('sending says so, and stays on the quote although it no longer waits', async () => {
      await send.click();
      await expect(owner.getByText('The quote is on its way to robin@quillfern.example.')).toBeVisible();
      await expect(quote).toContainText('sent');
      const { quotes } = (await (
        await owner.request.get(`${stage.understudy.url}/api/quotes?search=robin`)
      ).json()) as {
        quotes: { lines: object[]; total: number }[];
      };
      expect(quotes).toMatchObject([{ total: 23_000, lines: [{ variant: 'yew-hedging-60-80-cm', units: 20 }] }]);
      expect(quotes[0]?.lines).toHaveLength(1);
    });

    await test.step('a reply of the customer waits in the list, on Today and in the conversation', async () => {
      await openLetter(shopper, stage, 'robin', 'Your quote: €230.00');
      await shopper.getByRole('link', { name: 'See, accept or decline it' }).click();
      await shopper.getByLabel('A message to us').fill('Would you deliver on a Friday?');
      await shopper.getByRole('button', { name: 'Send message' }).click();
      await expect(shopper.getByText('Would you deliver on a Friday?')).toBeVisible();
      await owner.reload();
      await expect(owner.getByRole('button', { name: /Robin.*customer replied/ })).toBeVisible();
      await expect(quote.getByText('Would you deliver on a Friday?')).toBeVisible();
      await owner.getByRole('link', { name: 'Today' }).click();
      await expect(owner.getByRole('link', { name: /^Quotes to price or answer/ })).toContainText('3 quotes');
    });
  });
});
