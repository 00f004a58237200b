import type { Problem } from '#core/contract/call.ts';
import {
  addressOf,
  type AnswerOf,
  type Arguments,
  type CallName,
  type CallNamed,
  type Sending,
} from '#core/contract/callNames.ts';

/** Error that ends a command, with a message for the user and exit code 2. */
export class CommandError extends Error {}

/** An Understudy that is asked with a program's key. */
export interface Service {
  /**
   * Makes one call of the contract: `call('GET /api/editions/{number}', { params: { number } })`.
   * @throws {CommandError} where it is not reached, or answers with a problem
   */
  call<const Name extends CallName>(name: Name, ...sending: Arguments<Name, Options>): Promise<Answer<Name>>;
}

interface Answer<Name extends CallName> {
  readonly body: AnswerOf<CallNamed<Name>>;
  readonly etag: string;
}

interface Options {
  /** A file of rows. */
  readonly csv?: Uint8Array;
  readonly ifMatch?: string;
}

/** @param env `UNDERSTUDY_URL` and `UNDERSTUDY_KEY`; a key is no argument, since others could read it there */
export function serviceOf(env: Readonly<Record<string, string | undefined>>): Service {
  const { UNDERSTUDY_URL: url, UNDERSTUDY_KEY: key } = env;
  if (!url || !key) {
    throw new CommandError(
      'Set UNDERSTUDY_URL to where Understudy is, and UNDERSTUDY_KEY to a key of Settings, Keys for programs.',
    );
  }
  return {
    async call<const Name extends CallName>(
      name: Name,
      ...[sending = {} as Sending<Name, Options>]: Arguments<Name, Options>
    ): Promise<Answer<Name>> {
      const { csv, ifMatch, body }: Options & { readonly body?: unknown } = sending;
      const { method, path } = addressOf(name, sending);
      const response = await fetch(new URL(path, url), {
        method,
        headers: {
          Authorization: `Bearer ${key}`,
          ...(csv ? { 'Content-Type': 'text/csv' } : {}),
          ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
          ...(ifMatch === undefined ? {} : { 'If-Match': ifMatch }),
        },
        ...(csv ? { body: csv as Uint8Array<ArrayBuffer> } : {}),
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      }).catch((error: unknown) => {
        const why = error instanceof Error && error.cause instanceof Error ? error.cause.message : String(error);
        throw new CommandError(`Understudy was not reached at ${url}: ${why}`);
      });
      const text = await response.text();
      if (!response.ok) throw new CommandError(problemWords(response.status, text));
      const isJson = (response.headers.get('Content-Type') ?? '').includes('json');
      const answer = (isJson ? JSON.parse(text) : text) as AnswerOf<CallNamed<Name>>;
      return { body: answer, etag: response.headers.get('ETag') ?? '' };
    },
  };
}

/** Text of a problem (RFC 9457), with all its errors. */
function problemWords(status: number, text: string): string {
  try {
    const { detail, errors = [] } = JSON.parse(text) as Problem;
    return [
      detail,
      ...errors.map(({ pointer, found, allowed }) => `  ${pointer} has ${found}; allowed is ${allowed}`),
    ].join('\n');
  } catch {
    return `Understudy answered ${status}, and not as it should.`;
  }
}
