import pg from 'pg';

/** The demo's rows, kept beside the tables that tests change. */
const KEPT = 'demo_copy';
/** Schema of the job queue. */
const JOBS = 'jobs';

const TABLES = `
  SELECT c.relname AS name, string_agg(quote_ident(a.attname), ', ' ORDER BY a.attnum) AS columns
  FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped AND a.attgenerated = ''
  WHERE c.relnamespace = 'public'::regnamespace AND c.relkind = 'r' AND c.relname <> 'pgmigrations'
  GROUP BY c.relname ORDER BY c.relname`;

const SEQUENCES = `
  SELECT sequencename AS name, last_value AS last FROM pg_sequences WHERE schemaname = 'public'`;
const SEQUENCES_BACK = `
  SELECT setval(quote_ident(name)::regclass, coalesce(last, 1), last IS NOT NULL) FROM ${KEPT}.sequences`;

interface Table {
  readonly name: string;
  readonly columns: string;
}

async function within<T>(url: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

/** Keeps what all tables hold now, in the database itself, so that its clones have it too. */
export const keepCopy = (url: string): Promise<void> =>
  within(url, async (client) => {
    await client.query(`CREATE SCHEMA ${KEPT}`);
    const { rows } = await client.query<Table>(TABLES);
    for (const { name, columns } of rows) {
      await client.query(`CREATE TABLE ${KEPT}.${name} AS SELECT ${columns} FROM public.${name}`);
    }
    await client.query(`CREATE TABLE ${KEPT}.sequences AS ${SEQUENCES}`);
  });

/** Number of restores, so that products never repeat a revision. */
let restores = 0;

/** Brings a database back to what was kept of it, and takes the jobs out that are left. */
export const restoreCopy = (url: string): Promise<void> =>
  within(url, async (client) => {
    const { rows } = await client.query<Table>(TABLES);
    await client.query('BEGIN');
    // Neither foreign keys nor triggers: what is put back was whole.
    await client.query('SET LOCAL session_replication_role = replica');
    await client.query(`TRUNCATE ${rows.map(({ name }) => `public.${name}`).join(', ')}`);
    for (const { name, columns } of rows) {
      await client.query(
        `INSERT INTO public.${name} (${columns}) OVERRIDING SYSTEM VALUE SELECT ${columns} FROM ${KEPT}.${name}`,
      );
    }
    await client.query(`DELETE FROM ${JOBS}.job`);
    await client.query(SEQUENCES_BACK);
    restores += 1;
    await client.query('UPDATE products SET revision = revision + $1', [1_000_000 * restores]);
    // Without triggers nobody is told of what was put back.
    await client.query("NOTIFY products, '*'");
    await client.query("NOTIFY visitors, '*'");
    await client.query('COMMIT');
  });
