import { describe, expect, it } from 'vitest';
import { scriptPageMap, type PageMap } from '#core/contract/pageMap.ts';
import { PART_KEYS, PARTS, type PartKey } from '#core/places/parts.ts';
import { whatMapFinds } from '../../server/pageMap/whatMapFinds.ts';
import { foundOn, PARTS as PICKED } from '../../storefront/picker/parts.ts';
import { areasOnPage } from '../../storefront/script/areas.ts';
import { findAll } from '../../storefront/script/roots.ts';
import { openPage } from '../support/pageDocument.ts';

const buy = (name: string) => `<p class="cost">€5.00 ${name}</p><button class="add">Add ${name}</button>`;
const card = (name: string) => `<li class="card"><a href="/plants/${name}">${name}</a>${buy(name)}</li>`;

/** Pages where a part could be counted twice or for the wrong product, with the expected counts. */
const PAGES: Readonly<Record<string, { path: string; html: string; found: Partial<Record<PartKey, number>> }>> = {
  'cards inside the area of a product’s page': {
    path: '/plants/aster',
    html: `<main class="product"><h1>Aster</h1>${buy('aster')}<ul>${card('fern')}${card('iris')}</ul></main>`,
    found: { productPage: 1, card: 2, cardLink: 2, control: 3, price: 3, title: 1 },
  },
  'the area of a product’s page at an address of another kind': {
    path: '/',
    html: `<main class="product"><h1>Welcome</h1>${buy('of the week')}<ul>${card('fern')}</ul></main>`,
    found: { card: 1, cardLink: 1, control: 1, price: 1 },
  },
  'parts outside every area': {
    path: '/plants/aster',
    html: `<p class="cost">€2.00 for delivery</p><main class="product">${buy('aster')}</main><button class="add">News</button>`,
    found: { productPage: 1, control: 1, price: 1 },
  },
  'lines of the cart, which show prices as well': {
    path: '/cart',
    html: `<table><tr class="line"><td><a href="/plants/fern">Fern</a><a href="/remove">x</a></td><td class="cost">€3</td></tr>
      <tr class="line"><td><a href="/plants/iris">Iris</a></td><td class="cost">€4</td></tr></table>
      <a class="to-checkout" href="/checkout">Checkout</a>`,
    found: { cartLine: 2, price: 2, checkoutLinks: 1 },
  },
  'cards that are links themselves, with a second link in one': {
    path: '/plants/',
    html: `<a class="card" href="/plants/fern">Fern<span class="cost">€3</span></a>
      <div class="card"><a href="/plants/iris">Iris</a><a href="/plants/iris#more">More</a><span class="cost">€4</span></div>`,
    found: { card: 2, cardLink: 2, price: 2 },
  },
  'an area inside an area of the same kind': {
    path: '/plants/',
    html: `<div class="card"><a href="/plants/set">Set</a>${buy('set')}${card('fern')}</div>`,
    found: { card: 2, cardLink: 2, control: 2, price: 2 },
  },
};

const MAP: PageMap = {
  productPage: { path: '^/plants/[^/]+$', area: '.product' },
  card: { area: '.card', link: 'a' },
  cartLine: { area: '.line', link: 'a' },
  control: '.add',
  price: '.cost',
  title: 'h1',
  checkout: { links: '.to-checkout' },
};

const counts = (of: (part: PartKey) => number) =>
  Object.fromEntries(PART_KEYS.flatMap((part) => (of(part) > 0 ? [[part, of(part)]] : [])));

describe('script, picker and check find the same parts of a page:', () => {
  it.each(Object.entries(PAGES))('%s', (_name, { path, html, found }) => {
    const document = openPage(html, `https://quillfern.example${path}`);
    const map = scriptPageMap(MAP);
    const areas = areasOnPage(map);
    const surfaces = { productPage: 'product', card: 'listing', cartLine: 'cart', quickView: 'quickView' } as const;
    const byScript = (part: PartKey) => {
      if (part in surfaces) return areas.filter(({ surface }) => surface === Reflect.get(surfaces, part)).length;
      if (part === 'cardLink') return areas.filter(({ surface }) => surface === 'listing').length;
      const selector = PARTS[part].read(map);
      return PARTS[part].within === 'page'
        ? findAll(document, selector, map).length
        : areas.flatMap((area) => area.parts(selector)).length;
    };
    const checked = whatMapFinds(html, path, MAP);
    const byCheck = (part: PartKey) => checked.find((line) => line.part === part)?.found ?? 0;
    const byPicker = (part: PartKey) => {
      const isElsewhere = part === 'productPage' && !/^\/plants\/[^/]+$/.test(path);
      return isElsewhere
        ? 0
        : foundOn(
            document,
            path,
            MAP,
            PICKED.find(({ key }) => key === part)!,
          ).length;
    };
    expect({ script: counts(byScript), check: counts(byCheck), picker: counts(byPicker) }).toEqual({
      script: found,
      check: found,
      picker: found,
    });
  });
});
