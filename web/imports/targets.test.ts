import { expect, it } from 'vitest';
import { CATALOG, matched, PEOPLE } from './targets.ts';

it('columns are matched by their names and by what people call them, none twice', () => {
  expect(matched(['Variant ID', 'Qty', 'name', 'Title', 'colour', 'price'], CATALOG)).toEqual([
    'variant_id',
    'stock_quantity',
    'title',
    null,
    null,
    'price',
  ]);
  expect(matched(['Customer', 'E-Mail', 'Full name', 'Groups'], PEOPLE)).toEqual([
    'customer_id',
    'email',
    'name',
    'roles',
  ]);
});
