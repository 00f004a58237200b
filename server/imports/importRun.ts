import type { ImportReport } from '#core/contract/importCalls.ts';
import type { ShopFacts } from '#core/decide/subject.ts';
import type { Row } from './rows.ts';

/** One import: what to bring in, and how. */
export interface ImportRun {
  readonly rows: readonly Row[];
  readonly columns: readonly string[];
  readonly mode: 'merge' | 'replace';
  readonly shop: ShopFacts;
  readonly at: Date;
  /** Told how many rows have been read. */
  readonly progress?: (rowsDone: number) => Promise<void>;
}

export type Outcome = Omit<ImportReport, 'mode' | 'rows'>;

const BATCH = 1000;

export async function inBatches(run: ImportRun, work: (rows: readonly Row[]) => Promise<void>): Promise<void> {
  for (let start = 0; start < run.rows.length; start += BATCH) {
    await work(run.rows.slice(start, start + BATCH));
    await run.progress?.(Math.min(start + BATCH, run.rows.length));
  }
}

/** Columns that no one reads are said, not silently dropped. */
export function noticesOf({ columns }: ImportRun, known: readonly string[]): string[] {
  const unknown = columns.filter((column) => !known.includes(column));
  return unknown.map((column) => `The column “${column}” is not one of ours and was left out.`);
}
