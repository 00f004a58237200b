import { readdirSync, readFileSync } from 'node:fs';
import { build } from 'esbuild';
import type { Page } from '@playwright/test';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { PickerStart } from '#core/contract/pageMapCalls.ts';

/** Reads a theme and compares the result with its answers. */

export const PRODUCT = '/plants/paper-lantern';
export const LISTING = '/plants';

/** A product's page, and a listing where there is one; the attribute `truth` says what is what. */
export interface Theme {
  readonly name: string;
  readonly pages: readonly string[];
}

/** The catalog of all of them, in euro and cents, whatever a page says. */
export const KNOWN: Pick<PickerStart, 'products' | 'exponent'> = {
  exponent: 2,
  products: [
    ['paper-lantern', 'Dahlia Paper Lantern', [550, 1450], ['paper-lantern-1-tuber', 'paper-lantern-3-tubers']],
    ['saffron-hill', 'Saffron Hill', [600], ['saffron-hill-1-tuber']],
    ['night-post', 'Night Post', [450], ['night-post-1-tuber']],
    ['inkwell', 'Inkwell', [4800], ['inkwell-1']],
  ].map(([id, title, prices, variants]) => ({
    id,
    path: `/plants/${id as string}`,
    title,
    prices,
    variants,
  })) as PickerStart['products'],
};

export const themesIn = (folder: string): Theme[] =>
  readdirSync(folder)
    .filter((file) => file.endsWith('.html'))
    .map((file) => ({
      name: file.replace('.html', ''),
      pages: readFileSync(`${folder}/${file}`, 'utf8').split('<!--listing-->'),
    }));

/** The reading of pages, as one script that can be put into a page. */
export async function readingScript(): Promise<string> {
  const { outputFiles } = await build({
    stdin: {
      contents: `export { readPage } from './readPage.ts'; export { joined } from './join.ts';`,
      resolveDir: 'storefront/picker/reading',
      loader: 'ts',
    },
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'reading',
    target: 'es2022',
  });
  return outputFiles[0]?.text ?? '';
}

/** Correctness of each part; absent if the page has none. */
export type Right = Partial<
  Record<
    | 'control'
    | 'price'
    | 'cards'
    | 'variant'
    | 'quantity'
    | 'cart'
    | 'beside'
    | 'express'
    | 'quickView'
    | 'lines'
    | 'leads'
    | 'order'
    | 'methods',
    boolean
  >
>;

export interface Judged {
  readonly map: Partial<PageMap>;
  readonly why: object;
  readonly right: Right;
}

const CORE = ['control', 'price', 'cards'] as const;
export const isRight = (right: Right): boolean => CORE.every((part) => right[part] !== false);

/** Goes to a page of a theme, reads it when it has settled, and compares what was read with what its author meant. */
export async function judge(
  page: Page,
  script: string,
  at: { html: string; path: string; before?: object | undefined },
): Promise<Judged> {
  await page.route('http://shop.example/**', (route) =>
    new URL(route.request().url()).pathname === at.path
      ? route.fulfill({ contentType: 'text/html; charset=utf-8', body: at.html })
      : route.fulfill({ status: 404, body: '' }),
  );
  await page.goto(`http://shop.example${at.path}`);
  if (at.html.includes('setTimeout')) await page.waitForFunction(() => document.querySelector('[truth]') !== null);
  await page.addScriptTag({ content: script });
  const judged = await page.evaluate(compare, { known: KNOWN, before: at.before ?? null });
  await page.unroute('http://shop.example/**');
  return judged;
}

interface ReadingScript {
  readPage(page: Document, url: URL, known: object): { map: Partial<PageMap>; why: object };
  joined(before: object, found: object, page: Document): Partial<PageMap>;
}

/** Runs in the page. */
function compare({ known, before }: { known: typeof KNOWN; before: object | null }) {
  const all = (selector: string | undefined, tree: Document | Element | ShadowRoot = document): Element[] =>
    selector === undefined
      ? []
      : [
          ...tree.querySelectorAll(selector),
          ...[...(tree instanceof Element ? [tree] : []), ...tree.querySelectorAll('*')].flatMap((element) =>
            element.shadowRoot ? all(selector, element.shadowRoot) : [],
          ),
        ];
  const truth = new Map<string, Element[]>();
  for (const element of all('[truth]')) {
    const what = element.getAttribute('truth') ?? '';
    truth.set(what, [...(truth.get(what) ?? []), element]);
    element.removeAttribute('truth');
  }
  const { reading } = globalThis as unknown as { reading: ReadingScript };
  const found = reading.readPage(document, new URL(location.href), known);
  const map = before ? reading.joined(before, found.map, document) : found.map;
  const holds = (outer: Element, inner: Element): boolean => {
    const root = inner.getRootNode();
    return outer.contains(inner) || (root instanceof ShadowRoot && holds(outer, root.host));
  };
  const near = (a: Element, b: Element) => holds(a, b) || holds(b, a);
  const meant = (what: string) => truth.get(what) ?? [];
  const isProductPage =
    map.productPage !== undefined && new RegExp(map.productPage.path as string).test(location.pathname);
  const areas = [...(isProductPage ? all(map.productPage?.area) : []), ...all(map.quickView?.area)];
  const cards = all(map.card?.area);
  const within = (selector: string | undefined) =>
    [...new Set(all(selector))].filter((element) => [...areas, ...cards].some((area) => holds(area, element)));
  const right: Record<string, boolean> = {};
  const same = (a: readonly Element[], b: readonly Element[]) =>
    a.length === b.length && a.every((one) => b.includes(one));
  const pairs = (a: readonly Element[], b: readonly Element[]) =>
    a.length === b.length && b.every((one) => a.some((other) => near(one, other)));
  const links = cards.map((card) => (map.card && card.matches(map.card.link) ? card : all(map.card?.link, card)[0]));
  right.cards =
    pairs(cards, meant('card')) && links.every((link) => /^\/plants\/./.test(link?.getAttribute('href') ?? ''));
  right.control = same(within(map.control), meant('control'));
  const prices = within(map.price);
  right.price =
    pairs(prices, meant('price')) &&
    !prices.some((price) => meant('beside').some((other) => price !== other && holds(price, other)));
  right.quickView = same(all(map.quickView?.area), meant('quick-view'));
  right.lines = same(all(map.cartLine?.area), meant('line'));
  for (const line of all(map.cartLine?.area))
    right.lines &&= all(map.cartLine?.link, line)[0]?.getAttribute('href')?.startsWith('/plants/') ?? false;
  right.leads = meant('to-checkout').length === 0 || same(all(map.checkout?.links), meant('to-checkout'));
  right.order = same(all(map.checkout?.order), meant('order'));
  right.methods = same(all(map.checkout?.methods), meant('method'));
  const isOwn = (element: Element) => !meant('card').some((card) => holds(card, element));
  const fields = meant('variant').filter(isOwn);
  const variants = within(map.variant).filter(isOwn);
  if (fields.length > 0)
    right.variant =
      variants.length > 0 &&
      variants.every((one) => fields.includes(one)) &&
      (fields[0]?.matches('button, a, div') === true || same(variants, fields));
  const quantity = meant('quantity').filter(isOwn);
  if (quantity.length > 0) right.quantity = same(within(map.quantity).filter(isOwn), quantity);
  if (meant('cart').length > 0) right.cart = pairs(all(map.cart?.links), meant('cart'));
  if (meant('cart-drawer').length > 0) right.cart = pairs(all(map.cart?.links), meant('cart-drawer'));
  if (meant('beside').length > 0)
    right.beside = meant('beside').every((one) => within(map.besidePrice).some((other) => near(one, other)));
  if (meant('express').length > 0) right.express = same(within(map.express), meant('express'));
  return { map, why: found.why, right };
}
