import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { parse, pointerTo } from './validation.ts';

const faults = (schema: z.ZodType, input: unknown) => {
  const parsed = parse(schema, input);
  return parsed.ok ? [] : parsed.faults;
};
const Shelf = z.strictObject({
  name: z.string().max(5),
  units: z.int().min(1),
  kind: z.enum(['pot', 'tray']),
  tags: z.array(z.string()).min(1),
});
const SHELF = { name: 'North', units: 3, kind: 'pot', tags: ['fern'] };

describe('a document that is read by its schema', () => {
  it('is taken as it is when it fits', () => {
    expect(parse(Shelf, SHELF)).toEqual({ ok: true, value: SHELF });
  });

  it.each([
    [{ ...SHELF, name: 'Northern' }, '/name', '"Northern"', 'at most 5 characters'],
    [{ ...SHELF, units: 0 }, '/units', '0', 'at least 1'],
    [{ ...SHELF, units: 'three' }, '/units', '"three"', 'a number'],
    [{ ...SHELF, kind: 'box' }, '/kind', '"box"', 'one of "pot", "tray"'],
    [{ ...SHELF, tags: [] }, '/tags', '[]', 'at least 1 items'],
    [{ ...SHELF, tags: ['fern', 4] }, '/tags/1', '4', 'a text'],
    [{ ...SHELF, colour: 'red' }, '/colour', '"red"', 'no such key here'],
    [[], '', '[]', 'an object'],
  ])('names where %j is wrong, what is there and what may be', (input, pointer, found, allowed) => {
    expect(faults(Shelf, input)).toContainEqual({ pointer, found, allowed });
  });

  it('lists every fault, not the first', () => {
    expect(faults(Shelf, { ...SHELF, name: 4, kind: 'box', more: 1 })).toHaveLength(3);
  });

  it('speaks for the branch of a union that was meant', () => {
    const Control = z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('link'), href: z.string() }),
      z.strictObject({ kind: z.literal('notice'), text: z.string() }),
    ]);
    expect(faults(Control, { kind: 'link', href: 3 })).toEqual([{ pointer: '/href', found: '3', allowed: 'a text' }]);
    expect(faults(z.union([z.string(), z.array(z.string())]), 7)).toEqual([
      { pointer: '', found: '7', allowed: 'a text or a list' },
    ]);
  });

  it.each([
    ['NUL', { name: 'a\0b' }, '/name'],
    ['half of a character', { deep: [{ name: 'a\uD83D' }] }, '/deep/0/name'],
    ['half of a character in a name', { '\uD83D': 1 }, ''],
  ])('is refused with %s in it, which nothing can store', (_what, input, pointer) => {
    expect(faults(z.unknown(), input)).toMatchObject([{ pointer }]);
  });

  it('is refused for the length of a list before its items are looked at', () => {
    let looked = 0;
    const item = z.unknown().refine(() => {
      looked += 1;
      return false;
    });
    const Cart = z.strictObject({ lines: z.array(z.strictObject({ tags: z.array(item).max(3) })).max(2) }).optional();
    expect(faults(Cart, { lines: [1, 2, 3] })).toEqual([
      { pointer: '/lines', found: '3 items', allowed: 'at most 2 items' },
    ]);
    expect(faults(Cart, { lines: [{ tags: [] }, { tags: [1, 2, 3, 4] }] })).toEqual([
      { pointer: '/lines/1/tags', found: '4 items', allowed: 'at most 3 items' },
    ]);
    expect(looked).toBe(0);
    expect(faults(Cart, { lines: [{ tags: [1] }] })).toHaveLength(1);
    expect(looked).toBe(1);
  });

  it('lists at most a hundred faults, and little of keys that are not known', () => {
    expect(faults(z.array(z.int()), Array.from({ length: 500 }, String))).toHaveLength(100);
    const odd = Object.fromEntries(Array.from({ length: 500 }, (_, index) => [`${index}${'k'.repeat(5000)}`, 1]));
    const found = faults(Shelf, { ...SHELF, ...odd });
    expect(JSON.stringify(found).length).toBeLessThan(2000);
    expect(found.length).toBeGreaterThan(0);
  });

  it('is refused before its keys are looked at when there are too many', () => {
    const keysOf = (count: number) => Object.fromEntries(Array.from({ length: count }, (_, index) => [`k${index}`, 0]));
    const anything = z.record(z.string(), z.int());
    expect(faults(anything, keysOf(2000))).toEqual([]);
    expect(faults(anything, keysOf(2001))).toEqual([{ pointer: '', found: 'more', allowed: '2000 keys' }]);
    expect(faults(z.array(anything), [keysOf(30_000)])).toMatchObject([{ pointer: '/0', allowed: '2000 keys' }]);
  });

  it('is refused before anything walks it when it is nested too deep', () => {
    let deep: unknown = 1;
    for (let level = 0; level < 5000; level += 1) deep = [deep];
    expect(faults(z.unknown(), deep)).toMatchObject([{ allowed: '64 levels of nesting' }]);
  });

  it('shortens what it shows of a long value', () => {
    expect(faults(Shelf, { ...SHELF, name: 'x'.repeat(500) })[0]?.found).toHaveLength(78);
  });
});

describe('a pointer (RFC 6901)', () => {
  it('escapes ~ and /', () => {
    expect(pointerTo(['a/b', 'c~d', 0])).toBe('/a~1b/c~0d/0');
  });
});
