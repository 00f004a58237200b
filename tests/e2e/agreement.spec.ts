import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import type { APIRequestContext, Page } from '@playwright/test';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { Decision } from '#core/contract/decision.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import type { GuardAnswer } from '#core/contract/storefront.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { leavesOf } from '#core/decide/group.ts';
import { outcome } from '../support/arbitraries.ts';
import type { Dressing } from '../support/programs.ts';
import { expectedSight, sightOf, type Sight } from '../support/shopPage.ts';
import { expect, publishRules, send, signInAtShop, test, type Stage } from '../support/stage.ts';
import type { z } from 'zod';

/**
 * Proof = page = guard: made-up rulebooks are published, and what the shop's pages show is compared with what the rehearsal
 * says; then what is there is pressed, and what the guard passes must succeed, what it refuses fail, on every way in.
 * `UNDERSTUDY_RULEBOOKS=200 npm run e2e -- agreement` tries as many on each dressing; `UNDERSTUDY_SEED` takes others.
 */
const RULEBOOKS = Number(process.env.UNDERSTUDY_RULEBOOKS ?? 9);
const SEED = Number(process.env.UNDERSTUDY_SEED ?? 20_261_126);
/** Products looked at for each rulebook. */
const LOOKED_AT = 3;

const VISITORS = [
  { name: 'guest', customer: null, roles: [] },
  { name: 'customer', customer: 'Greta Holm', id: 'c-07', roles: [] },
  { name: 'trade', customer: 'Jonas Reed', id: 'c-10', roles: ['trade'] },
] as const;

const fact = (own: object) => fc.constant(own as Rule['when']);
const goods = fc.oneof(
  ...['ships-spring', 'plug', 'surplus', 'bare root', 'cut flower'].map((tag) =>
    fact({ fact: 'product.tags', op: 'hasAny', value: [tag] }),
  ),
  ...['plants', 'plants/hedging', 'tools', 'seeds'].map((id) =>
    fact({ fact: 'product.categories', op: 'within', value: [id] }),
  ),
  ...['outOfStock', 'inStock', 'untracked'].map((status) => fact({ fact: 'stock.status', op: 'in', value: [status] })),
  fact({ fact: 'variant.price', op: 'lt', value: 900 }),
  fact({ fact: 'product', op: 'every', value: true }),
);
const more = fc.oneof(
  fact({ fact: 'visitor.signedIn', op: 'is', value: true }),
  fact({ fact: 'visitor.roles', op: 'hasAny', value: ['trade'] }),
  fact({ fact: 'visitor.roles', op: 'hasNone', value: ['trade'] }),
  fact({ fact: 'surface', op: 'in', value: ['listing'] }),
  fact({ fact: 'surface', op: 'in', value: ['product'] }),
);
const rules: fc.Arbitrary<Rule[]> = fc
  .array(fc.record({ one: goods, two: fc.option(more, { nil: null }), then: outcome }), { minLength: 1, maxLength: 4 })
  .map((all) =>
    all
      .filter(({ then }) => Object.keys(then).length > 0)
      .map(({ one, two, then }, index) => ({
        id: `rule-${index}`,
        on: true,
        when: two === null ? one : { all: [one, two] },
        then,
      })),
  );

interface Rehearsed {
  readonly products: readonly {
    readonly id: string;
    readonly decision: Decision | null;
    readonly variants: readonly { readonly id: string; readonly decision: Decision }[];
  }[];
}
type Verdict = z.infer<typeof GuardAnswer>;

const mapOf = (dressing: Dressing) =>
  JSON.parse(readFileSync(`demo/data/pageMaps/${dressing}.json`, 'utf8')) as PageMap;

/** Products to look at: those that the rules name first. */
function lookedAt(products: readonly Product[], book: readonly Rule[], turn: number): Product[] {
  const named = new Set(
    book.flatMap(({ when }) => leavesOf(when).flatMap((leaf) => (leaf.fact === 'product.tags' ? leaf.value : []))),
  );
  const first = products.filter(({ tags }) => tags.some((tag) => named.has(tag)));
  const rest = products.filter((product) => !first.includes(product));
  const from = (list: readonly Product[], at: number) => (list.length > 0 ? [list[at % list.length]!] : []);
  const several = rest.filter(({ variants }) => variants.length > 1);
  return [...new Set([...from(first, turn), ...from(several, turn), ...from(rest, turn * 7 + 3)])].slice(0, LOOKED_AT);
}

/** Chooses a size on a product's page, as each dressing has it. */
async function choose(page: Page, dressing: Dressing, variant: string): Promise<void> {
  if (dressing === 'forms') await page.locator('select[name=variant]').selectOption(variant);
  else if (dressing === 'script') await page.locator(`[data-size="${variant}"]`).click();
  else await page.locator(`input[type=radio][value="${variant}"]`).check();
}

for (const dressing of ['forms', 'script', 'elements'] as const)
  test.describe(`proof, page and guard, dressed as ${dressing}`, () => {
    test.use({ dressing });
    test('agree', async ({ stage, browser }) => {
      test.setTimeout(60_000 + RULEBOOKS * 60_000);
      const map = mapOf(dressing);
      const all = ((await send(stage, 'GET', '/api/products?limit=500')) as { products: Product[] }).products;
      const products = all.filter(({ path, attributes }) => path !== null && !('sold-at' in attributes));
      const pages = await Promise.all(
        VISITORS.map(async (visitor) => {
          const page = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage();
          if (visitor.customer !== null) await signInAtShop(page, stage.shop.url, visitor.customer);
          return { visitor, page };
        }),
      );
      const { page: plain } = pages[0]!;
      for (const [turn, book] of fc.sample(rules, { seed: SEED, numRuns: RULEBOOKS }).entries()) {
        const looked = lookedAt(products, book, turn);
        // What the pages are by themselves.
        await publishRules(stage, []);
        const own = new Map<string, Sight>();
        await plain.goto(stage.shop.url);
        for (const { id, path } of looked)
          own.set(`listing ${id}`, await ownSight(plain, map, { area: map.card.area, path: path! }));
        for (const { id, path, variants } of looked) {
          await plain.goto(stage.shop.url + path!);
          for (const variant of variants) {
            if (variants.length > 1) await choose(plain, dressing, variant.id);
            own.set(`${id} ${variant.id}`, await ownSight(plain, map, { area: map.productPage.area }));
          }
        }
        await publishRules(stage, book);
        const { visitor, page } = pages[turn % pages.length]!;
        await test.step(`rulebook ${turn} for a ${visitor.name}: ${JSON.stringify(book)}`, async () => {
          await compareListing(stage, { map, page, visitor, looked, own });
          for (const product of looked) await compareProduct(stage, { dressing, map, page, visitor, product, own });
          for (const product of looked) await press(stage, page, product, visitor);
        });
      }
      for (const { page } of pages) await page.context().close();
    });
  });

type Visitor = (typeof VISITORS)[number];
interface Looking {
  readonly map: PageMap;
  readonly page: Page;
  readonly visitor: Visitor;
  readonly own: ReadonlyMap<string, Sight>;
}

const rehearsed = async (
  stage: Stage,
  surface: 'product' | 'listing',
  { roles, customer, ...who }: Visitor,
  ids: string[],
) =>
  (await send(stage, 'POST', '/api/rehearsal/decisions', {
    source: 'draft',
    surface,
    locale: 'en',
    visitor: { signedIn: customer !== null, roles, ...('id' in who ? { customerId: who.id } : {}) },
    products: ids,
  })) as Rehearsed;

/** What a page without rules shows: its own control, which is out of sight until that is known. */
async function ownSight(page: Page, map: PageMap, where: { area: string; path?: string }): Promise<Sight> {
  await expect.poll(async () => (await sightOf(page, map, where))?.control ?? null).not.toBeNull();
  return (await sightOf(page, map, where))!;
}

/** Visits for whom no order can be placed, by the guard's own word. */
async function isShut(page: Page, { understudy }: Stage): Promise<boolean> {
  const visitor = await page.locator('script[data-locale]').getAttribute('data-visitor');
  const body = { surface: 'product', products: [], ...(visitor ? { visitor } : {}) };
  const answer = await fetch(`${understudy.url}/v1/decisions`, asJson(body));
  const { cart, checkout } = ((await answer.json()) as { visit: Pick<Verdict, 'cart' | 'checkout'> }).visit;
  return !(cart.open && checkout.open && checkout.submitOrder.show);
}

const asJson = (body: object) => ({
  method: 'POST',
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

async function compareListing(
  stage: Stage,
  { map, page, visitor, own, looked }: Looking & { looked: readonly Product[] },
) {
  const { products } = await rehearsed(
    stage,
    'listing',
    visitor,
    looked.map(({ id }) => id),
  );
  await page.goto(stage.shop.url);
  const shut = await isShut(page, stage);
  for (const { id, path, variants } of looked) {
    const decision = products.find((one) => one.id === id)?.decision;
    if (!decision) throw new Error(`${id} is not rehearsed`);
    const where = { area: map.card.area, path: path! };
    if (decision.visibility.state !== 'shown') {
      const card = page.locator(map.card.area).filter({ has: page.locator(`a[href="${path!}"]`) });
      await expect(card.first()).toBeHidden();
      continue;
    }
    const at = { surface: 'listing', path: path!, variant: variants[0]!.id, understudy: stage.understudy.url } as const;
    const expected = expectedSight(own.get(`listing ${id}`)!, decision, { ...at, isShut: shut });
    await expect
      .poll(() => sightOf(page, map, where), { message: `${id} on the listing`, timeout: 5000 })
      .toEqual(expected);
  }
}

async function compareProduct(
  stage: Stage,
  { dressing, map, page, visitor, own, product }: Looking & { dressing: Dressing; product: Product },
) {
  const { id, path, variants } = product;
  const decided = (await rehearsed(stage, 'product', visitor, [id])).products[0]!.variants;
  await page.goto(stage.shop.url + path!, { waitUntil: 'commit' });
  const away = decided[0]?.decision.visibility;
  if (decided.some(({ decision }) => decision.visibility.state === 'blocked')) {
    // The size that is chosen first decides whether the page answers.
    if (away?.state === 'blocked') {
      const to = new URL(away.redirectTo ?? '/', stage.shop.url).pathname;
      await expect.poll(() => new URL(page.url()).pathname, { message: `${id} is blocked` }).toBe(to);
    }
    return;
  }
  await page.waitForLoadState();
  const shut = await isShut(page, stage);
  for (const { id: variant } of variants) {
    const decision = decided.find((one) => one.id === variant)!.decision;
    if (variants.length > 1) await choose(page, dressing, variant);
    const at = { surface: 'product', path: path!, variant, understudy: stage.understudy.url } as const;
    const expected = expectedSight(own.get(`${id} ${variant}`)!, decision, { ...at, isShut: shut });
    await expect
      .poll(() => sightOf(page, map, { area: map.productPage.area }), {
        message: `${variant} on its page`,
        timeout: 5000,
      })
      .toEqual(expected);
  }
}

/** Every way in: the cart, express pay, the order; as a form sent straight to the shop. */
async function press(stage: Stage, page: Page, { variants }: Product, { customer }: Visitor) {
  const { request } = page.context();
  const visitor = await page.locator('script[data-locale]').first().getAttribute('data-visitor');
  const person: Record<string, string> =
    customer === null ? { email: 'wren@quillfern.example', name: 'Wren Hollis' } : {};
  const guard = async (body: object) =>
    (await (
      await fetch(
        `${stage.understudy.url}/v1/guard`,
        asJson({ ...body, locale: 'en', ...(visitor ? { visitor } : {}) }),
      )
    ).json()) as Verdict;
  const post = (path: string, form: Record<string, string>) =>
    request.post(stage.shop.url + path, { form, maxRedirects: 0 });
  for (const { id } of variants.slice(0, 2)) {
    const line = { variantId: id, quantity: 1 };
    const express = await guard({ via: 'order', lines: [{ ...line, via: 'express' }] });
    const paid = await post('/swift-pay', { variant: id, quantity: '1', ...person });
    expect([paid.status(), leadsTo(paid)], `express pay of ${id}`).toEqual(express.ok ? [303, '/order/'] : [409, null]);

    const inCart = await guard({ via: 'cart', lines: [line] });
    const put = await post('/basket/add', { variant: id, quantity: '1' });
    expect([put.status(), leadsTo(put)], `the cart with ${id}`).toEqual(inCart.ok ? [303, '/basket'] : [409, null]);
    if (!inCart.ok) continue;
    for (const method of ['card', 'invoice']) {
      const asked = await guard({
        via: 'order',
        method,
        lines: [{ ...line, unitPrice: inCart.lines[0]!.unitPrice ?? undefined }],
      });
      const terms = asked.lines[0]?.preorder?.terms;
      const ordered = await post('/checkout', { method, ...person, ...(terms ? { terms: `${id} ${terms}` } : {}) });
      expect(ordered.status(), `an order of ${id} by ${method}`).toBe(asked.ok ? 303 : 409);
    }
    await emptied(request, stage, id);
    await unreserved(stage, id);
  }
}

const leadsTo = (response: { headers: () => Record<string, string> }) =>
  /^\/(?:order\/|basket)/.exec(response.headers().location ?? '')?.[0] ?? null;

const emptied = (request: APIRequestContext, { shop }: Stage, variant: string) =>
  request.post(`${shop.url}/basket/take-out`, { form: { variant }, maxRedirects: 0 });

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
      tell: false,
    });
}
