import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import iconv from 'iconv-lite';
import Papa from 'papaparse';
import type { Separator, TargetName } from '#core/imports/fileReading.ts';
import { KEYS } from '#core/imports/columns.ts';
import { encodingOf, guessReading, type Sample } from '#core/imports/guessReading.ts';
import { inTemporaryFolder } from '../base/temporaryFolder.ts';
import type { Services } from '../base/services.ts';
import type { Queryable } from '../db/database.ts';
import { CallOutError, readFile } from '../http/callOut.ts';
import { noteFeedFailed, noteFetched, takeDueFeed, type FeedRow } from './feedQueries.ts';
import type { Jobs } from '../db/jobs.ts';
import { allReadings, readingById, writeReading } from './importQueries.ts';
import { importFile, MOST_BYTES, type ImportServices } from './importService.ts';

const QUEUE = 'feeds';
const EVERY_MINUTE = '* * * * *';
/** So much of a file is looked at to see how it is written. */
const LOOKED_AT = 1_000_000;

type Needs = Pick<Services, 'db' | 'clock' | 'config'> & ImportServices;

/** Fetches feeds as they are due, on whichever copy of the server is free. */
export async function workFeeds(jobs: Jobs, services: Needs): Promise<void> {
  await jobs.work(QUEUE, { schedule: { cron: EVERY_MINUTE } }, () => fetchDueFeeds(services));
}

/** Fetches each feed that is due, one after the other. */
export async function fetchDueFeeds(services: Needs): Promise<void> {
  const { db, clock } = services;
  for (;;) {
    const feed = await takeDueFeed(db, new Date(clock()));
    if (!feed) return;
    try {
      await fetchOne(services, feed);
    } catch (error) {
      await noteFeedFailed(db, feed.id, wordsOf(error));
    }
  }
}

async function fetchOne(services: Needs, { id, target, address, secret, mode, etag, lastModified }: FeedRow) {
  const { db, clock, config } = services;
  const url = new URL(address);
  await inTemporaryFolder(async (folder) => {
    const file = join(folder, 'file');
    const answer = await readFile(url, config.privateHosts, {
      file,
      mostBytes: MOST_BYTES.csv,
      headers: {
        ...(secret === null ? {} : { Authorization: secret }),
        ...(etag === null ? {} : { 'If-None-Match': etag }),
        ...(lastModified === null ? {} : { 'If-Modified-Since': lastModified }),
      },
    });
    const seen = { at: new Date(clock()), etag: answer.etag, lastModified: answer.lastModified };
    if (!answer.isNew) {
      await noteFetched(db, id, { ...seen, etag, lastModified, importId: null });
      return;
    }
    const reading = await readingById(db, await readingOf(db, target, file), target);
    const sent = { target, mode, badRows: 'skip', isPreview: false, by: `the feed of ${url.host}` } as const;
    const importId = await importFile(services, { ...sent, reading }, { file, format: 'csv' });
    await noteFetched(db, id, { ...seen, importId });
  });
}

/** The number of how the file is read: as such files were before, or as it tells by itself. */
async function readingOf(db: Queryable, target: TargetName, file: string): Promise<number> {
  const sample = await sampleOf(file);
  const { headings } = sample;
  if (sample.rows.length === 0) throw new FeedError('The file has no rows below a header.');
  const known = (await allReadings(db)).find(
    (one) => one.target === target && one.headings.join('\n') === headings.join('\n'),
  );
  if (known) return known.id;
  const { reading, asksForDates } = guessReading(target, sample);
  if (asksForDates || !KEYS[target].some((key) => reading.columns.includes(key))) {
    throw new FeedError(
      'The file does not tell by itself how it is read. Download it, import it once by hand and match its columns; that is remembered.',
    );
  }
  return writeReading(db, { target, headings: [...headings], reading });
}

/** The beginning of a file, parted into cells. */
async function sampleOf(file: string): Promise<Sample> {
  const handle = await open(file);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(LOOKED_AT), 0, LOOKED_AT, 0);
    const head = buffer.subarray(0, bytesRead);
    const encoding = encodingOf(head, await isUtf8(file));
    const text = iconv.decode(head, encoding);
    const whole = bytesRead < LOOKED_AT ? text : text.slice(0, text.lastIndexOf('\n') + 1);
    const { data, meta } = Papa.parse<string[]>(whole, { skipEmptyLines: true });
    const [headings = [], ...rows] = data;
    return { headings: headings.map((one) => one.trim()), rows, encoding, separator: meta.delimiter as Separator };
  } finally {
    await handle.close();
  }
}

async function isUtf8(file: string): Promise<boolean> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  try {
    for await (const chunk of createReadStream(file)) decoder.decode(chunk as Buffer, { stream: true });
    decoder.decode();
    return true;
  } catch {
    return false;
  }
}

/** Why a feed did not come in, in words for its owner. */
class FeedError extends Error {}

const CALL_OUT_WORDS: Partial<Record<CallOutError['code'], string>> = {
  private: 'The address is inside a private network. Give one that can be reached from outside.',
  unreachable: 'The address did not answer, or broke off. It is tried again.',
  tooLong: 'The file is larger than 256 MB.',
};

function wordsOf(error: unknown): string {
  if (error instanceof CallOutError)
    return CALL_OUT_WORDS[error.code] ?? `The address answered with ${error.code.replace('status ', '')}.`;
  return error instanceof Error ? error.message : 'It failed for an unknown reason.';
}
