import type { Decision, Visit } from '#core/engine/decision.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import { expectedSight, sightOf, wordsOf, type Sight, type Where } from './shopPage.ts';
import { expect } from './stage.ts';
import { choose, guarded, lookQuickly, rehearsed, type Looking } from './visitors.ts';

const isShut = ({ cart, checkout }: Visit) => !(cart.open && checkout.open && checkout.submitOrder.show);

/** Reads a page without rules: its own control, which is out of sight until that is known. */
export async function originalSight(
  { page, map }: Pick<Looking, 'page' | 'map'>,
  where: { area: string; path?: string },
): Promise<Sight> {
  await expect.poll(async () => (await sightOf(page, map, where))?.control ?? null).not.toBeNull();
  return (await sightOf(page, map, where))!;
}

/** Checks that an area shows the decision, and that its link exists. */
async function compare(
  { page, map, originals, stage }: Looking,
  area: { area: string; path?: string; is: string },
  decision: Decision,
  where: Omit<Where, 'understudy'>,
): Promise<void> {
  const known = originals.get(area.is);
  if (!known) throw new Error(`${area.is} was not looked at without rules`);
  const expected = expectedSight(known, decision, { ...where, understudy: stage.understudy.url });
  await expect.poll(() => sightOf(page, map, area), { message: area.is }).toEqual(expected);
  const href = expected.standIn?.href ?? null;
  if (href === null) return;
  expect(href, 'no link leads to another host by its path').not.toMatch(/^\/[/\\]/);
  if (href !== where.path && !href.startsWith(stage.understudy.url)) return;
  const answer = await page.context().request.get(new URL(href, stage.shop.url).href);
  expect(answer.status(), `${href} answers`).toBe(200);
}

export async function compareListing(looking: Looking, looked: readonly Product[]): Promise<void> {
  const { stage, map, page, visitor } = looking;
  const ids = looked.map(({ id }) => id);
  const { products, visit } = await rehearsed(stage, 'listing', visitor, ids);
  await page.goto(stage.shop.url);
  for (const { id, path, variants } of looked) {
    const decision = products.find((one) => one.id === id)!.decision!;
    if (decision.visibility.state !== 'shown') {
      const card = page.locator(map.card.area).filter({ has: page.locator(`a[href="${path!}"]`) });
      await expect(card.first()).toBeHidden();
      continue;
    }
    await compare(looking, { area: map.card.area, path: path!, is: `listing ${id}` }, decision, {
      surface: 'listing',
      path: path!,
      variant: variants[0]!.id,
      isShut: isShut(visit),
    });
  }
  const quick = looked.find(({ id }) => products.find((one) => one.id === id)!.decision!.visibility.state === 'shown');
  if (quick) await compareQuickView(looking, quick);
}

/** From the listing. */
async function compareQuickView(looking: Looking, { id, path, variants }: Product): Promise<void> {
  const { stage, map, page, visitor, dressing } = looking;
  const { products, visit } = await rehearsed(stage, 'quickView', visitor, [id]);
  await lookQuickly(page, dressing, path!);
  for (const { id: variant } of [variants[0]!, ...variants.slice(1).slice(-1)]) {
    if (variants.length > 1) await choose(page, dressing, variant);
    const { decision } = products[0]!.variants.find((one) => one.id === variant)!;
    await compare(looking, { area: map.quickView!.area, is: `quick ${id} ${variant}` }, decision, {
      surface: 'quickView',
      path: path!,
      variant,
      isShut: isShut(visit),
    });
  }
}

export async function compareProduct(looking: Looking, { id, path, variants }: Product): Promise<void> {
  const { stage, map, page, visitor, dressing } = looking;
  const { products, visit } = await rehearsed(stage, 'product', visitor, [id]);
  const decisionOf = (variant: string) => products[0]!.variants.find((one) => one.id === variant)!.decision;
  const left = (variant: string) => {
    const { state, redirectTo } = decisionOf(variant).visibility;
    return state === 'blocked' ? new URL(redirectTo ?? '/', stage.shop.url).pathname : null;
  };
  await page.goto(stage.shop.url + path!, { waitUntil: 'commit' });
  for (const [index, { id: variant }] of variants.entries()) {
    const to = left(variant);
    if (variants.length > 1 && index > 0) await choose(page, dressing, variant);
    if (to !== null) {
      await expect.poll(() => new URL(page.url()).pathname, { message: `${variant} is blocked` }).toBe(to);
      // The size that is chosen first decides whether the page answers at all.
      if (index === 0) return;
      await page.goto(stage.shop.url + path!);
      continue;
    }
    await compare(looking, { area: map.productPage.area, is: `${id} ${variant}` }, decisionOf(variant), {
      surface: 'product',
      path: path!,
      variant,
      isShut: isShut(visit),
    });
  }
}

/** The pages of cart and checkout, while the cart holds one variant, or none. */
export async function compareVisit(
  { stage, map, page, visitor }: Looking,
  { product, variant }: { readonly product: string; readonly variant: string | null },
): Promise<void> {
  const { products, visit } = await rehearsed(stage, 'cart', visitor, [product]);
  // Cart and checkout are decided for each line of the cart, which a rehearsal does not have.
  const lines = variant === null ? [] : [{ variantId: variant, quantity: 1 }];
  const { cart, checkout } = lines.length === 0 ? visit : await guarded({ stage, page }, { via: 'order', lines });
  const leaves = async (address: string, to: string | null) => {
    await page.goto(stage.shop.url + address, { waitUntil: 'commit' });
    const path = new URL(to ?? '/', stage.shop.url).pathname;
    await expect.poll(() => new URL(page.url()).pathname, { message: `${address} is closed` }).toBe(path);
  };
  if (!cart.open) {
    await leaves('/basket', cart.redirectTo);
    return;
  }
  await page.goto(`${stage.shop.url}/basket`);
  await expect(page.locator(map.cart!.links!)).toBeVisible();
  if (variant === null) return;
  const onward = page.locator(map.checkout!.links!);
  await (checkout.open ? expect(onward).toBeVisible() : expect(onward).toBeHidden());
  const { notes } = products[0]!.variants.find(({ id }) => id === variant)!.decision;
  const words = new Set(notes.map(({ html }) => wordsOf(html)).filter((text) => text !== ''));
  // The shop's server prints those of what is reserved, the script the others.
  const printed = page.locator(map.cartLine!.area).locator('[data-understudy-stand-in=note], .reserved p');
  await expect
    .poll(async () => (await printed.allInnerTexts()).map(wordsOf).sort(), { message: 'notes in the cart, each once' })
    .toEqual([...words].sort());

  if (!checkout.open) {
    await leaves('/checkout', checkout.redirectTo);
    return;
  }
  await page.goto(`${stage.shop.url}/checkout`);
  const order = page.locator(map.checkout!.order!);
  if (checkout.submitOrder.show) await expect(order).toBeVisible();
  else {
    await expect(order).toBeHidden();
    if (checkout.submitOrder.text !== null)
      await expect(page.locator('[data-understudy-stand-in=order]')).toHaveText(wordsOf(checkout.submitOrder.text));
  }
  for (const { code } of map.checkout!.methodCodes!) {
    const method = page.locator('input[name=method]').and(page.locator(`[value=${code}]`));
    if (checkout.hideMethods.includes(code)) {
      await expect(method).toBeHidden();
      await expect(method).not.toBeChecked();
    } else await expect(method).toBeVisible();
  }
}
