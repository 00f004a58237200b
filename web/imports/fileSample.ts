import Papa from 'papaparse';
import type { Encoding, Separator } from '#core/imports/fileReading.ts';
import { encodingOf, type Sample } from '#core/imports/guessReading.ts';

/** So much of a file is looked at to see how it is written. */
const LOOKED_AT = 1_000_000;

/**
 * The beginning of a file, parted into cells.
 * @param known how it is written, as far as somebody said so
 */
export async function sampleOf(
  file: File,
  known: { readonly encoding?: Encoding; readonly separator?: Separator } = {},
): Promise<Sample> {
  const bytes = new Uint8Array(await file.slice(0, LOOKED_AT).arrayBuffer());
  const encoding = known.encoding ?? encodingOf(bytes, await isUtf8(file));
  const text = new TextDecoder(encoding).decode(bytes);
  const isWhole = file.size <= LOOKED_AT;
  const whole = isWhole ? text : text.slice(0, text.lastIndexOf('\n') + 1);
  const { data, meta } = Papa.parse<string[]>(whole, { skipEmptyLines: true, delimiter: known.separator ?? '' });
  const [headings = [], ...rows] = data;
  const separator = known.separator ?? (meta.delimiter as Separator);
  return { headings: headings.map((heading) => heading.trim()), rows, encoding, separator };
}

/** Whether all of a file can be read as UTF-8. */
async function isUtf8(file: File): Promise<boolean> {
  try {
    const reader = file
      .stream()
      .pipeThrough(new TextDecoderStream('utf-8', { fatal: true }))
      .getReader();
    while (!(await reader.read()).done);
    return true;
  } catch {
    return false;
  }
}
