import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { SignJWT } from 'jose';
import { createApp } from '../../server/app.ts';
import { startOpenings, type Openings } from '../../server/rulebook/openings.ts';
import { startAnalyst } from '../../server/rehearsal/analyst.ts';
import { ANALYST } from './analyst.ts';
import { connect, type Database } from '../../server/db/database.ts';
import { startJobs } from '../../server/db/jobs.ts';
import { workMessages } from '../../server/messages/outbox.ts';
import type { lapseDue } from '../../server/waitlists/waitlistService.ts';
import { workImports } from '../../server/imports/importService.ts';
import { startLive } from '../../server/rulebook/live.ts';
import { sessionSecret } from '../../server/session/staffQueries.ts';
import { cloneDatabase } from './databases.ts';

export const OWNER_KEY = 'key-of-the-test-owner';
export const SETUP_TOKEN = 'one-time-link-of-the-test';
export const OWNER = { name: 'Olive Tarrant', email: 'olive@quillfern.example', password: 'tansy-and-thyme' };
export const SHOP = { name: 'Quillfern Nursery', zone: 'Europe/Lisbon', locales: ['en', 'fr'], currency: 'EUR' };

export interface Answer {
  readonly status: number;
  readonly headers: Headers;
  // Tests look into answers as they please.
  readonly body: unknown;
}

interface Sending {
  readonly body?: unknown;
  /** Sent as it is. */
  readonly raw?: string;
  readonly headers?: Readonly<Record<string, string>>;
  /** Without the owner's key. */
  readonly asNobody?: true;
}

/** A real server on a database of its own, with a clock that the test moves. */
export interface TestServer {
  readonly url: string;
  readonly databaseUrl: string;
  readonly db: Database;
  /** What its jobs are given. */
  readonly needs: Parameters<typeof lapseDue>[0] & { readonly openings: Openings };
  now: number;
  send(method: string, path: string, sending?: Sending): Promise<Answer>;
  /** Replaces the draft whatever it is, and publishes it. */
  publish(rulebook: unknown): Promise<Answer>;
  /** A visitor's token, valid for an hour of the test's clock. */
  token(customerId: string, roles?: readonly string[], secret?: string): Promise<string>;
  stop(): Promise<void>;
}

/** Starts a server; another copy on the same database when its URL is given. */
export async function startServer(
  onDatabase?: string,
  onPages: { readonly privateHosts?: readonly string[]; readonly smtpUrl?: string } = {},
): Promise<TestServer> {
  const databaseUrl = onDatabase ?? (await cloneDatabase());
  const log = pino({ level: 'silent' });
  const db = connect(databaseUrl, log);
  const live = await startLive(db, log);
  const analyst = startAnalyst(ANALYST, databaseUrl, log);
  const { jobs, stop: stopJobs } = await startJobs(databaseUrl, log);
  const state = { now: Date.parse('2026-11-25T10:00:00Z') };
  const clock = () => state.now;
  const openings = startOpenings({ db, live, clock, log });
  await workImports(jobs, { db, clock });
  const secret = await sessionSecret(db);
  const config = {
    databaseUrl,
    port: 0,
    publicUrl: 'http://understudy.test',
    ownerKey: OWNER_KEY,
    setupToken: SETUP_TOKEN,
    logLevel: 'silent',
    privateHosts: onPages.privateHosts ?? [],
    smtpUrl: onPages.smtpUrl ?? null,
    mailFrom: 'understudy@quillfern.example',
  };
  await workMessages(jobs, { db, clock, config });
  const folder = mkdtempSync(join(tmpdir(), 'understudy-test-'));
  writeFileSync(join(folder, 'embed.js'), 'start("__UNDERSTUDY_SETTINGS__")');
  writeFileSync(join(folder, 'owner.js'), 'export const open = () => true;');
  writeFileSync(join(folder, 'serve.js'), 'export const open = () => true;');
  writeFileSync(join(folder, 'picker.js'), 'pick()');
  const app = createApp({
    db,
    live,
    analyst,
    openings,
    jobs,
    clock,
    log,
    config,
    setupToken: SETUP_TOKEN,
    sessionSecret: secret,
    files: {
      embed: join(folder, 'embed.js'),
      owner: join(folder, 'owner.js'),
      serve: join(folder, 'serve.js'),
      picker: join(folder, 'picker.js'),
      web: folder,
    },
    ready: () => Promise.resolve(true),
  });
  const server = createServer(app).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;

  const send: TestServer['send'] = async (method, path, { body, raw, headers, asNobody } = {}) => {
    const content = raw ?? (body === undefined ? undefined : JSON.stringify(body));
    const response = await fetch(url + path, {
      method,
      headers: {
        ...(asNobody ? {} : { Authorization: `Bearer ${OWNER_KEY}` }),
        ...(content === undefined ? {} : { 'Content-Type': 'application/json' }),
        ...headers,
      },
      ...(content === undefined ? {} : { body: content }),
    });
    const text = await response.text();
    const isJson = (response.headers.get('Content-Type') ?? '').includes('json');
    return { status: response.status, headers: response.headers, body: isJson ? JSON.parse(text) : text };
  };
  return {
    url,
    databaseUrl,
    db,
    needs: { db, clock, config, jobs, live, openings, sessionSecret: secret },
    get now() {
      return state.now;
    },
    set now(instant) {
      state.now = instant;
    },
    send,
    publish: async (rulebook) => {
      const saved = await send('PUT', '/api/rulebook', { body: rulebook, headers: { 'If-Match': '*' } });
      return saved.status === 204 ? send('POST', '/api/editions') : saved;
    },
    token: async (customerId, roles, secret) => {
      const { body } = await send('GET', '/api/connection');
      const key = new TextEncoder().encode(secret ?? (body as { visitorSecret: string }).visitorSecret);
      return new SignJWT(roles ? { roles: [...roles] } : {})
        .setProtectedHeader({ alg: 'HS256' })
        .setSubject(customerId)
        .setExpirationTime(Math.floor(state.now / 1000) + 3600)
        .sign(key);
    },
    stop: async () => {
      await new Promise((resolve) => {
        server.close(resolve);
        server.closeAllConnections();
      });
      await stopJobs();
      await openings.stop();
      await analyst.stop();
      await live.stop();
      await db.end();
    },
  };
}

/** A server whose shop is set up. */
export async function startShop(onPages: Parameters<typeof startServer>[1] = {}): Promise<TestServer> {
  const server = await startServer(undefined, onPages);
  const setup = { token: SETUP_TOKEN, shop: SHOP, owner: OWNER };
  const { status } = await server.send('POST', '/api/setup', { body: setup, asNobody: true });
  if (status !== 201) throw new Error(`the setup answered ${status}`);
  return server;
}

/** Brings CSV in. */
export const importCsv = (server: TestServer, target: 'catalog' | 'people', csv: string, query = '') =>
  server.send('POST', `/api/${target}/import${query}`, { raw: csv, headers: { 'Content-Type': 'text/csv' } });
