import { isIP } from 'node:net';
import { existsSync } from 'node:fs';
import ipaddr from 'ipaddr.js';

/** Configuration from the environment. */
export interface Config {
  readonly databaseUrl: string;
  /** A streaming replica for large reads; null for none. */
  readonly readUrl: string | null;
  readonly port: number;
  /** The address that is listened on. */
  readonly bind: string;
  /** Proxies that are trusted, in Express's form: addresses, ranges or their names, or a number of hops. */
  readonly trustProxy: string | number;
  /** Public address of the server, without a trailing slash. */
  readonly publicUrl: string;
  /** A key for programs that act as the owner; null when none is set. */
  readonly ownerKey: string | null;
  /** Secret with which the first owner is created; null to generate one. */
  readonly setupToken: string | null;
  readonly logLevel: string;
  /** Hosts, with their ports, that may be asked although their addresses are private. */
  readonly privateHosts: readonly string[];
  /** Mail server; null for none. */
  readonly smtpUrl: string | null;
  readonly mailFrom: string;
  /** Path of the Chromium that draws pages; null for none. */
  readonly chromium: string | null;
  /** By how many processes it serves. */
  readonly webProcesses: number;
}

function readBind(text = '127.0.0.1'): string {
  if (isIP(text) === 0) throw new Error(`BIND must be an IP address to listen on, such as 0.0.0.0, not ${text}`);
  return text;
}

/** Paths of Debian's Chromium packages, the headless one first. */
const CHROMIUM = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];

const findChromium = (said: string | undefined): string | null =>
  said === undefined ? (CHROMIUM.find((file) => existsSync(file)) ?? null) : said || null;

const RANGES = new Set(['loopback', 'linklocal', 'uniquelocal']);

function readTrustProxy(text = 'loopback'): string | number {
  if (/^\d{1,2}$/.test(text)) return Number(text);
  for (const part of text.split(',').map((one) => one.trim())) {
    const isRange = RANGES.has(part) || ipaddr.isValid(part) || ipaddr.isValidCIDR(part);
    if (!isRange) {
      throw new Error(
        `TRUST_PROXY must be a number of proxies, or addresses and ranges by commas such as 10.0.0.0/8, not ${part}`,
      );
    }
  }
  return text;
}

/** @throws {Error} naming the variable that is missing or wrong */
export function readConfig(env: Readonly<Record<string, string | undefined>>): Config {
  const databaseUrl = env.DATABASE_URL;
  if (!databaseUrl) throw new Error('DATABASE_URL is not set: it names the PostgreSQL database to use');
  const port = Number(env.PORT ?? 4600);
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new Error('PORT must be a port number');
  const webProcesses = Number(env.WEB_PROCESSES ?? 1);
  if (!Number.isInteger(webProcesses) || webProcesses < 1 || webProcesses > 64)
    throw new Error('WEB_PROCESSES must be a number of processes, from 1 to 64');
  return {
    databaseUrl,
    readUrl: env.DATABASE_READ_URL || null,
    port,
    bind: readBind(env.BIND),
    trustProxy: readTrustProxy(env.TRUST_PROXY),
    publicUrl: (env.PUBLIC_URL ?? `http://127.0.0.1:${port}`).replace(/\/+$/, ''),
    ownerKey: env.UNDERSTUDY_OWNER_KEY || null,
    setupToken: env.UNDERSTUDY_SETUP_TOKEN || null,
    logLevel: env.LOG_LEVEL ?? 'info',
    privateHosts: (env.UNDERSTUDY_PRIVATE_HOSTS ?? '').split(',').filter((host) => host !== ''),
    smtpUrl: env.SMTP_URL || null,
    mailFrom: env.MAIL_FROM ?? 'understudy@localhost',
    chromium: findChromium(env.CHROMIUM),
    webProcesses,
  };
}
