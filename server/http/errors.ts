import { PROBLEMS, type ProblemCode } from '#core/contract/problems.ts';
import type { ValidationIssue } from '#core/contract/validation.ts';

/** A problem reported to the caller. */
export class ProblemError extends Error {
  readonly status: number;

  constructor(
    readonly code: ProblemCode,
    /** Explains the problem and what to do. */
    readonly detail: string,
    readonly extra: {
      readonly errors?: readonly ValidationIssue[];
      readonly headers?: Readonly<Record<string, string>>;
      /** Instead of the status of its kind. */
      readonly status?: number;
    } = {},
  ) {
    super(detail);
    this.status = extra.status ?? PROBLEMS[code].status;
  }

  get title(): string {
    return PROBLEMS[this.code].title;
  }
}

export const notFound = (what: string) => new ProblemError('not-found', `There is no ${what}. Check the address.`);

/** @param what names the document, at the start of a sentence */
export function invalid(what: string, errors: readonly ValidationIssue[]): ProblemError {
  const count = errors.length === 1 ? 'one fault' : `${errors.length} faults`;
  const detail = `${what} has ${count}, so nothing was changed. Each is listed with what is allowed there.`;
  return new ProblemError('invalid', detail, { errors });
}
