import iconv from 'iconv-lite';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { MESSY_FILES } from '#tests/files/messyFiles.ts';
import { rowConverter } from './rowConverter.ts';
import { isColumn } from './columns.ts';
import type { Separator } from './fileReading.ts';
import { encodingOf, guessReading } from './guessReading.ts';

const isUtf8 = (bytes: Uint8Array) => {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
};

describe('a file as shops have it', () => {
  it.each(MESSY_FILES.map((file) => [file.name, file] as const))('is read by itself: %s', (_name, file) => {
    const encoding = encodingOf(file.bytes, isUtf8(file.bytes));
    const text = iconv.decode(Buffer.from(file.bytes), encoding);
    const { data, meta } = Papa.parse<string[]>(text, { skipEmptyLines: true });
    const [headings = [], ...rows] = data;
    const sample = { headings, rows, encoding, separator: meta.delimiter as Separator };
    const { reading, asksForDates } = guessReading(file.target, sample);
    expect(reading.columns).toEqual(file.columns);
    expect(reading.columns.filter((column) => column !== null && !isColumn(file.target, column))).toEqual([]);
    expect(asksForDates).toBe(file.asksForDates ?? false);
    const ours = rowConverter(file.target, reading);
    expect(rows.slice(0, file.rows.length).map(ours)).toEqual(file.rows);
  });
});
