import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { pino } from 'pino';
import { SignJWT } from 'jose';
import type { AllServices } from '../../server/allServices.ts';
import { startServer as startParts, type Parts } from '../../server/start.ts';
import { cloneDatabase, SHOP_TEMPLATE } from './databases.ts';
import { checkDeclared } from './declaredProblems.ts';

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

/** Programs of the server's threads, as bin/build.mjs makes them. */
export const THREADS = {
  analyst: resolve('dist/server/analyst.js'),
  importer: resolve('dist/server/importer.js'),
  pageReader: resolve('dist/server/pageReader.js'),
  pageDrawer: resolve('dist/server/pageDrawer.js'),
} as const;

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
  readonly db: AllServices['db'];
  /** Services of its jobs. */
  readonly needs: AllServices;
  now: number;
  readonly send: (method: string, path: string, sending?: Sending) => Promise<Answer>;
  /** Replaces the draft whatever it is, and publishes it. */
  publish(rulebook: unknown): Promise<Answer>;
  /** A visitor's token, valid for an hour of the test's clock. */
  token(customerId: string, roles?: readonly string[], secret?: string): Promise<string>;
  stop(): Promise<void>;
}

type More = Pick<Parts, 'pools' | 'jobConnections' | 'lookEveryMs'> & {
  readonly privateHosts?: readonly string[];
  readonly smtpUrl?: string;
  readonly log?: Parts['log'];
  readonly readUrl?: string;
  readonly chromium?: string;
};

/** Starts a server; another copy on the same database when its URL is given. */
export async function startServer(onDatabase?: string, more: More = {}): Promise<TestServer> {
  const databaseUrl = onDatabase ?? (await cloneDatabase());
  const {
    privateHosts = [],
    smtpUrl = null,
    readUrl = null,
    chromium = null,
    log = pino({ level: 'silent' }),
    ...parts
  } = more;
  const state = { now: Date.parse('2026-11-25T10:00:00Z') };
  const folder = mkdtempSync(join(tmpdir(), 'understudy-test-'));
  writeFileSync(join(folder, 'embed.js'), 'start("__UNDERSTUDY_SETTINGS__")');
  writeFileSync(join(folder, 'owner.js'), 'export const open = () => true;');
  writeFileSync(join(folder, 'dialogs.js'), 'export const open = () => true;');
  writeFileSync(join(folder, 'later.js'), 'export {};');
  const nothing = ['fit', 'showWords', 'hideWords'].map((name) => `export const ${name} = () => {};`);
  writeFileSync(join(folder, 'fitting.js'), nothing.join('\n'));
  writeFileSync(join(folder, 'picker.js'), 'pick()');
  const running = await startParts({
    log,
    clock: () => state.now,
    setupToken: SETUP_TOKEN,
    config: {
      databaseUrl,
      port: 0,
      bind: '127.0.0.1',
      trustProxy: 'loopback',
      publicUrl: 'http://understudy.test',
      ownerKey: OWNER_KEY,
      setupToken: SETUP_TOKEN,
      logLevel: 'silent',
      privateHosts,
      smtpUrl,
      mailFrom: 'understudy@quillfern.example',
      webProcesses: 1,
      readUrl,
      chromium,
    },
    files: {
      embed: join(folder, 'embed.js'),
      owner: join(folder, 'owner.js'),
      dialogs: join(folder, 'dialogs.js'),
      later: join(folder, 'later.js'),
      fitting: join(folder, 'fitting.js'),
      picker: join(folder, 'picker.js'),
      web: folder,
      ...THREADS,
    },
    ...parts,
  });
  const { server, services } = running;
  server.listen(0, '127.0.0.1');
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
    const answer: unknown = isJson ? JSON.parse(text) : text;
    checkDeclared(method, path, answer);
    return { status: response.status, headers: response.headers, body: answer };
  };
  return {
    url,
    databaseUrl,
    db: services.db,
    needs: services,
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
      await running.stop();
      rmSync(folder, { recursive: true });
    },
  };
}

/** Sets a server's shop up, as its first owner does. */
export async function setUpShop(server: TestServer): Promise<void> {
  const setup = { token: SETUP_TOKEN, shop: SHOP, owner: OWNER };
  const { status } = await server.send('POST', '/api/setup', { body: setup, asNobody: true });
  if (status !== 201) throw new Error(`the setup answered ${status}`);
}

/** A server whose shop is set up: on a clone of one, or on a database that has none yet. */
export async function startShop(more: More = {}, onDatabase?: string): Promise<TestServer> {
  const server = await startServer(onDatabase ?? (await cloneDatabase(SHOP_TEMPLATE)), more);
  if (onDatabase !== undefined) await setUpShop(server);
  return server;
}

/** Prepares a shop once for all tests of a file. @returns a template to clone its database from */
export async function preparedShop(prepare: (server: TestServer) => Promise<unknown>): Promise<string> {
  const server = await startShop();
  await prepare(server);
  await server.stop();
  return new URL(server.databaseUrl).pathname.slice(1);
}

/** Brings CSV in. */
export const importCsv = (server: TestServer, target: 'catalog' | 'people', csv: string, query = '') =>
  server.send('POST', `/api/${target}/import${query}`, { raw: csv, headers: { 'Content-Type': 'text/csv' } });
