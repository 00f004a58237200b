import { AsyncLocalStorage } from 'node:async_hooks';
import type pg from 'pg';

/** Identifies a colleague, since names are not unique. */
export interface Actor {
  readonly id: number;
  readonly email: string;
}

/** Something that a colleague or a program does by one call. */
export interface Act {
  /** What was done is written down already, or is nothing that is to be. */
  isRecorded: boolean;
  /** Null for a program. */
  readonly actor: Actor | null;
  /** Writes down what is done, with what changes it. */
  readonly record: (client: Pick<pg.Pool, 'query'>) => Promise<void>;
}

/** What is being done by the call that is answered: the first transaction of it keeps the record, with the change itself. */
export const acting = new AsyncLocalStorage<Act>();
