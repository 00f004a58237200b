import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { leavesOf } from '#core/rulebook/condition.ts';
import { outcome } from '../support/arbitraries.ts';
import { compareListing, compareProduct, originalSight } from '../support/comparing.ts';
import { press } from '../support/pressing.ts';
import { DRESSINGS, type Dressing } from '../support/programs.ts';
import type { Sight } from '../support/shopPage.ts';
import { sampled, SEED } from '../support/sampling.ts';
import { publishRules, send, signInAtShop, test } from '../support/stage.ts';
import { choose, lookQuickly, VISITORS, type Looking } from '../support/visitors.ts';

/**
 * Proof = page = guard: made-up rulebooks are published, and what the shop's pages show is compared with what the rehearsal
 * says; then what is there is pressed, and what the guard passes must succeed, what it refuses fail, on every way in.
 * `UNDERSTUDY_RULEBOOKS=200 bin/test tests/e2e/agreement.spec.ts` tries as many on each dressing; `--seed` takes others.
 */
const RULEBOOKS = Number(process.env.UNDERSTUDY_RULEBOOKS ?? sampled(9, 3));
/** Products looked at for each rulebook. */
const LOOKED_AT = 3;

const fact = (leaf: object) => fc.constant(leaf as Rule['when']);
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

for (const dressing of DRESSINGS)
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
      const originals = new Map<string, Sight>();
      for (const [turn, book] of fc.sample(rules, { seed: SEED, numRuns: RULEBOOKS }).entries()) {
        const looked = lookedAt(products, book, turn);
        const unknown = looked.filter(({ id }) => !originals.has(`listing ${id}`));
        if (unknown.length > 0) {
          await publishRules(stage, []);
          await lookWithoutRules(originals, { stage, dressing, map, page: plain }, unknown);
        }
        await publishRules(stage, book);
        const { visitor, page } = pages[turn % pages.length]!;
        const looking = { stage, dressing, map, page, visitor, originals };
        await test.step(`rulebook ${turn} for a ${visitor.name}: ${JSON.stringify(book)}`, async () => {
          await compareListing(looking, looked);
          for (const product of looked) await compareProduct(looking, product);
          await press(looking, looked);
        });
      }
      for (const { page } of pages) await page.context().close();
    });
  });

/** Pages without rules, of products that are not known yet. */
async function lookWithoutRules(
  originals: Map<string, Sight>,
  { stage, dressing, map, page }: Pick<Looking, 'stage' | 'dressing' | 'map' | 'page'>,
  products: readonly Product[],
): Promise<void> {
  const read = async (is: string, where: { area: string; path?: string }) =>
    originals.set(is, await originalSight({ page, map }, where));
  for (const { id, path, variants } of products) {
    await page.goto(stage.shop.url);
    await read(`listing ${id}`, { area: map.card.area, path: path! });
    await lookQuickly(page, dressing, path!);
    for (const [name, area] of [
      ['quick ', map.quickView!.area],
      ['', map.productPage.area],
    ] as const) {
      if (name === '') await page.goto(stage.shop.url + path!);
      for (const variant of variants) {
        if (variants.length > 1) await choose(page, dressing, variant.id);
        await read(`${name}${id} ${variant.id}`, { area });
      }
    }
  }
}
