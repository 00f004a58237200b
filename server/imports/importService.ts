import type PgBoss from 'pg-boss';
import type { ImportReport, Job } from '#core/contract/importCalls.ts';
import type { Services } from '../services.ts';
import type { Queryable } from '../db/database.ts';
import { queueJob } from '../db/jobs.ts';
import { invalid, notFound } from '../errors.ts';
import { shopFacts, theShop } from '../shop/currentShop.ts';
import { importCatalog } from './importCatalog.ts';
import { importPeople } from './importPeople.ts';
import type { ImportRun, Outcome } from './importRun.ts';
import type { Refusal, Row } from './rows.ts';

const QUEUE = 'imports';
/** More rows than this are brought in by a job. */
const AT_ONCE = 5000;

export type Target = 'catalog' | 'people';
const IMPORTERS: Record<Target, (db: Queryable, run: ImportRun) => Promise<Outcome>> = {
  catalog: importCatalog,
  people: importPeople,
};

/** What was sent, read as far as its form goes. */
export interface Sent {
  readonly target: Target;
  readonly mode: 'merge' | 'replace';
  readonly badRows: 'skip' | 'refuseAll';
  readonly columns: readonly string[];
  readonly rows: readonly Row[];
  /** Rows whose form is broken. */
  readonly refused: readonly Refusal[];
}

type Needs = Pick<Services, 'db' | 'clock'>;

/** Brings in what was sent and answers with the report, or, when it is long, with the job that will. */
export async function startImport(services: Services, sent: Sent): Promise<ImportReport | Job> {
  if (sent.rows.length <= AT_ONCE) return runImport(services, sent);
  const values = [sent.target, sent.mode, sent.badRows, JSON.stringify(sent), sent.rows.length];
  return services.db.transaction(async (client) => {
    const { rows } = await client.query<Job>(`${CREATE_JOB} RETURNING ${JOB_COLUMNS}`, values);
    const [job] = rows;
    if (!job) throw new Error('the new job did not come back');
    await queueJob(client, services.jobs, { queue: QUEUE, data: { id: job.id }, retryLimit: 2 });
    return job;
  });
}

async function runImport(
  { db, clock }: Needs,
  sent: Sent,
  progress?: (rowsDone: number) => Promise<void>,
): Promise<ImportReport> {
  const { target, mode, badRows, columns, rows } = sent;
  const shop = shopFacts(await theShop(db));
  const run = { rows, columns, mode, shop, at: new Date(clock()), ...(progress ? { progress } : {}) };
  return db.transaction(async (client) => {
    const outcome = await IMPORTERS[target](client, run);
    const refused = [...sent.refused, ...outcome.refused].sort((a, b) => a.line - b.line);
    if (badRows === 'refuseAll' && refused.length > 0) throw invalid('The file', refused.map(faultOf));
    return { mode, rows: rows.length + sent.refused.length, ...outcome, refused };
  });
}

const faultOf = ({ line, column, reason }: Refusal) => ({
  pointer: column === null ? `/${line}` : `/${line}/${column}`,
  found: `line ${line}${column === null ? '' : `, column ${column}`}`,
  allowed: reason,
});

const JOB_COLUMNS = `id, state, rows_done AS "rowsDone", row_count AS rows, report, error`;
const CREATE_JOB = `
  INSERT INTO imports (target, mode, bad_rows, rows, row_count) VALUES ($1, $2, $3, $4, $5)`;
const READ_JOB = `SELECT ${JOB_COLUMNS} FROM imports WHERE id = $1`;
const END_JOB = `
  UPDATE imports SET state = $2, report = $3, error = $4, rows = NULL,
    rows_done = CASE WHEN $2 = 'done' THEN row_count ELSE rows_done END
  WHERE id = $1`;

export async function jobById({ db }: Needs, id: string): Promise<Job> {
  const { rows } = await db.query<Job>(READ_JOB, [id]);
  const [job] = rows;
  if (!job) throw notFound(`job ${id}`);
  return job;
}

/** Runs the jobs that any copy of the server started. */
export async function workImports(jobs: PgBoss, services: Needs): Promise<void> {
  await jobs.createQueue(QUEUE);
  await jobs.work<{ id: string }>(QUEUE, { pollingIntervalSeconds: 1 }, async ([job]) => {
    if (job) await runJob(services, job.data.id);
  });
}

/** Sent twice, it runs once: what has ended keeps no rows. */
async function runJob(services: Needs, id: string): Promise<void> {
  const { db } = services;
  const start = "UPDATE imports SET state = 'running' WHERE id = $1 AND rows IS NOT NULL RETURNING rows AS sent";
  const { rows } = await db.query<{ sent: Sent }>(start, [id]);
  const [row] = rows;
  if (!row) return;
  const progress = async (rowsDone: number) => {
    await db.query('UPDATE imports SET rows_done = $2 WHERE id = $1', [id, rowsDone]);
  };
  try {
    const report = await runImport(services, row.sent, progress);
    await db.query(END_JOB, [id, 'done', JSON.stringify(report), null]);
  } catch (error) {
    const reason = error instanceof Error ? error.message : 'it failed';
    await db.query(END_JOB, [id, 'failed', null, reason]);
  }
}
