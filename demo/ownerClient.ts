import type { Session } from '#core/contract/sessionCalls.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';

interface Setup {
  readonly token: string;
  readonly shop: { name: string; zone: string; locales: string[]; currency: string };
  readonly owner: { name: string; email: string; password: string };
}

/** The owner's calls, made as a browser makes them: with a session and its CSRF token. */
export interface Owner {
  /** @throws {Error} with the problem of the answer */
  send<T = unknown>(method: string, path: string, body?: string, type?: string): Promise<T>;
  saveDraft(rulebook: Rulebook): Promise<void>;
}

/** Sets the shop up, or signs in where that is done. */
export async function ownerOf(url: string, setup: Setup): Promise<Owner> {
  const isSetUp = (await json<Session>(await fetch(`${url}/api/session`))).setUp;
  const signIn = isSetUp
    ? await post(`${url}/api/session`, { email: setup.owner.email, password: setup.owner.password })
    : await post(`${url}/api/setup`, setup);
  const session = await json<Session>(signIn);
  const cookie = signIn.headers
    .getSetCookie()
    .map((line) => line.split(';')[0])
    .join('; ');
  const call = (method: string, path: string, body?: string, type = 'application/json', headers = {}) =>
    fetch(url + path, {
      method,
      headers: {
        cookie,
        'X-CSRF-Token': session.csrfToken ?? '',
        ...(body === undefined ? {} : { 'Content-Type': type }),
        ...headers,
      },
      ...(body === undefined ? {} : { body }),
    });
  return {
    send: async (method, path, body, type) => json(await call(method, path, body, type)),
    saveDraft: async (rulebook) => {
      const etag = (await call('GET', '/api/rulebook')).headers.get('ETag') ?? '';
      await json(
        await call('PUT', '/api/rulebook', JSON.stringify(rulebook), 'application/json', { 'If-Match': etag }),
      );
    },
  };
}

const post = (url: string, body: unknown) =>
  fetch(url, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });

async function json<T>(response: Response): Promise<T> {
  const text = await response.text();
  if (!response.ok) throw new Error(`${response.url} answered ${response.status}: ${text}`);
  return (text === '' ? undefined : JSON.parse(text)) as T;
}
