/** What the server is told by its environment. */
export interface Config {
  readonly databaseUrl: string;
  readonly port: number;
  /** How the server is reached from outside, without a trailing slash. */
  readonly publicUrl: string;
  /** A key for programs that act as the owner; null when none is set. */
  readonly ownerKey: string | null;
  /** Lets whoever knows it make the first owner; null to have one made. */
  readonly setupToken: string | null;
  readonly logLevel: string;
  /** Hosts, with their ports, that may be asked although their addresses are private. */
  readonly privateHosts: readonly string[];
  /** Where messages go out; null when nowhere. */
  readonly smtpUrl: string | null;
  readonly mailFrom: string;
}

/** @throws {Error} naming the variable that is missing or wrong */
export function readConfig(env: Readonly<Record<string, string | undefined>>): Config {
  const databaseUrl = env.DATABASE_URL;
  if (!databaseUrl) throw new Error('DATABASE_URL is not set: it names the PostgreSQL database to use');
  const port = Number(env.PORT ?? 4600);
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new Error('PORT must be a port number');
  return {
    databaseUrl,
    port,
    publicUrl: (env.PUBLIC_URL ?? `http://127.0.0.1:${port}`).replace(/\/+$/, ''),
    ownerKey: env.UNDERSTUDY_OWNER_KEY || null,
    setupToken: env.UNDERSTUDY_SETUP_TOKEN || null,
    logLevel: env.LOG_LEVEL ?? 'info',
    privateHosts: (env.UNDERSTUDY_PRIVATE_HOSTS ?? '').split(',').filter((host) => host !== ''),
    smtpUrl: env.SMTP_URL || null,
    mailFrom: env.MAIL_FROM ?? 'understudy@localhost',
  };
}
