import { describe, expect, it } from 'vitest';
import { PageMap, scriptPageMap } from './pageMap.ts';
import { patternSource } from './pathPattern.ts';

const MAP = {
  productPage: { path: { like: ['/plants/*', '/tools/**'] }, area: 'main' },
  card: { area: 'li', link: 'a' },
  control: '.buy',
};

describe('a pattern of paths', () => {
  it.each([
    [['/plants/*'], '/plants/dahlia', true],
    [['/plants/*'], '/plants/dahlia/', true],
    [['/plants/*'], '/plants/dahlia/red', false],
    [['/plants/*'], '/plants/', false],
    [['/plants/**'], '/plants/dahlia/red', true],
    [['/a.b/*'], '/aXb/c', false],
    [['/plants/*', '/tools/*'], '/tools/fork', true],
    [['/plants/'], '/plants', true],
  ])('%j, asked for %s: %s', (like, path, expected) => {
    expect(new RegExp(patternSource({ like })).test(path)).toBe(expected);
  });
});

describe('a page map', () => {
  it('goes to pages without what only the check looks at, its patterns as expressions', () => {
    const map = PageMap.parse({
      ...MAP,
      site: 'https://quillfern.example',
      pages: ['/plants/dahlia'],
      checkout: { path: '^/pay', methodCodes: [{ code: 'card', name: 'Card' }] },
    });
    expect(scriptPageMap(map)).toEqual({
      ...MAP,
      productPage: { path: '^(?:/plants/[^/]+|/tools/.*)/?$', area: 'main' },
      checkout: { path: '^/pay' },
    });
  });

  it.each([
    ['an expression that is none', { ...MAP, productPage: { path: '(', area: 'main' } }],
    ['more stars than are quick', { ...MAP, productPage: { path: { like: ['/**/a/**/b/**'] }, area: 'main' } }],
    ['an empty selector', { ...MAP, control: ' ' }],
    ['a site that no browser opens', { ...MAP, site: 'ftp://quillfern.example' }],
    ['a key that it does not know', { ...MAP, basket: '.basket' }],
  ])('refuses %s', (_what, map) => {
    expect(PageMap.safeParse(map).success).toBe(false);
  });
});
