import type { Problem, Reply } from '#core/contract/call.ts';
import {
  addressOf,
  type AnswerOf,
  type Arguments,
  type CallName,
  type CallNamed,
  type InputOf,
  type Sending,
} from '#core/contract/callNames.ts';
import type { ProblemCode } from '#core/contract/problems.ts';

/** A call that was answered with a problem, or not at all. */
export class ApiError extends Error {
  constructor(
    /** 0 when no answer came. */
    readonly status: number,
    readonly problem: Pick<Problem, 'title' | 'detail' | 'errors'> & Partial<Pick<Problem, 'type'>>,
  ) {
    super(problem.detail);
  }

  /** Whether it is one of these problems. */
  is(...codes: readonly ProblemCode[]): boolean {
    const code = this.problem.type?.split(':').at(-1);
    return codes.some((one) => one === code);
  }
}

interface Options {
  /** A file of rows, sent as it is instead of a JSON body. */
  readonly csv?: Blob;
  readonly ifMatch?: string;
  /** Goes on when the page is left. */
  readonly keepalive?: boolean;
  /** Aborts the call, and the work of the server for it. */
  readonly signal?: AbortSignal;
  /** Preference for the answer (RFC 7240). */
  readonly prefer?: string;
}
/** The body of a call. */
export type BodyOf<Name extends CallName> = NonNullable<InputOf<CallNamed<Name>>['body']>;
/** The query of a call. */
export type QueryOf<Name extends CallName> = NonNullable<InputOf<CallNamed<Name>>['query']>;

let csrfToken: string | null = null;

/** Sent with every call that changes something. */
export function rememberCsrfToken(token: string | null): void {
  csrfToken = token;
}

/**
 * Makes one call of the contract: `send('GET /api/editions/{number}', { params: { number } })`.
 * @throws {ApiError}
 */
export async function send<const Name extends CallName>(
  name: Name,
  ...[sending = {} as Sending<Name, Options>]: Arguments<Name, Options>
): Promise<{ status: number; body: AnswerOf<CallNamed<Name>>; etag: string }> {
  const { csv, ifMatch, keepalive, signal, prefer, body }: Options & { readonly body?: unknown } = sending;
  const { method, path } = addressOf(name, sending);
  const response = await fetch(path, {
    method,
    headers: {
      Accept: 'application/json',
      ...(csv === undefined ? {} : { 'Content-Type': 'text/csv' }),
      ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
      ...(method === 'GET' || csrfToken === null ? {} : { 'X-CSRF-Token': csrfToken }),
      ...(ifMatch === undefined ? {} : { 'If-Match': ifMatch }),
      ...(prefer === undefined ? {} : { Prefer: prefer }),
    },
    ...(csv === undefined ? {} : { body: csv }),
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    ...(keepalive ? { keepalive } : {}),
    ...(signal ? { signal } : {}),
  }).catch((error: unknown) => {
    if (signal?.aborted) throw error;
    throw new ApiError(0, {
      title: 'Not reached',
      detail: 'The server could not be reached. Check the connection; nothing is lost meanwhile.',
    });
  });
  const text = await response.text();
  const isFile = response.headers.get('Content-Type')?.startsWith('text/csv') ?? false;
  const json: unknown = text === '' ? undefined : isFile ? text : JSON.parse(text);
  if (!response.ok) throw new ApiError(response.status, json as Problem);
  return { status: response.status, body: json as AnswerOf<CallNamed<Name>>, etag: response.headers.get('ETag') ?? '' };
}

/**
 * Makes a call that may take long: asks again until the answer is there.
 * @param report receives the progress meanwhile, from 0 to 1
 * @throws {ApiError}
 */
export async function sendPatiently<const Name extends CallName>(
  name: Name,
  sending: Sending<Name, Options>,
  report: (done: number) => void,
): Promise<Extract<Reply<CallNamed<Name>>, { status: 200 }>['body']> {
  for (;;) {
    const { status, body } = await send(
      name,
      ...([{ ...sending, prefer: 'respond-async, wait=1' }] as Arguments<Name, Options>),
    );
    if (status === 200) return body;
    report((body as { readonly done: number }).done);
  }
}
