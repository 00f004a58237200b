/** The database has not answered for longer than anybody should wait. */
export class DatabaseSilentError extends Error {
  constructor() {
    super('the database does not answer');
  }
}
