import { readdirSync, readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
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
import { IS_LONG, partOf } from '../support/sampling.ts';
import { madeTheme } from '../themes/made.ts';

/** Sets that were each written before the reading had seen them. */
const SETS = ['aside', 'second', 'third', 'fourth', 'fifth', 'sixth'];

/** Correct parts, and their number, over all pages of some themes. */
async function readAll(page: Page, themes: readonly Theme[]) {
  const script = await readingScript();
  const read = (html: string, path: string, before?: object) => judge(page, script, { html, path, before });
  const wrong: string[] = [];
  const parts: Record<string, { right: number; of: number }> = {};
  for (const { name, pages } of themes)
    await test.step(name, async () => {
      const [product = '', listing] = pages;
      const one = await read(product, PRODUCT);
      // Each page alone, then one after the other, looked at again on both.
      const two = listing === undefined ? undefined : await read(listing, LISTING);
      const both = listing === undefined ? undefined : await read(listing, LISTING, one.map);
      const again = both && (await read(product, PRODUCT, both.map));
      for (const [which, judged] of Object.entries({ one, two, both, again }))
        if (judged && !isRight(judged.right))
          wrong.push(`${name}, ${which}: ${JSON.stringify({ right: judged.right, map: judged.map })}`);
      for (const [part, isPartRight] of Object.entries(one.right)) {
        const counted = (parts[part] ??= { right: 0, of: 0 });
        counted.of += 1;
        if (isPartRight) counted.right += 1;
      }
    });
  return { wrong, share: (part: keyof Right) => (parts[part]?.right ?? 0) / (parts[part]?.of ?? 1) };
}

test('product pages that twelve different authors might have written are read as they were meant', async ({ page }) => {
  const themes = themesIn('tests/themes/first');
  expect(themes).toHaveLength(12);
  const { wrong, share } = await readAll(page, themes);
  expect(wrong).toEqual([]);
  expect(share('variant')).toBe(1);
  expect(share('cart')).toBe(1);
});

test('pages made from numbers are read as they were meant: each alone, and one after the other', async ({ page }) => {
  const { wrong, share } = await readAll(
    page,
    partOf(
      Array.from({ length: 24 }, (_, seed) => seed),
      4,
    ).map((seed) => madeTheme(seed)),
  );
  expect(wrong).toEqual([]);
  expect(share('quantity')).toBe(1);
  expect(share('beside')).toBe(1);
});

test('pages that were written before they were read are read as they were meant', async ({ page }) => {
  const { wrong, share } = await readAll(
    page,
    partOf(
      SETS.flatMap((set) => themesIn(`tests/themes/${set}`)),
      4,
    ),
  );
  expect(wrong).toEqual([]);
  // Of a few pages, one part that was missed is a large share.
  if (!IS_LONG) return;
  expect(share('variant')).toBeGreaterThan(0.9);
  expect(share('quantity')).toBe(1);
  expect(share('cart')).toBeGreaterThan(0.8);
  expect(share('beside')).toBeGreaterThan(0.9);
});

test('carts, checkouts and a product that opens over a listing are read as they were meant', async ({ page }) => {
  const script = await readingScript();
  const files = readdirSync('tests/themes/visits');
  expect(files.length).toBeGreaterThan(6);
  for (const file of files)
    await test.step(file, async () => {
      const [first = '', checkout] = readFileSync(`tests/themes/visits/${file}`, 'utf8').split('<!--checkout-->');
      const one = await judge(page, script, {
        html: first,
        path: checkout === undefined ? LISTING : '/visit/what',
      });
      const two =
        checkout === undefined
          ? undefined
          : await judge(page, script, { html: checkout, path: '/visit/pay', before: one.map });
      for (const { right, map } of [one, ...(two ? [two] : [])])
        expect(
          Object.entries(right).filter(([, isPartRight]) => !isPartRight),
          JSON.stringify(map),
        ).toEqual([]);
    });
});
