/** Answer of a call; null if none came. */
export interface Answered {
  readonly ok: boolean;
  readonly body: unknown;
}

/** Makes a call, which can be repeated after a network failure without doing anything twice. */
export async function call(address: string, body: object): Promise<Answered | null> {
  try {
    const response = await fetch(address, {
      method: 'POST',
      credentials: 'omit',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    return { ok: response.ok, body: await response.json() };
  } catch {
    return null;
  }
}

/** Whether a problem concerns a part of the request (RFC 6901). */
export const isAbout = ({ body }: Answered, pointer: string): boolean => {
  const { errors } = body as { errors?: readonly { pointer: string }[] };
  return errors?.some((error) => error.pointer === pointer) === true;
};

/** Text of a problem (RFC 9457). */
export const problemIn = ({ body }: Answered): string => {
  const { detail } = body as { detail?: unknown };
  return typeof detail === 'string' ? detail : '';
};
