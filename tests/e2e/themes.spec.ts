import { readdirSync, readFileSync } from 'node:fs';
import pg from 'pg';
import type { Browser } from '@playwright/test';
import type { getPageMap } from '#core/contract/pageMapCalls.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { z } from 'zod';
import { expect, pickerAddress, send, test, type Stage } from '../support/stage.ts';
import { staticShop } from '../support/staticShop.ts';
import { ANSWERS, type Answer } from '../themes/answers.ts';

const PATH = '/plants/paper-lantern';
const themes = readdirSync('tests/themes')
  .filter((file) => file.endsWith('.html'))
  .map((file) => file.replace('.html', ''));

type Maps = z.infer<(typeof getPageMap)['replies'][200]>;

test('the first proposal maps shop pages that twelve different authors might have written', async ({
  stage,
  browser,
}) => {
  const database = new pg.Client({ connectionString: stage.databaseUrl });
  await database.connect();
  const wrong: Record<string, string[]> = {};
  expect(themes).toHaveLength(12);
  for (const theme of themes) {
    await test.step(theme, async () => {
      await database.query('DELETE FROM page_maps');
      const line = `<script src="${stage.understudy.url}/embed.js"></script>`;
      const html = readFileSync(`tests/themes/${theme}.html`, 'utf8').replace('<!--embed-->', line);
      const shop = await staticShop([[PATH, html]]);
      const faults = await faultsOf({ stage, browser }, shop.url, ANSWERS[theme]!);
      if (faults.length > 0) wrong[theme] = faults;
      await shop.stop();
    });
  }
  await database.end();
  expect(wrong).toEqual({});
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
