import iconv from 'iconv-lite';
import { describe, expect, it } from 'vitest';
import { MESSY_FILES } from '#tests/files/messyFiles.ts';
import { rowConverter } from './rowConverter.ts';
import { isColumn } from './columns.ts';
import { encodingOf, guessReading } from './guessReading.ts';
import { sampleOf } from './sample.ts';

const isUtf8 = (bytes: Uint8Array) => {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
};

describe('a column of weights', () => {
  it.each([
    ['Weight (g)', 'grams'],
    ['Gewicht in Gramm', 'grams'],
    ['grams', 'grams'],
    // May be kilograms or pounds, so it stays as it is.
    ['Weight', 'attribute:Weight'],
    ['Weight kg', 'attribute:Weight kg'],
  ])('headed “%s” is read as %s', (heading, column) => {
    const rows = [['fern-1', '850']];
    const sample = { headings: ['variant_id', heading], rows, encoding: 'utf-8', separator: ',' } as const;
    expect(guessReading('catalog', sample).reading.columns[1]).toBe(column);
  });
});

describe('the start of a long file', () => {
  it('leaves out its last line, which may be cut off', () => {
    const text = 'variant_id;price\nfern-1;9.00\nfern-2;1';
    const { rows, separator } = sampleOf(text, { encoding: 'utf-8', isWhole: false });
    expect({ rows, separator }).toEqual({ rows: [['fern-1', '9.00']], separator: ';' });
    expect(sampleOf(text, { encoding: 'utf-8', isWhole: true }).rows).toHaveLength(2);
  });
});

describe('a file as shops have it', () => {
  it.each(MESSY_FILES.map((file) => [file.name, file] as const))('is read by itself: %s', (_name, file) => {
    const encoding = encodingOf(file.bytes, isUtf8(file.bytes));
    const text = iconv.decode(Buffer.from(file.bytes), encoding);
    const sample = sampleOf(text, { encoding, isWhole: true });
    const { rows } = sample;
    const { reading, asksForDates } = guessReading(file.target, sample);
    expect(reading.columns).toEqual(file.columns);
    expect(reading.columns.filter((column) => column !== null && !isColumn(file.target, column))).toEqual([]);
    expect(asksForDates).toBe(file.asksForDates ?? false);
    const ours = rowConverter(file.target, reading);
    expect(rows.slice(0, file.rows.length).map(ours)).toEqual(file.rows);
  });
});
