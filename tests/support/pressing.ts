import type { Product } from '#core/contract/shopCalls.ts';
import { compareVisit } from './comparing.ts';
import { expect, send, type Stage } from './stage.ts';
import { guarded, VISITORS, type Looking } from './visitors.ts';

type Form = readonly (readonly [name: string, value: string])[];

/** Every way in: express pay, the cart, the order; as forms sent straight to the shop, which do what the guard says. */
export async function press(looking: Looking, products: readonly Product[]): Promise<void> {
  const { stage, page, visitor } = looking;
  const person: Form =
    visitor.customer === null
      ? [
          ['email', 'wren@quillfern.example'],
          ['name', 'Wren Hollis'],
        ]
      : [];
  const post = async (path: string, form: Form) => {
    const answer = await page.context().request.post(stage.shop.url + path, {
      data: new URLSearchParams(form.map((pair) => [...pair])).toString(),
      headers: { 'Content-Type': 'application/x-www-form-urlencoded' },
      maxRedirects: 0,
    });
    const to = /^\/(?:order\/|basket)/.exec(answer.headers().location ?? '')?.[0] ?? null;
    return [answer.status(), to] as const;
  };
  const inBasket = async (id: string) =>
    post('/basket/add', [
      ['variant', id],
      ['quantity', '1'],
    ]);
  const emptied = async (id: string) => post('/basket/take-out', [['variant', id]]);
  const lineOf = async (id: string) => {
    const { lines } = await guarded(looking, { via: 'cart', lines: [{ variantId: id, quantity: 1 }] });
    return { variantId: id, quantity: 1, unitPrice: lines[0]!.unitPrice ?? undefined };
  };
  /** Orders what is in the basket, with the terms that were shown. */
  const ordered = async (ids: readonly string[], method: string) => {
    const verdict = await guarded(looking, { via: 'order', method, lines: await Promise.all(ids.map(lineOf)) });
    const terms = verdict.lines.flatMap(({ preorder }, index) =>
      preorder ? [['terms', `${ids[index]} ${preorder.terms}`] as const] : [],
    );
    const [status] = await post('/checkout', [['method', method], ...person, ...terms]);
    expect(status, `an order of ${ids.join(' and ')} by ${method}`).toBe(verdict.ok ? 303 : 409);
  };

  const sold: string[] = [];
  for (const { id: product, variants } of products)
    for (const { id } of variants.slice(0, 2)) {
      const line = { variantId: id, quantity: 1 };
      const express = await guarded(looking, { via: 'order', lines: [{ ...line, via: 'express' }] });
      const paid = await post('/swift-pay', [['variant', id], ['quantity', '1'], ...person]);
      expect(paid, `express pay of ${id}`).toEqual(express.ok ? [303, '/order/'] : [409, null]);

      const inCart = await guarded(looking, { via: 'cart', lines: [line] });
      expect(await inBasket(id), `the cart with ${id}`).toEqual(inCart.ok ? [303, '/basket'] : [409, null]);
      if (!inCart.ok) {
        if (id === products[0]?.variants[0]?.id) await compareVisit(looking, { product, variant: null });
        continue;
      }
      if (sold.length === 0) await compareVisit(looking, { product, variant: id });
      sold.push(id);
      for (const method of ['card', 'invoice']) {
        // An order empties the basket, a refusal leaves it.
        await emptied(id);
        await inBasket(id);
        await ordered([id], method);
      }
      await emptied(id);
    }
  if (sold.length > 1) {
    for (const id of sold) await inBasket(id);
    await ordered(sold, 'invoice');
    for (const id of sold) await emptied(id);
  }
  for (const { variants } of products) for (const { id } of variants.slice(0, 2)) await unreserved(stage, id);
}

/** Takes reservations back, so that the next rulebook finds the goods as they were. */
async function unreserved(stage: Stage, variant: string): Promise<void> {
  const { preorders } = (await send(stage, 'GET', `/api/preorders?variant=${variant}&state=reserved`)) as {
    preorders: { id: string; name: string | null; customer: string | null }[];
  };
  const ours = preorders.filter(
    ({ name, customer }) => name === 'Wren Hollis' || VISITORS.some((one) => 'id' in one && one.id === customer),
  );
  if (ours.length > 0)
    await send(stage, 'POST', '/api/preorders/states', {
      preorders: ours.map(({ id }) => id),
      to: 'cancelled',
      notify: false,
    });
}
