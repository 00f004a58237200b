import Papa from 'papaparse';
import type { Encoding, Separator } from './fileReading.ts';

/** How much of a file is looked at to see how it is written. */
export const SAMPLE_BYTES = 1_000_000;

/** The start of a file, split into cells. */
export interface Sample {
  readonly headings: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly encoding: Encoding;
  readonly separator: Separator;
}

interface Start {
  readonly encoding: Encoding;
  /** Found in the text if missing. */
  readonly separator?: Separator | undefined;
  /** Whether this is all of the file; otherwise its last line may be cut off, and is left out. */
  readonly isWhole: boolean;
}

/** @param text decoded from the file's first `SAMPLE_BYTES` */
export function sampleOf(text: string, { encoding, separator, isWhole }: Start): Sample {
  const lines = isWhole ? text : text.slice(0, text.lastIndexOf('\n') + 1);
  const { data, meta } = Papa.parse<string[]>(lines, { skipEmptyLines: true, delimiter: separator ?? '' });
  const [headings = [], ...rows] = data;
  return {
    headings: headings.map((heading) => heading.trim()),
    rows,
    encoding,
    separator: separator ?? (meta.delimiter as Separator),
  };
}
