import { AsyncLocalStorage } from 'node:async_hooks';
import type pg from 'pg';

/** Identifies a colleague, since names are not unique. */
export interface Actor {
  readonly id: number;
  readonly email: string;
}

/** Something that a colleague or a program does by one call. */
export interface Act {
  /** Whether the act is recorded already, or needs no record. */
  isRecorded: boolean;
  /** Null for a program. */
  readonly actor: Actor | null;
  /** Records an action in the transaction that makes its change. */
  readonly record: (client: Pick<pg.Pool, 'query'>) => Promise<void>;
}

/** Act of the current call: its first transaction writes the record together with the change. */
export const acting = new AsyncLocalStorage<Act>();
