import { readdirSync, readFileSync } from 'node:fs';
import type { Browser, Page } from '@playwright/test';
import type { getPageMap } from '#core/contract/pageMapCalls.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { z } from 'zod';
import { expect, pickerAddress, send, test, type Stage } from '../support/stage.ts';
import { forgetMaps } from '../support/pageMaps.ts';
import { staticShop } from '../support/staticShop.ts';
import {
  isRight,
  judge,
  LISTING,
  PRODUCT,
  readingScript,
  themesIn,
  type Right,
  type Theme,
} from '../support/themes.ts';
import { ANSWERS, type Answer } from '../themes/answers.ts';
import { madeTheme } from '../themes/made.ts';

const PATH = '/plants/paper-lantern';
const themes = readdirSync('tests/themes')
  .filter((file) => file.endsWith('.html'))
  .map((file) => file.replace('.html', ''));

type Maps = z.infer<(typeof getPageMap)['replies'][200]>;

test('the first proposal maps shop pages that twelve different authors might have written', async ({
  stage,
  browser,
}) => {
  const wrong: Record<string, string[]> = {};
  expect(themes).toHaveLength(12);
  for (const theme of themes) {
    await test.step(theme, async () => {
      await forgetMaps(stage);
      const line = `<script src="${stage.understudy.url}/embed.js"></script>`;
      const html = readFileSync(`tests/themes/${theme}.html`, 'utf8').replace('<!--embed-->', line);
      const shop = await staticShop([[PATH, html]]);
      const faults = await faultsOf({ stage, browser }, shop.url, ANSWERS[theme]!);
      if (faults.length > 0) wrong[theme] = faults;
      await shop.stop();
    });
  }
  expect(wrong).toEqual({});
});

/** How often each part was right, of how often there was one, over all pages of some themes. */
async function readAll(page: Page, themes: readonly Theme[]) {
  const script = await readingScript();
  const read = (html: string, path: string, before?: object) => judge(page, script, { html, path, before });
  const wrong: string[] = [];
  const parts: Record<string, { right: number; of: number }> = {};
  for (const { name, pages } of themes)
    await test.step(name, async () => {
      const [product = '', listing = ''] = pages;
      const one = await read(product, PRODUCT);
      const two = await read(listing, LISTING);
      // Each page alone, then one after the other, looked at again on both.
      const both = await read(listing, LISTING, one.map);
      const again = await read(product, PRODUCT, both.map);
      const isAll = Object.entries({ one, two, both, again }).filter(([, { right }]) => !isRight(right));
      wrong.push(...isAll.map(([which, { right, map }]) => `${name}, ${which}: ${JSON.stringify({ right, map })}`));
      for (const [part, isPartRight] of Object.entries(one.right)) {
        const counted = (parts[part] ??= { right: 0, of: 0 });
        counted.of += 1;
        if (isPartRight) counted.right += 1;
      }
    });
  return { wrong, share: (part: keyof Right) => (parts[part]?.right ?? 0) / (parts[part]?.of ?? 1) };
}

test('pages made from numbers are read as they were meant: each alone, and one after the other', async ({ page }) => {
  const { wrong, share } = await readAll(
    page,
    Array.from({ length: 24 }, (_, seed) => madeTheme(seed)),
  );
  expect(wrong).toEqual([]);
  expect(share('quantity')).toBe(1);
  expect(share('beside')).toBe(1);
});

test('pages that were written before they were read are read as they were meant, but for one', async ({ page }) => {
  const themes = ['aside', 'second', 'third'].flatMap((set) => themesIn(`tests/themes/${set}`));
  expect(themes).toHaveLength(26);
  const { wrong, share } = await readAll(page, themes);
  // A table whose rows are products, beside a listing that is rows too.
  expect(wrong.map((one) => one.split(':')[0])).toEqual(['01-ledger-dutch, again']);
  expect(share('variant')).toBeGreaterThan(0.8);
  expect(share('quantity')).toBe(1);
  expect(share('cart')).toBeGreaterThan(0.8);
});

interface Given {
  readonly stage: Stage;
  readonly browser: Browser;
}

/** What a proposal gets wrong on a page, by what its author would say. */
async function faultsOf({ stage, browser }: Given, site: string, answer: Answer): Promise<string[]> {
  const page = await (await browser.newContext()).newPage();
  await page.goto(await pickerAddress(stage, site + PATH));
  // Saved in the draft, or not whole enough for that.
  await expect(page.locator('.panel footer p').first()).toHaveText(/^(Saved in the draft|Still needed)/);
  const { draft } = (await send(stage, 'GET', '/api/page-map')) as Maps;
  const faults = draft ? await page.evaluate(compare, { map: draft.map, answer }) : ['it is not whole'];
  if (faults.length > 0 && draft) faults.push(JSON.stringify(draft.map));
  await page.context().close();
  return faults;
}

/** Runs in the page: what a map finds beside what its author would have it find. */
function compare({ map, answer }: { map: PageMap; answer: Answer }): string[] {
  const all = (selector: string | undefined, tree: Document | Element | ShadowRoot = document): Element[] =>
    selector === undefined
      ? []
      : [
          ...tree.querySelectorAll(selector),
          ...[...(tree instanceof Element ? [tree] : []), ...tree.querySelectorAll('*')].flatMap((element) =>
            element.shadowRoot && !element.hasAttribute('data-understudy-picker')
              ? all(selector, element.shadowRoot)
              : [],
          ),
        ];
  const holds = (outer: Element, inner: Element): boolean => {
    const root = inner.getRootNode();
    return outer.contains(inner) || (root instanceof ShadowRoot && holds(outer, root.host));
  };
  const faults: string[] = [];
  const report = (isRight: boolean, what: string) => {
    if (!isRight) faults.push(what);
  };
  const same = (a: readonly Element[], b: readonly Element[]) =>
    a.length === b.length && a.every((one) => b.includes(one));
  const areas = new RegExp(map.productPage.path as string).test(location.pathname) ? all(map.productPage.area) : [];
  const cards = all(map.card.area);
  const within = (selector: string | undefined) =>
    [...new Set(all(selector))].filter((element) => [...areas, ...cards].some((area) => holds(area, element)));

  const authorsCards = all(answer.cards);
  const near = (a: Element, b: Element) => holds(a, b) || holds(b, a);
  report(
    cards.length === authorsCards.length && cards.every((card) => authorsCards.some((other) => near(card, other))),
    'cards',
  );
  const links = cards.map((card) => (card.matches(map.card.link) ? card : all(map.card.link, card)[0]));
  report(
    links.every((link) => link?.getAttribute('href')?.startsWith('/plants/')),
    'links of cards',
  );
  report(same(within(map.control), all(answer.control)), 'control');
  const prices = all(answer.price);
  const found = within(map.price);
  report(found.length === prices.length && prices.every((price) => found.some((other) => near(price, other))), 'price');
  const isProducts = (element: Element) => !authorsCards.some((card) => holds(card, element));
  const [area] = areas;
  const controls = [...all(answer.control), ...prices].filter(isProducts);
  report(areas.length === 1 && controls.every((part) => area !== undefined && holds(area, part)), 'area');
  const variants = within(map.variant).filter(isProducts);
  report(answer.variant === null || same(variants, all(answer.variant).filter(isProducts)), 'variant');
  report(same(all(map.cart?.links), all(answer.cart)), 'cart');
  return faults;
}
