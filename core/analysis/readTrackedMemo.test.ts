import { expect, it } from 'vitest';
import { product, variant } from '#tests/support/oneVariant.ts';
import { ReadTrackedMemo } from './readTrackedMemo.ts';
import { Columns } from './columns.ts';

const rows = [
  { price: 900, reserved: 1 },
  { price: 400, reserved: 1 },
  { price: 400, reserved: 2 },
  { price: 700, reserved: 1 },
  { price: 400, reserved: 2 },
];
const variants = rows.map((facts, index) => ({ ...variant, ...facts, id: `v-${index}` }));

it('works out once what is alike in all that was read, however late it turns out what is read', () => {
  let calls = 0;
  // Of cheap goods alone it matters how many are reserved.
  const memo = new ReadTrackedMemo(new Columns([{ ...product, variants }]), (goods) => {
    calls += 1;
    return { label: goods.variant.price > 500 ? 'dear' : `cheap, ${goods.variant.reserved}` };
  });
  // A dear one first: till then only the price was read.
  expect([3, 1, 2, 0, 4].map((row) => memo.at(row).label)).toEqual([
    'dear',
    'cheap, 1',
    'cheap, 2',
    'dear',
    'cheap, 2',
  ]);
  expect(calls).toBe(4);
  expect(memo.at(3).label).toBe('dear');
});
