/** The database has not answered for longer than anybody should wait. */
export class DatabaseSilentError extends Error {
  constructor() {
    super('the database does not answer');
  }
}

const codeOf = (error: Error) => ('code' in error && typeof error.code === 'string' ? error.code : '');

/** Connections refused, lost or silent, and a server that is stopping or starting (PostgreSQL's error classes 08 and 57P). */
export function isDatabaseAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  return (
    error instanceof DatabaseSilentError ||
    /^(ECONNREFUSED|ECONNRESET|EPIPE|08...|57P..)$/.test(codeOf(error)) ||
    // Messages of pg for a connection lost between two queries.
    /^Connection terminated|not queryable$/.test(error.message)
  );
}

/**
 * Errors of a busy database: no connection or lock was free in time, a statement or an idle
 * transaction was ended, or a deadlock was (PostgreSQL's 53300, 55P03, 57014, 25P03, 40001, 40P01).
 */
export function isDatabaseBusy(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  return (
    /^(53300|55P03|57014|25P03|40001|40P01)$/.test(codeOf(error)) ||
    error.message === 'timeout exceeded when trying to connect'
  );
}
