import { readFileSync } from 'node:fs';
import { request, type Agent, type OutgoingHttpHeaders } from 'node:http';
import { SignJWT } from 'jose';
import { OWNER_KEY, SETUP_TOKEN } from '#tests/support/programs.ts';

/** Requests of the benches. */

/** Of Linux's clock, in which it counts what a process used of the processor. */
const TICKS_A_SECOND = 100;

export interface Ask {
  readonly path: string;
  readonly method: 'GET' | 'POST';
  readonly body: string;
  readonly headers: OutgoingHttpHeaders;
}

/** Calls as a program of the owner. */
export async function asOwner(url: string, method: string, path: string, body?: object): Promise<unknown> {
  const headers = { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': 'application/json', 'If-Match': '*' };
  const content = body === undefined ? {} : { body: JSON.stringify(body) };
  const answer = await fetch(url + path, { method, headers, ...content });
  const text = await answer.text();
  if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${text}`);
  return text === '' ? null : JSON.parse(text);
}

/** Sets the nursery up. */
export async function setUp(url: string): Promise<void> {
  await asOwner(url, 'POST', '/api/setup', {
    token: SETUP_TOKEN,
    shop: { name: 'Quillfern Nursery', zone: 'Europe/Lisbon', locales: ['en', 'fr'], currency: 'EUR' },
    owner: { name: 'Olive Tarrant', email: 'olive@quillfern.example', password: 'tansy-and-thyme' },
  });
}

/** A token of the shop's. */
export async function signed(url: string, claim: (token: SignJWT) => SignJWT): Promise<string> {
  const { visitorSecret } = (await asOwner(url, 'GET', '/api/connection')) as { visitorSecret: string };
  const token = claim(new SignJWT().setProtectedHeader({ alg: 'HS256' }).setExpirationTime('2h'));
  return token.sign(new TextEncoder().encode(visitorSecret));
}

/** A call with a body. */
export function post(path: string, body: object, headers: OutgoingHttpHeaders = {}): Ask {
  return { path, method: 'POST', body: JSON.stringify(body), headers };
}

/** Measures the duration of work, in ms. */
export async function timed(work: () => Promise<unknown>): Promise<number> {
  const from = performance.now();
  await work();
  return performance.now() - from;
}

/** Describes the distribution of times in ms. */
export function spread(times: readonly number[]): string {
  const sorted = times.toSorted((a, b) => a - b);
  const at = (part: number) => `${(sorted[Math.floor((sorted.length - 1) * part)] ?? 0).toFixed(1)} ms`;
  return `${sorted.length} answers, half within ${at(0.5)}, 99 of 100 within ${at(0.99)}, all within ${at(1)}`;
}

/**
 * Asks, and gives the answer.
 * @throws {Error} when it is refused
 */
export function sent(url: string, { path, method, body, headers }: Ask, agent?: Agent): Promise<string> {
  return new Promise((resolve, reject) => {
    const content =
      method === 'GET' ? {} : { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(body) };
    const options = { method, headers: { ...content, ...headers }, ...(agent ? { agent } : {}) };
    const asked = request(url + path, options, (response) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('end', () => {
        const { statusCode = 0 } = response;
        if (statusCode < 400) resolve(Buffer.concat(parts).toString());
        else reject(new Error(`${path} answered ${statusCode}: ${Buffer.concat(parts).toString()}`));
      });
    });
    asked.on('error', reject);
    asked.end(body);
  });
}

/** Seconds of the processor that a process has used (proc(5)). */
export function processorOf(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]?.split(' ') ?? [];
  return (Number(fields[11]) + Number(fields[12])) / TICKS_A_SECOND;
}
