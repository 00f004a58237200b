import { expect, it } from 'vitest';
import { product, variant } from '#tests/support/oneVariant.ts';
import { Alike } from './alike.ts';
import { Columns } from './columns.ts';

const rows = [
  { price: 900, reserved: 1 },
  { price: 400, reserved: 1 },
  { price: 400, reserved: 2 },
  { price: 700, reserved: 1 },
  { price: 400, reserved: 2 },
];
const variants = rows.map((own, index) => ({ ...variant, ...own, id: `v-${index}` }));

it('works out once what is alike in all that was read, however late it turns out what is read', () => {
  let asked = 0;
  // Of cheap goods alone it matters how many are reserved.
  const told = new Alike(new Columns([{ ...product, variants }]), (goods) => {
    asked += 1;
    return { says: goods.variant.price > 500 ? 'dear' : `cheap, ${goods.variant.reserved}` };
  });
  // A dear one first: till then only the price was read.
  expect([3, 1, 2, 0, 4].map((row) => told.at(row).says)).toEqual(['dear', 'cheap, 1', 'cheap, 2', 'dear', 'cheap, 2']);
  expect(asked).toBe(4);
  expect(told.at(3).says).toBe('dear');
});
