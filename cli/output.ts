/** How a command ended: 0 well; 1 it found what a pipeline should stop for; 2 it could not do its work. */
export type ExitCode = 0 | 1 | 2;

/** What came of a command: for programs, and in words. */
export interface Outcome {
  readonly code: ExitCode;
  readonly json: unknown;
  readonly lines: readonly string[];
}
