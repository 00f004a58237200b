/** Exit code of a command: 0 for success; 1 if a pipeline should stop; 2 if it failed. */
export type ExitCode = 0 | 1 | 2;

/** Result of a command, as data and as text. */
export interface Outcome {
  readonly code: ExitCode;
  readonly json: unknown;
  readonly lines: readonly string[];
}
