import { describe, expect, it } from 'vitest';
import type { PageMap } from '#core/contract/pageMap.ts';
import { patternSource } from '#core/contract/pathPattern.ts';
import { readRow, writeRow } from './mapRows.ts';

const PATH = '/productPage/path';
const map = (path: PageMap['productPage']['path']): PageMap => ({
  productPage: { path, area: 'main' },
  card: { area: 'li', link: 'a' },
  control: 'button',
});

describe('an address in the page map', () => {
  it('is read and written with stars, several by commas', () => {
    const written = writeRow(map('^/x'), PATH, '/plants/*,  /tools/**');
    expect(written.productPage.path).toEqual({ like: ['/plants/*', '/tools/**'] });
    expect(readRow(written, PATH)).toBe('/plants/*, /tools/**');
  });

  it('lists the names of parameters that tell products apart', () => {
    const PARAMETERS = '/productPage/parameters';
    const written = writeRow(map('^/item$'), PARAMETERS, 'i, colour');
    expect(written.productPage).toEqual({ path: '^/item$', area: 'main', parameters: ['i', 'colour'] });
    expect(readRow(written, PARAMETERS)).toBe('i, colour');
    expect(writeRow(written, PARAMETERS, '').productPage).not.toHaveProperty('parameters');
  });

  it('that begins with ^ is an expression', () => {
    expect(writeRow(map('^/x'), PATH, '^/plants/[^/]+$').productPage.path).toBe('^/plants/[^/]+$');
  });

  it('that was an expression without it is shown as one that finds the same', () => {
    const shown = readRow(map('/plants/'), PATH) ?? '';
    expect(shown).toBe('^.*/plants/');
    for (const path of ['/plants/', '/en/plants/fern', '/plant'])
      expect(new RegExp(shown).test(path)).toBe(path.includes('/plants/'));
  });

  it('that is empty is taken out with its branch', () => {
    const cart = { ...map('^/x'), cart: { path: { like: ['/cart'] } } };
    expect(writeRow(cart, '/cart/path', '')).toEqual(map('^/x'));
  });
});

describe('stars', () => {
  it.each([
    ['/plants/*', '/plants/fern', true],
    ['/plants/*', '/plants/fern/', true],
    ['/plants/*', '/plants/', false],
    ['/plants/*', '/plants/fern/reviews', false],
    ['/plants/**', '/plants/fern/reviews', true],
    ['/*/p/*', '/en/p/12', true],
    ['/a.b', '/aXb', false],
    ['/', '/', true],
    ['/', '/plants', false],
  ])('in %s mean of %s that it fits: %s', (like, path, fits) => {
    expect(new RegExp(patternSource({ like: [like] })).test(path)).toBe(fits);
  });
});
