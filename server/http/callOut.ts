import { createWriteStream } from 'node:fs';
import { lookup } from 'node:dns/promises';
import { isIP } from 'node:net';
import { pipeline } from 'node:stream/promises';
import ipaddr from 'ipaddr.js';
import { Agent, fetch } from 'undici';

const PATIENCE_MS = 10_000;
/** Timeout of a download, which may be large and generated on request. */
const FILE_PATIENCE_MS = 600_000;
const MOST_BYTES = 4_000_000;
const MOST_REDIRECTS = 3;

/** Why an address outside could not be read. */
export class CallOutError extends Error {
  constructor(readonly code: 'private' | 'unreachable' | 'notHtml' | 'tooLong' | 'tooComplex' | `status ${number}`) {
    super(code);
  }
}

/**
 * Reads a page of HTML from outside, following redirects on the same host.
 * Private addresses (RFC 1918, loopback, link-local and their like) are never asked, unless `privateHosts` names the host
 * with its port; the address that was looked up is the one that is connected to.
 * @throws {CallOutError}
 */
export async function readPage(
  address: URL,
  privateHosts: readonly string[],
  lookUp: LookUp = lookUpAll,
): Promise<string> {
  let url = address;
  for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects += 1) {
    const response = await ask(url, privateHosts, lookUp, {
      headers: { Accept: 'text/html', 'User-Agent': 'Understudy page check' },
    });
    const location = response.headers.get('Location');
    if (response.status >= 300 && response.status < 400 && location !== null) {
      url = new URL(location, url);
      if (url.host !== address.host) throw new CallOutError(`status ${response.status}`);
      continue;
    }
    if (response.status !== 200) throw new CallOutError(`status ${response.status}`);
    if (!(response.headers.get('Content-Type') ?? '').includes('html')) throw new CallOutError('notHtml');
    return textOf(response);
  }
  throw new CallOutError('unreachable');
}

/** Something that a page asks for, as it was sent. */
export interface Resource {
  readonly status: number;
  /** Its media type. */
  readonly type: string;
  readonly body: Uint8Array;
}

/**
 * Reads a resource of a page, from public addresses only as `readPage` does, following redirects to other public hosts.
 * @throws {CallOutError}
 */
export async function readResource(address: URL, privateHosts: readonly string[]): Promise<Resource> {
  let url = address;
  for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects += 1) {
    const response = await ask(url, privateHosts, lookUpAll, { headers: { 'User-Agent': 'Understudy page check' } });
    const location = response.headers.get('Location');
    if (response.status >= 300 && response.status < 400 && location !== null) {
      await response.body?.cancel().catch(() => undefined);
      url = new URL(location, url);
      continue;
    }
    return { status: response.status, type: response.headers.get('Content-Type') ?? '', body: await bytesOf(response) };
  }
  throw new CallOutError('unreachable');
}

/** Options of a download. */
interface Fetching {
  readonly file: string;
  readonly mostBytes: number;
  readonly headers: Readonly<Record<string, string>>;
}

/** Validators of a downloaded file (RFC 9110, 8.8). */
export interface Fetched {
  /** Whether it differs from the version that `headers` named. */
  readonly isNew: boolean;
  readonly etag: string | null;
  readonly lastModified: string | null;
}

/**
 * Saves a file from outside as it comes, from public addresses as `readPage` does, following redirects on the same host.
 * @throws {CallOutError}
 */
export async function readFile(
  address: URL,
  privateHosts: readonly string[],
  { file, mostBytes, headers }: Fetching,
): Promise<Fetched> {
  let url = address;
  for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects += 1) {
    const response = await ask(url, privateHosts, lookUpAll, {
      headers: { 'User-Agent': 'Understudy feed', ...headers },
      patienceMs: FILE_PATIENCE_MS,
    });
    const told = { etag: response.headers.get('ETag'), lastModified: response.headers.get('Last-Modified') };
    const location = response.headers.get('Location');
    if (response.status === 200) {
      await saveBody(response.body, file, mostBytes);
      return { isNew: true, ...told };
    }
    await response.body?.cancel().catch(() => undefined);
    if (response.status === 304) return { isNew: false, ...told };
    if (response.status < 300 || response.status >= 400 || location === null)
      throw new CallOutError(`status ${response.status}`);
    url = new URL(location, url);
    if (url.host !== address.host) throw new CallOutError(`status ${response.status}`);
  }
  throw new CallOutError('unreachable');
}

async function saveBody(body: Awaited<ReturnType<typeof ask>>['body'], file: string, mostBytes: number): Promise<void> {
  let bytes = 0;
  const counted = async function* (chunks: AsyncIterable<Uint8Array>) {
    for await (const chunk of chunks) {
      bytes += chunk.length;
      if (bytes > mostBytes) throw new CallOutError('tooLong');
      yield chunk;
    }
  };
  try {
    await pipeline((body ?? []) as AsyncIterable<Uint8Array>, counted, createWriteStream(file));
  } catch (error) {
    throw error instanceof CallOutError ? error : new CallOutError('unreachable');
  }
}

/**
 * Sends JSON outside, to public addresses as `readPage` does; redirects are not followed.
 * @throws {CallOutError} when it is not taken
 */
export async function postJson(
  url: URL,
  privateHosts: readonly string[],
  { json, headers }: { readonly json: string; readonly headers: Readonly<Record<string, string>> },
): Promise<void> {
  const response = await ask(url, privateHosts, lookUpAll, {
    method: 'POST',
    headers: { ...headers, 'Content-Type': 'application/json', 'User-Agent': 'Understudy' },
    body: json,
  });
  // Discards the body, which would hold the connection.
  await response.body?.cancel().catch(() => undefined);
  if (!response.ok) throw new CallOutError(`status ${response.status}`);
}

interface Asking {
  readonly method?: string;
  readonly headers: Record<string, string>;
  readonly body?: string;
  readonly patienceMs?: number;
}

/** All addresses of a name. */
type LookUp = (name: string) => Promise<readonly { readonly address: string }[]>;
const lookUpAll: LookUp = (name) => lookup(name, { all: true });

async function ask(
  url: URL,
  privateHosts: readonly string[],
  lookUp: LookUp,
  { patienceMs = PATIENCE_MS, ...asking }: Asking,
) {
  if (url.protocol !== 'http:' && url.protocol !== 'https:') throw new CallOutError('private');
  const address = await addressOf(url, privateHosts, lookUp);
  const agent = new Agent({
    connect: {
      lookup: (_host, _options, callback) => {
        callback(null, [{ address, family: isIP(address) }]);
      },
    },
  });
  try {
    return await fetch(url, {
      dispatcher: agent,
      redirect: 'manual',
      signal: AbortSignal.timeout(patienceMs),
      ...asking,
    });
  } catch {
    throw new CallOutError('unreachable');
  }
}

/** The address to connect to, once it is known to be a public one. */
async function addressOf({ hostname, host }: URL, privateHosts: readonly string[], lookUp: LookUp): Promise<string> {
  const bare = hostname.replace(/^\[|\]$/g, '');
  const found = isIP(bare) ? [{ address: bare }] : await lookUp(bare).catch(() => []);
  const [first] = found;
  if (!first) throw new CallOutError('unreachable');
  const isPublic = found.every(({ address }) => ipaddr.process(address).range() === 'unicast');
  if (!isPublic && !privateHosts.includes(host)) throw new CallOutError('private');
  return first.address;
}

async function textOf(response: Awaited<ReturnType<typeof ask>>): Promise<string> {
  return new TextDecoder().decode(await bytesOf(response));
}

async function bytesOf({ body }: Awaited<ReturnType<typeof ask>>): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  let bytes = 0;
  try {
    for await (const chunk of body ?? []) {
      const part = chunk as Uint8Array;
      bytes += part.length;
      if (bytes > MOST_BYTES) break;
      parts.push(part);
    }
  } catch {
    throw new CallOutError('unreachable');
  }
  if (bytes > MOST_BYTES) throw new CallOutError('tooLong');
  return Buffer.concat(parts);
}
