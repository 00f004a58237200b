import { describe, expect, it } from 'vitest';
import { openPage } from '#tests/support/pageDocument.ts';
import { decided, make } from '#tests/support/oneVariant.ts';
import type { Area } from './areas.ts';
import { updateStructuredData } from './structured.ts';

const RESERVED = decided([make('reserve', { control: { kind: 'preorder' } })]);
const HIDDEN = decided([make('hide', { price: { show: false } })]);
const REDUCED = decided([make('less', { price: { adjust: { fixed: 1000 } } })]);
const OWN = decided([]);

/** Returns the page's JSON-LD after an update, with the same decision for every product at the given paths. */
function written(data: object, decision: typeof OWN, paths = ['/plants/dahlia']): unknown {
  const page = openPage(`<script type="application/ld+json">${JSON.stringify(data)}</script>`);
  const decisionsAt = ({ pathname }: Pick<URL, 'pathname'>) => (paths.includes(pathname) ? () => decision : undefined);
  updateStructuredData({ areas: [], decisionsAt, isNew: true });
  return JSON.parse(page.querySelector('script')?.textContent ?? '');
}

const OFFER = { '@type': 'Offer', price: '14.50', availability: 'https://schema.org/InStock' };
const product = (offers: object) => ({ '@type': 'Product', url: '/plants/dahlia', offers });

describe('the structured data of a page', () => {
  it('tells the availability that was decided, and leaves a price that nobody decided', () => {
    expect(written(product(OFFER), RESERVED)).toEqual(
      product({ ...OFFER, availability: 'https://schema.org/PreOrder' }),
    );
  });

  it('has no price where the page hides it, in ranges neither', () => {
    const range = { '@type': 'AggregateOffer', lowPrice: '5', highPrice: '14.50', offerCount: 2 };
    expect(written(product(range), HIDDEN)).toEqual(
      product({ '@type': 'AggregateOffer', offerCount: 2, availability: 'https://schema.org/InStock' }),
    );
  });

  it('has the price that was decided, with the digits of its currency', () => {
    expect(written(product(OFFER), REDUCED)).toMatchObject({ offers: { price: '10.00' } });
  });

  it('finds products inside graphs and lists, and leaves those that are not known', () => {
    const other = { ...product(OFFER), url: '/plants/other' };
    const graph = { '@graph': [{ '@type': 'ItemList', itemListElement: [{ item: product(OFFER) }, { item: other }] }] };
    expect(written(graph, HIDDEN)).toEqual({
      '@graph': [
        {
          '@type': 'ItemList',
          itemListElement: [
            { item: product({ '@type': 'Offer', availability: 'https://schema.org/InStock' }) },
            { item: other },
          ],
        },
      ],
    });
  });

  it('that is not JSON stays as the shop wrote it', () => {
    const page = openPage('<script type="application/ld+json">{"@type": </script>');
    updateStructuredData({ areas: [], decisionsAt: () => () => HIDDEN, isNew: true });
    expect(page.querySelector('script')?.textContent).toBe('{"@type": ');
  });

  it.each([
    [HIDDEN, '', 'https://schema.org/InStock'],
    [REDUCED, '10.00', 'https://schema.org/InStock'],
    [RESERVED, '14.50', 'https://schema.org/PreOrder'],
  ])('is put right in microdata too', (decision, price, availability) => {
    const page = openPage(
      '<main><meta itemprop="price" content="14.50"><link itemprop="availability" href="https://schema.org/InStock"></main>',
    );
    const parts = (selector?: string) => [...page.querySelectorAll(selector ?? 'none')];
    const area: Area = {
      element: page.body,
      link: page.body,
      path: '/plants/dahlia',
      surface: 'product',
      parts,
    };
    updateStructuredData({ areas: [[area, decision]], decisionsAt: () => undefined, isNew: false });
    expect(page.querySelector('meta')?.getAttribute('content')).toBe(price);
    expect(page.querySelector('link')?.getAttribute('href')).toBe(availability);
  });
});
