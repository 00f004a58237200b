import type { ErrorRequestHandler, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { Problem } from '#core/contract/call.ts';
import type { ProblemCode } from '#core/contract/problems.ts';
import { DatabaseSilentError, isDatabaseAway, isDatabaseBusy } from './db/databaseErrors.ts';
import { notFound, ProblemError } from './http/errors.ts';

/** Error of Express's body parsers. */
interface BodyError {
  readonly type: string;
  readonly status: number;
}

/** Answers every address that no call has. */
export const noSuchAddress: RequestHandler = (request) => {
  throw notFound(`address ${request.method} ${request.path}`);
};

/** The one place where errors become answers (RFC 9457). */
export const toProblem =
  (log: Logger): ErrorRequestHandler =>
  (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const known = asProblem(error);
    if (!known) log.error({ id: request.id, err: error }, 'a request failed');
    const problem = known ?? failed();
    const body: Problem = {
      type: `urn:understudy:problem:${problem.code}`,
      title: problem.title,
      status: problem.status,
      detail: problem.detail,
      requestId: request.id,
      ...(problem.extra.errors ? { errors: [...problem.extra.errors] } : {}),
    };
    // Closes the connection if much of a refused body is still to come; a little is read and discarded.
    if (!request.complete && !(Number(request.get('Content-Length')) <= LITTLE)) response.set('Connection', 'close');
    response
      .status(problem.status)
      .set(problem.extra.headers ?? {})
      .type('application/problem+json')
      .send(JSON.stringify(body));
  };

const LITTLE = 100_000;

const failed = () =>
  new ProblemError(
    'failed',
    'The server could not do this, and changed nothing. Try again; if it stays, give the request id to whoever runs it.',
  );

function asProblem(error: unknown): ProblemError | null {
  if (error instanceof ProblemError) return error;
  if (error instanceof URIError) {
    return new ProblemError('bad-address', 'The address has a broken percent-encoding. Correct it.');
  }
  if (isDatabaseAway(error)) {
    const detail =
      error instanceof DatabaseSilentError
        ? 'The database does not answer just now. Wait a moment, look whether it was done, and try again.'
        : 'The database cannot be reached just now, so nothing was changed. Try again in a moment.';
    return new ProblemError('database-away', detail, { headers: { 'Retry-After': '1' } });
  }
  if (isDatabaseBusy(error)) {
    const detail = 'Too much came at once, so nothing was changed. Try again in a moment.';
    return new ProblemError('busy', detail, { headers: { 'Retry-After': '1' } });
  }
  if (!isBodyError(error)) return null;
  const [code, detail] = BODY_PROBLEMS[error.type] ?? ['bad-request', 'The body could not be read. Check it.'];
  return new ProblemError(code, detail);
}

const BODY_PROBLEMS: Partial<Record<string, [code: ProblemCode, detail: string]>> = {
  'entity.parse.failed': [
    'broken-json',
    'The body is not valid JSON, so nothing was changed. Correct it and send it again.',
  ],
  'entity.too.large': ['too-large', 'The body is larger than this call takes. Send it in parts.'],
  'charset.unsupported': ['charset', 'Send the body as UTF-8.'],
  'encoding.unsupported': ['encoding', 'Send the body plain, or packed with gzip.'],
};

function isBodyError(error: unknown): error is BodyError {
  return (
    error instanceof Error &&
    'type' in error &&
    typeof error.type === 'string' &&
    'status' in error &&
    typeof error.status === 'number' &&
    error.status >= 400 &&
    error.status < 500
  );
}
