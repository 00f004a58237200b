import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import iconv from 'iconv-lite';
import type { TargetName } from '#core/imports/fileReading.ts';
import { KEYS } from '#core/imports/columns.ts';
import { encodingOf, guessReading } from '#core/imports/guessReading.ts';
import { SAMPLE_BYTES, sampleOf, type Sample } from '#core/imports/sample.ts';
import { inTemporaryFolder } from '../config/temporaryFolder.ts';
import type { Services } from '../services/services.ts';
import type { Queryable } from '../db/database.ts';
import { CallOutError, readFile } from '../http/callOut.ts';
import { noteFeedFailed, noteFetched, takeDueFeed, type FeedRow } from './feedQueries.ts';
import type { Jobs } from '../db/jobs.ts';
import { allReadings, readingById, writeReading } from './importQueries.ts';
import { importFile, MOST_BYTES, type ImportServices } from './importService.ts';

const QUEUE = 'feeds';
const EVERY_MINUTE = '* * * * *';

type Needs = Pick<Services, 'db' | 'clock' | 'config'> & ImportServices;

/** Feeds that one server fetches at the same time, so that a slow one does not block the rest. */
const AT_ONCE = 4;
/** A fetch takes ten minutes at most, and its import as long again. */
const LEASE_MS = 1_800_000;
/** An address that failed is asked again this soon, unless it is due sooner. */
const AGAIN_MS = 300_000;

/** Fetches feeds as they are due, each on one copy of the server. */
export class FeedFetcher {
  private readonly fetching = new Set<Promise<void>>();
  private looking: Promise<void> = Promise.resolve();

  constructor(
    private readonly services: Needs,
    private readonly atOnce = AT_ONCE,
  ) {}

  /** Begins to fetch feeds that are due. */
  look(): Promise<void> {
    this.looking = this.looking.catch(() => undefined).then(() => this.takeDue());
    return this.looking;
  }

  /** Waits until nothing is being fetched. */
  async settled(): Promise<void> {
    await this.looking;
    while (this.fetching.size > 0) await Promise.all(this.fetching);
  }

  private async takeDue(): Promise<void> {
    const { db, clock } = this.services;
    while (this.fetching.size < this.atOnce) {
      const feed = await takeDueFeed(db, new Date(clock()), LEASE_MS);
      if (!feed) return;
      const done = this.fetch(feed).finally(() => {
        this.fetching.delete(done);
        // Start feeds that were waiting for a free slot.
        this.look().catch(() => undefined);
      });
      this.fetching.add(done);
    }
  }

  private async fetch(feed: FeedRow): Promise<void> {
    try {
      await fetchOne(this.services, feed);
    } catch (error) {
      // If the database is down, the lease expires and the feed is fetched again.
      const againMs = error instanceof CallOutError ? AGAIN_MS : Infinity;
      await noteFeedFailed(this.services.db, feed.id, wordsOf(error), againMs).catch(() => undefined);
    }
  }
}

/** Looks every minute for feeds that are due. */
export async function workFeeds(jobs: Jobs, feeds: FeedFetcher): Promise<void> {
  await jobs.work(QUEUE, { schedule: { cron: EVERY_MINUTE } }, () => feeds.look());
}

async function fetchOne(services: Needs, { id, target, mode, etag, lastModified, ...feed }: FeedRow) {
  const { db, clock, config } = services;
  const { address, secret } = withoutCredentials(feed);
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
    const sent = {
      target,
      mode,
      badRows: 'skip',
      isPreview: false,
      mayArchive: false,
      by: `the feed of ${url.host}`,
    } as const;
    const importId = await importFile(services, { ...sent, reading }, { file, format: 'csv' });
    await noteFetched(db, id, { ...seen, importId });
  });
}

/** Moves a user and password out of an address into the header that carries them (RFC 7617), unless it is set already. */
export function withoutCredentials<F extends { readonly address: string; readonly secret: string | null }>(feed: F): F {
  const url = new URL(feed.address);
  if (url.username === '' && url.password === '') return feed;
  const pair = `${decodeURIComponent(url.username)}:${decodeURIComponent(url.password)}`;
  [url.username, url.password] = ['', ''];
  return { ...feed, address: url.href, secret: feed.secret ?? `Basic ${Buffer.from(pair).toString('base64')}` };
}

/** An address as it is shown: without the values of its parameters, one of which is often a key. */
export function shownAddress(address: string): string {
  const url = new URL(withoutCredentials({ address, secret: null }).address);
  if (url.search === '') return url.href;
  const names = [...url.searchParams.keys()].map((name) => `${encodeURIComponent(name)}=…`);
  url.search = '';
  return `${url.href}?${names.join('&')}`;
}

/** Id of the file's reading: that of earlier files with its headings, or a detected one. */
async function readingOf(db: Queryable, target: TargetName, file: string): Promise<number> {
  const sample = await sampleOfFile(file);
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

async function sampleOfFile(file: string): Promise<Sample> {
  const handle = await open(file);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(SAMPLE_BYTES), 0, SAMPLE_BYTES, 0);
    const head = buffer.subarray(0, bytesRead);
    const encoding = encodingOf(head, await isUtf8(file));
    return sampleOf(iconv.decode(head, encoding), { encoding, isWhole: bytesRead < SAMPLE_BYTES });
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
