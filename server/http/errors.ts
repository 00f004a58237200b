import type { ValidationIssue } from '#core/contract/validation.ts';

/** Something that a caller did, or met, which has an answer: each carries its own status. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    /** Names the kind of problem; the last part of its `type`. */
    readonly code: string,
    readonly title: string,
    /** Explains the problem and what to do. */
    readonly detail: string,
    readonly extra: {
      readonly errors?: readonly ValidationIssue[];
      readonly headers?: Readonly<Record<string, string>>;
    } = {},
  ) {
    super(detail);
  }
}

export const notFound = (what: string) =>
  new ProblemError(404, 'not-found', 'Not found', `There is no ${what}. Check the address.`);

/** @param what the document that was sent, as the start of a sentence */
export function invalid(what: string, errors: readonly ValidationIssue[]): ProblemError {
  const count = errors.length === 1 ? 'one fault' : `${errors.length} faults`;
  const detail = `${what} has ${count}, so nothing was changed. Each is listed with what is allowed there.`;
  return new ProblemError(422, 'invalid', 'Not valid', detail, { errors });
}
