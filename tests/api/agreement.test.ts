import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Decision, SharedDecision } from '#core/engine/decision.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import type { AudienceFacts } from '#core/model/audience.ts';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { compile } from '#core/engine/compile.ts';
import { isBought } from '#core/controls/controls.ts';
import { cellsOf, rowsOf } from '#web/proof/proofRows.ts';
import { demoAudiences, demoRulebook, startNursery } from '../support/demo.ts';
import type { TestServer } from '../support/testServer.ts';

let server: TestServer;
let shop: ShopFacts;
let products: Product[];
const audiences = demoAudiences();

beforeAll(async () => {
  server = await startNursery();
  expect((await server.publish(demoRulebook(new Date(server.now)))).status).toBe(201);
  shop = (await server.send('GET', '/api/shop')).body as ShopFacts;
  products = ((await server.send('GET', '/api/products?limit=500')).body as { products: Product[] }).products;
});
afterAll(() => server.stop());

const SURFACES = ['product', 'listing'] as const;
const DAYS_AHEAD = [0, 30, 120, 200];

const visitorOf = async ({ signedIn, roles }: AudienceFacts) =>
  signedIn ? { visitor: await server.token('nobody-in-particular', roles) } : {};

interface Rehearsed {
  products: { id: string; decision: Decision | null; variants: { id: string; decision: Decision }[] }[];
}

describe('the proof, the rehearsal, the shop’s pages and the guard agree', () => {
  const cases = DAYS_AHEAD.flatMap((days) =>
    SURFACES.flatMap((surface) => audiences.map((audience) => ({ days, surface, audience, name: audience.name }))),
  );

  it.each(cases)('for $name on $surface, $days days from now', async ({ days, surface, audience }) => {
    server.now = Date.parse('2026-11-25T10:00:00Z') + days * 24 * 60 * 60 * 1000;
    const ids = products.map(({ id }) => id);
    const { signedIn, roles } = audience;
    const rehearsal = await server.send('POST', '/api/rehearsal/decisions', {
      body: {
        source: 'draft',
        surface,
        at: new Date(server.now).toISOString(),
        visitor: { signedIn, roles },
        products: ids,
      },
    });
    const rehearsed = new Map((rehearsal.body as Rehearsed).products.map((product) => [product.id, product]));
    const visitor = await visitorOf(audience);
    const storefront = (
      await server.send('POST', '/v1/decisions', { body: { surface, products: ids.map((id) => ({ id })), ...visitor } })
    ).body as DecisionsAnswer;
    const compiled = compile(demoRulebook(new Date('2026-11-25T10:00:00Z')), shop);
    const proof = { draft: compiled, live: compiled, audiences: [audience], surface, moment: server.now };
    const shown = new Map(rowsOf(products, surface).map((row) => [row.key, cellsOf(row, '', proof)[0]?.draft]));

    let compared = 0;
    for (const product of storefront.products) {
      const rehearsedProduct = rehearsed.get(product.id);
      for (const [index, variant] of product.variants.entries()) {
        const decision = rehearsedProduct?.variants[index]?.decision;
        expect(shared(decision)).toEqual(storefront.decisions[variant.decision]);
        if (surface === 'product') expect(decision).toEqual(shown.get(variant.id));
        compared += 1;
      }
      if (surface === 'listing') {
        expect(shared(rehearsedProduct?.decision)).toEqual(storefront.decisions[product.decision ?? -1]);
        expect(rehearsedProduct?.decision).toEqual(shown.get(product.id));
      }
    }
    expect(compared).toBe(72);
  });

  it.each(audiences)('about what $name may buy', async (audience) => {
    server.now = Date.parse('2026-11-25T10:00:00Z');
    const visitor = await visitorOf(audience);
    const ids = products.map(({ id }) => id);
    const answers = await Promise.all(
      SURFACES.map(async (surface) => {
        const { body } = await server.send('POST', '/v1/decisions', {
          body: { surface, products: ids.map((id) => ({ id })), ...visitor },
        });
        const { decisions, products } = body as DecisionsAnswer;
        return new Map(
          products.flatMap(({ variants }) => variants.map(({ id, decision }) => [id, decisions[decision]] as const)),
        );
      }),
    );
    const variants = products.flatMap((product) => product.variants);
    for (const via of ['cart', 'express'] as const) {
      const lines = variants.map(({ id, price }) => ({ variantId: id, quantity: 1, unitPrice: price }));
      const { body } = await server.send('POST', '/v1/guard', { body: { via, lines, ...visitor } });
      const verdicts = (body as { lines: { ok: boolean }[] }).lines;
      for (const [index, variant] of variants.entries()) {
        const isOffered = answers.some((decisions) => {
          const decision = decisions.get(variant.id);
          if (!decision) return false;
          return via === 'cart' ? isBought(decision.control) : decision.express === 'show';
        });
        const { tracked, quantity, sellPastZero } = variant.stock;
        const decision = answers[0]?.get(variant.id);
        const isThere = !tracked || sellPastZero || quantity > 0 || decision?.control.kind === 'preorder';
        const isEnough = decision?.limits.min === 1;
        expect(verdicts[index]?.ok, `${variant.id} via ${via}`).toBe(isOffered && isThere && isEnough);
      }
    }
  });
});

function shared(decision: Decision | null | undefined): SharedDecision | undefined {
  if (!decision) return undefined;
  const { productId: _product, variantId: _variant, surface: _surface, ...rest } = decision;
  return rest;
}
