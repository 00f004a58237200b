import type { Encoding, Separator } from '#core/imports/fileReading.ts';
import { encodingOf } from '#core/imports/guessReading.ts';
import { SAMPLE_BYTES, sampleOf, type Sample } from '#core/imports/sample.ts';

/**
 * Splits the start of a file into cells.
 * @param known how it is written, as far as somebody said so
 */
export async function sampleOfFile(
  file: File,
  { encoding: chosen, separator }: { readonly encoding?: Encoding; readonly separator?: Separator } = {},
): Promise<Sample> {
  const bytes = new Uint8Array(await file.slice(0, SAMPLE_BYTES).arrayBuffer());
  const encoding = chosen ?? encodingOf(bytes, await isUtf8(file));
  const text = new TextDecoder(encoding).decode(bytes);
  return sampleOf(text, { encoding, separator, isWhole: file.size <= SAMPLE_BYTES });
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
