import { parse } from 'csv-parse/sync';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { generatedGoods, generatedPeople } from './generator.ts';

const written = readFileSync('demo/data/catalog.csv', 'utf8');
const read = (file: string, rows: string): Record<string, string>[] =>
  parse(readFileSync(`demo/data/${file}`, 'utf8') + rows, { columns: true });
const ids = new Set(written.split('\n').map((line) => line.split(',')[1] ?? ''));

describe('the nursery’s range', () => {
  it('is as large as a nursery’s, the same at every run, with no id twice', () => {
    const goods = read('catalog.csv', generatedGoods(ids));
    expect(new Set(goods.map(({ product_id }) => product_id)).size).toBe(260);
    expect(new Set(goods.map(({ variant_id }) => variant_id)).size).toBe(goods.length);
    expect(goods.length).toBeGreaterThan(600);
    expect(generatedGoods(ids)).toBe(generatedGoods(ids));
    const depth = goods.map(({ categories = '' }) => categories.split('|')[0]?.split('>').length ?? 0);
    expect(Math.max(...depth)).toBe(5);
  });
  it('has sizes that are out while the next is in, goods that are not counted, and growers of its own', () => {
    const goods = read('catalog.csv', generatedGoods(ids));
    const sizesOf = (id: string | undefined) => goods.filter(({ product_id }) => product_id === id);
    const products = [...new Set(goods.map(({ product_id }) => product_id))];
    const isMixed = (sizes: readonly Record<string, string>[]) =>
      sizes.some(({ stock_quantity }) => stock_quantity === '0') &&
      sizes.some(({ stock_quantity }) => Number(stock_quantity) > 0);
    expect(products.map(sizesOf).filter(isMixed).length).toBeGreaterThan(20);
    expect(goods.some(({ stock_tracked }) => stock_tracked === 'false')).toBe(true);
    const sellers = new Set(goods.map(({ seller }) => seller));
    expect(sellers).toEqual(new Set(['', 'Tidewater Ferns', 'The Long Bed', 'Marrow & Daughter']));
  });
  it('is bought by sixty people, some of whose memberships end within weeks', () => {
    const people = read('people.csv', generatedPeople());
    expect(people).toHaveLength(60);
    expect(new Set(people.map(({ email }) => email)).size).toBe(60);
    expect(people.every(({ email = '' }) => email.endsWith('@quillfern.example'))).toBe(true);
    const ends = people.flatMap(({ roles = '' }) => /\/(2026-01-\d\d)/.exec(roles)?.[1] ?? []);
    expect(ends.length).toBeGreaterThan(4);
  });
});
