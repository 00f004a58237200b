import type { Call, Problem, Reply } from '#core/contract/call.ts';

/** A call that was answered with a problem, or not at all. */
export class ApiError extends Error {
  constructor(
    /** 0 when no answer came. */
    readonly status: number,
    readonly problem: Pick<Problem, 'title' | 'detail' | 'errors'> & Partial<Pick<Problem, 'type'>>,
  ) {
    super(problem.detail);
  }

  /** Whether it is a problem of one of these kinds. */
  is(...kinds: readonly string[]): boolean {
    return kinds.includes(this.problem.type?.split(':').at(-1) ?? '');
  }
}

type BodyOf<C extends Call> = Extract<Reply<C>, { body: unknown }>['body'];

interface Sending {
  readonly body?: unknown;
  /** A file of rows, sent as it is instead of a JSON body. */
  readonly csv?: Blob;
  readonly ifMatch?: string;
  /** Goes on when the page is left. */
  readonly keepalive?: boolean;
  /** Gives it up: the server ends what it is doing for it. */
  readonly signal?: AbortSignal;
  /** Preference for the answer (RFC 7240). */
  readonly prefer?: string;
}

let csrfToken: string | null = null;

/** Sent with every call that changes something. */
export function rememberCsrfToken(token: string | null): void {
  csrfToken = token;
}

/**
 * Makes one call of the contract, whose type is named: `send<typeof getShop>('get', '/api/shop')`.
 * @throws {ApiError}
 */
export async function send<C extends Call>(
  method: C['method'],
  path: string,
  { body, csv, ifMatch, keepalive, signal, prefer }: Sending = {},
): Promise<{ status: number; body: BodyOf<C>; etag: string }> {
  const response = await fetch(path, {
    method: method.toUpperCase(),
    headers: {
      Accept: 'application/json',
      ...(csv === undefined ? {} : { 'Content-Type': 'text/csv' }),
      ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
      ...(method === 'get' || csrfToken === null ? {} : { 'X-CSRF-Token': csrfToken }),
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
  return { status: response.status, body: json as BodyOf<C>, etag: response.headers.get('ETag') ?? '' };
}

/**
 * Makes a call that may take long: asks again until the answer is there.
 * @param report hears meanwhile how much of it is done, from 0 to 1
 * @throws {ApiError}
 */
export async function sendPatiently<C extends Call>(
  method: C['method'],
  path: string,
  sending: Pick<Sending, 'body' | 'signal'>,
  report: (done: number) => void,
): Promise<Extract<Reply<C>, { status: 200 }>['body']> {
  for (;;) {
    const { status, body } = await send<C>(method, path, { ...sending, prefer: 'respond-async, wait=1' });
    if (status === 200) return body;
    report((body as { readonly done: number }).done);
  }
}
