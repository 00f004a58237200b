import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import iconv from 'iconv-lite';
import type { Job } from '#core/contract/importCalls.ts';
import type { FileReading, TargetName } from '#core/imports/fileReading.ts';
import { encodingOf, guessReading } from '#core/imports/guessReading.ts';
import { SAMPLE_BYTES, sampleOf } from '#core/imports/sample.ts';
import type { Outcome } from './output.ts';
import { CommandError, type Service } from './service.ts';

interface ImportWays {
  readonly target: TargetName;
  readonly mode: 'merge' | 'replace';
  /** Confirms that more than a tenth may be archived. */
  readonly archive: boolean;
  readonly refuseAll: boolean;
  /** Previews without writing. */
  readonly previewOnly: boolean;
}

const AGAIN_MS = 500;
const ENDED: readonly Job['state'][] = ['previewed', 'done', 'failed', 'cancelled', 'interrupted', 'undone'];

/** Imports a file, with the reading of earlier files with its headings or a detected one. */
export async function importFile(service: Service, file: string, ways: ImportWays): Promise<Outcome> {
  const bytes = await readFile(file).catch(() => {
    throw new CommandError(`${file} cannot be read.`);
  });
  const reading = await readingOf(service, ways.target, file, bytes);
  const { target, mode, refuseAll } = ways;
  const query = { mode, badRows: refuseAll ? 'refuseAll' : 'skip', preview: 'true', reading: String(reading) };
  const sent = await service.call(`POST /api/${target}/import`, { query, csv: bytes });
  const looked = await ended(service, sent.body as Job);
  const { preview } = looked;
  if (!preview) throw new CommandError(`The import ended: ${looked.error ?? looked.state}.`);
  const refused = preview.refused.map(
    ({ line, column, reason }) => `${basename(file)}:${line}: ${column ?? 'the row'} ${reason}`,
  );
  const isUnconfirmed = preview.needsConfirmation && !ways.archive;
  const isStopped = (refuseAll && preview.refusedRows > 0) || isUnconfirmed;
  if (ways.previewOnly || isStopped) {
    await service.call('POST /api/imports/{id}/cancellation', { params: { id: looked.id } });
    const what = `${preview.created} new, ${preview.changed} changed, ${preview.gone} archived, ${preview.refusedRows} refused. Nothing is written.`;
    const confirm = isUnconfirmed
      ? [`It would archive ${preview.gone}, more than a tenth of what there is. Give --archive to confirm that.`]
      : [];
    const isBad = preview.refusedRows > 0 || (isUnconfirmed && !ways.previewOnly);
    return { code: isBad ? 1 : 0, json: { written: false, preview }, lines: [...refused, what, ...confirm] };
  }
  const started = await service.call('POST /api/imports/{id}/start', {
    params: { id: looked.id },
    query: { archive: String(ways.archive) },
  });
  const { report, error, state } = await ended(service, started.body);
  if (!report) throw new CommandError(`The import ended: ${error ?? state}.`);
  const what = `${report.rows - report.refusedRows} of ${report.rows} rows are in: ${report.created} new, ${report.changed} changed, ${report.archived} archived.`;
  return { code: report.refusedRows > 0 ? 1 : 0, json: { written: true, report }, lines: [...refused, what] };
}

/** The number of how the file is to be read. */
async function readingOf(service: Service, target: TargetName, file: string, bytes: Buffer): Promise<number> {
  const encoding = encodingOf(bytes, isUtf8(bytes));
  const text = iconv.decode(bytes.subarray(0, SAMPLE_BYTES), encoding);
  const sample = sampleOf(text, { encoding, isWhole: bytes.length <= SAMPLE_BYTES });
  if (sample.rows.length === 0) throw new CommandError(`${file} has no rows below a header.`);
  const headings = [...sample.headings];
  const { body: known } = await service.call('GET /api/imports/readings');
  const same = known.find((one) => one.target === target && one.headings.join('\n') === headings.join('\n'));
  if (same) return same.id;
  const { reading, asksForDates } = guessReading(target, sample);
  if (asksForDates) {
    throw new CommandError(
      `Nobody can tell days from months in ${file}. Import it once on the screen and say which is which; it is remembered.`,
    );
  }
  return remember(service, { target, headings, reading });
}

async function remember(service: Service, body: { target: TargetName; headings: string[]; reading: FileReading }) {
  return (await service.call('PUT /api/imports/readings', { body })).body.id;
}

function isUtf8(bytes: Uint8Array): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}

async function ended(service: Service, job: Job): Promise<Job> {
  let now = job;
  while (!ENDED.includes(now.state)) {
    await setTimeout(AGAIN_MS);
    now = (await service.call('GET /api/jobs/{id}', { params: { id: job.id } })).body;
  }
  return now;
}
