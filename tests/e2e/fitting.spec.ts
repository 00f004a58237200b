import type { Page } from '@playwright/test';
import { BUTTON_PAGES, pageOf } from '../support/buttonPages.ts';
import { forProduct } from '../support/noted.ts';
import { expect, publishRules, send, test, type Stage } from '../support/stage.ts';
import { staticShop } from '../support/staticShop.ts';
import { watch, watched } from '../support/watch.ts';

/** The product with a pre-order, with a waitlist and a price of the rule's own, and with words in the price's place. */
const PRODUCTS = { preorder: '/plants/paper-lantern', waitlist: '/plants/saffron-hill', link: '/plants/night-post' };

const MAP = {
  productPage: { path: '^/plants/[^/]+$', area: '[data-area]' },
  card: { area: '.no-card', link: 'a' },
  control: '[data-buy]',
  price: '[data-price]',
  besidePrice: '[data-was]',
};

async function prepare(stage: Stage, site: string): Promise<void> {
  await send(stage, 'PUT', '/api/page-map', { ...MAP, site });
  await publishRules(stage, [
    forProduct('paper-lantern', { control: { kind: 'preorder', label: 'Order ahead' } }),
    forProduct('saffron-hill', {
      control: { kind: 'waitlist', per: 'variant', label: 'Join the waitlist' },
      price: { adjust: { percent: -10 } },
    }),
    forProduct('night-post', {
      control: { kind: 'link', href: '/elsewhere', label: 'See it in the garden' },
      price: { show: false, text: 'Price on request' },
    }),
  ]);
}

/** Measured look of an element. */
interface Look {
  readonly words: string;
  readonly name: string;
  readonly style: Readonly<Record<string, string>>;
  readonly box: { readonly width: number; readonly height: number; readonly top: number };
  /** Start of its text, in px from the left, or from the right on right-to-left pages. */
  readonly edge: number;
  readonly isOn: boolean;
  /** Whether its words lie in its box and can be read. */
  readonly isRead: boolean;
  /** Of its words on what is behind them; null where that is of several colours. */
  readonly contrast: number | null;
}

/** The look of the first that is seen of what a selector finds. */
async function lookOf(page: Page, selector: string): Promise<Look> {
  await page.waitForFunction(
    (selector) =>
      [...document.querySelectorAll(selector)].some((one) => one.checkVisibility({ visibilityProperty: true })),
    selector,
  );
  return page.evaluate(readLook, selector);
}

function readLook(selector: string): Look {
  const element = [...document.querySelectorAll<HTMLElement>(selector)].find((one) =>
    one.checkVisibility({ visibilityProperty: true }),
  );
  if (!element) throw new Error(`nothing seen of ${selector}`);
  const computed = getComputedStyle(element);
  const style = Object.fromEntries(
    ['color', 'backgroundColor', 'borderRadius', 'fontSize', 'fontWeight', 'fontFamily', 'textTransform', 'display']
      .map((name) => [name, computed[name as 'color']] as const)
      .concat([['opacity', computed.opacity]]),
  );
  const box = element.getBoundingClientRect();
  const range = document.createRange();
  range.selectNodeContents(element);
  const texts: Text[] = [];
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) if (walker.currentNode.nodeValue?.trim()) texts.push(walker.currentNode as Text);
  const isInside = (text: Text) => {
    range.selectNodeContents(text);
    const words = range.getBoundingClientRect();
    const holder = text.parentElement!.getBoundingClientRect();
    return [box, holder].every(
      (outer) =>
        words.width > 8 &&
        words.left >= outer.left - 1 &&
        words.right <= outer.right + 1 &&
        words.top >= outer.top - 2 &&
        words.bottom <= outer.bottom + 2,
    );
  };
  range.selectNodeContents(texts[0] ?? element);
  const edges = range.getBoundingClientRect();
  const isInput = element instanceof HTMLInputElement;
  const words = isInput ? element.value : texts.map(({ data }) => data.trim()).join(' ');
  const rgba = (colour: string) => {
    const [r = 0, g = 0, b = 0, a = 1] = (colour.match(/[\d.]+/g) ?? []).map(Number);
    return { r, g, b, a };
  };
  const luminance = (colour: string) => {
    const { r, g, b } = rgba(colour);
    const [red = 0, green = 0, blue = 0] = [r, g, b]
      .map((part) => part / 255)
      .map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4));
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
  };
  let behind: Element | null = element;
  while (behind && rgba(getComputedStyle(behind).backgroundColor).a === 0) behind = behind.parentElement;
  const ground = luminance(behind ? getComputedStyle(behind).backgroundColor : 'rgb(255, 255, 255)');
  const ink = luminance(computed.color);
  const isPlain = !computed.backgroundImage.includes('gradient');
  return {
    words,
    name: element.getAttribute('aria-label') ?? element.title,
    style,
    box: { width: box.width, height: box.height, top: box.top },
    edge: getComputedStyle(document.body).direction === 'rtl' ? innerWidth - edges.right : edges.left,
    isOn: !element.matches(':disabled') && computed.pointerEvents !== 'none',
    isRead: isInput ? element.scrollWidth <= element.clientWidth + 1 : texts.length > 0 && texts.every(isInside),
    contrast: isPlain ? (Math.max(ground, ink) + 0.05) / (Math.min(ground, ink) + 0.05) : null,
  };
}

const CONTROL = '[data-buy], [data-understudy-stand-in=control]';
const PRICE = '[data-price], [data-understudy-stand-in=price]';
const TAKEN = ['backgroundColor', 'color', 'borderRadius', 'fontSize', 'fontWeight', 'fontFamily', 'textTransform'];
const of = ({ style }: Look, names: readonly string[]) => names.map((name) => `${name}: ${style[name] ?? ''}`);

test('stand-ins look as the shop’s own button does, say their words, and can be pressed, read and seen in focus', async ({
  stage,
  browser,
}) => {
  const shop = await staticShop([]);
  await prepare(stage, shop.url);
  const line = `<script src="${stage.understudy.url}/embed.js"></script>`;
  const page = await (await browser.newContext()).newPage();
  await watch(page, '[data-buy], [data-price], [data-was]', 'main');
  for (const each of BUTTON_PAGES)
    await test.step(each.name, async () => {
      shop.pages.set('/as-it-is', pageOf(each, ''));
      for (const path of Object.values(PRODUCTS)) shop.pages.set(path, pageOf(each, line));
      await page.goto(`${shop.url}/as-it-is`);
      const own = { control: await lookOf(page, CONTROL), price: await lookOf(page, PRICE) };

      await page.goto(shop.url + PRODUCTS.preorder);
      const preorder = await lookOf(page, CONTROL);
      expect.soft(preorder.words, `${each.name}: words`).toBe('Order ahead');
      expect.soft(['Order ahead', ''], `${each.name}: name for those who listen`).toContain(preorder.name);
      expect.soft(preorder.isRead, `${each.name}: a pre-order's words are read`).toBe(true);

      expect.soft([preorder.isOn, preorder.style.opacity], `${each.name}: can be pressed`).toEqual([true, '1']);
      if (!each.isIcon)
        expect
          .soft(Math.abs(preorder.box.height - own.control.box.height), `${each.name}: keeps its size`)
          .toBeLessThan(2);

      for (const [path, words, stands] of [
        [PRODUCTS.waitlist, 'Join the waitlist', /5[.,]40/],
        [PRODUCTS.link, 'See it in the garden', /Price on request/],
      ] as const) {
        await page.goto(shop.url + path);
        const control = await lookOf(page, CONTROL);
        const price = await lookOf(page, PRICE);
        const about = `${each.name}, ${words}`;
        expect.soft(control.words, about).toBe(words);
        expect.soft(control.isRead, `${about}: is read`).toBe(true);
        expect.soft(control.box.height, `${about}: height`).toBeGreaterThanOrEqual(44);
        expect.soft(control.box.width, `${about}: width`).toBeGreaterThanOrEqual(44);
        expect.soft(Number(control.style.opacity), about).toBe(1);
        expect.soft(control.contrast ?? 21, `${about}: contrast`).toBeGreaterThanOrEqual(4.5);
        if (!each.isFaint && !each.isIcon)
          expect.soft(of(control, TAKEN), `${about}: look`).toEqual(of(own.control, TAKEN));
        if (own.control.box.width > 400) expect.soft(control.box.width, about).toBeCloseTo(own.control.box.width, 0);
        expect.soft(price.words, about).toMatch(stands);
        const names = ['fontSize', 'fontWeight', 'fontFamily', 'color', 'display'];
        expect.soft(of(price, names), `${about}: price`).toEqual(of(own.price, names));
        expect.soft(Math.abs(price.box.top - own.price.box.top), `${about}: the price's place`).toBeLessThan(3);

        expect.soft(Math.abs(price.edge - own.price.edge), `${about}: the price's side`).toBeLessThan(3);

        await page.keyboard.press('Tab');
        while (!(await page.evaluate(() => document.activeElement?.matches('[data-understudy-stand-in]') ?? true)))
          await page.keyboard.press('Tab');
        const ring = await page.evaluate(() => {
          const { outlineStyle, outlineWidth } = getComputedStyle(document.activeElement!);
          return { outlineStyle, width: parseFloat(outlineWidth) };
        });
        expect.soft(ring, `${about}: focus`).toMatchObject({ outlineStyle: 'solid' });
        expect.soft(ring.width, `${about}: focus`).toBeGreaterThanOrEqual(2);
        const { seen, shift } = await watched(page);
        expect.soft(seen, `${about}: what was seen of the shop's own`).toEqual([]);
        expect.soft(shift, `${about}: shift`).toBe(0);
      }
    });
  await page.context().close();
  await shop.stop();
});

test('a page that is switched to other colours without a load has stand-ins in those', async ({ stage, browser }) => {
  const shop = await staticShop([]);
  await prepare(stage, shop.url);
  const css = `#buy{background:#135;color:#fff;border:0;padding:14px} .dark{background:#111;color:#eee} .dark #buy{background:#fd5;color:#210}
    @media (prefers-color-scheme: dark) { #buy { border-radius: 9px } }`;
  const html = '<p data-price>€14.50</p><button id="buy" data-buy>Add</button>';
  const line = `<script src="${stage.understudy.url}/embed.js"></script>`;
  shop.pages.set(PRODUCTS.link, pageOf({ name: '', css, html }, line));
  const page = await (await browser.newContext()).newPage();
  await page.goto(shop.url + PRODUCTS.link);
  const control = page.locator('[data-understudy-stand-in=control]');
  await expect(control).toHaveCSS('background-color', 'rgb(17, 51, 85)');
  await page.evaluate(() => {
    document.documentElement.classList.add('dark');
  });
  await expect(control).toHaveCSS('background-color', 'rgb(255, 221, 85)');
  await expect(control).toHaveCSS('color', 'rgb(34, 17, 0)');
  await page.emulateMedia({ colorScheme: 'dark' });
  await expect(control).toHaveCSS('border-radius', '9px');
  await page.context().close();
  await shop.stop();
});

test('a press on a stand-in is not heard by scripts of the page that wait for its button', async ({
  stage,
  browser,
}) => {
  const shop = await staticShop([]);
  await prepare(stage, shop.url);
  const listening = `<script>addEventListener('click', (event) => {
    if (event.target.closest('.buy')) { event.preventDefault(); document.title = 'put in'; }
  }, true); addEventListener('submit', () => { document.title = 'put in'; });</script>`;
  const page = await (await browser.newContext()).newPage();
  const html = '<p data-price>€14.50</p><form class="buy"><button class="buy" data-buy>Add</button></form>';
  shop.pages.set(
    PRODUCTS.link,
    pageOf({ name: '', css: '', html }, `<script src="${stage.understudy.url}/embed.js"></script>${listening}`),
  );
  shop.pages.set('/elsewhere', '<!doctype html><title>elsewhere</title>');
  await page.goto(shop.url + PRODUCTS.link);
  await page.getByRole('link', { name: 'See it in the garden' }).click();
  await expect(page).toHaveURL(/elsewhere$/);
  await page.context().close();
  await shop.stop();
});
