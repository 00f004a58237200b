import { read, sign } from '../http/signed.ts';

const PURPOSE = 'picker';
const LIFE_MS = 30 * 60 * 1000;

/** Lets whoever has it change the draft of the page map, in the name of `by`, for half an hour. */
export async function pickerToken(
  secret: string,
  { by, now }: { by: string; now: number },
): Promise<{ token: string; until: Date }> {
  const until = now + LIFE_MS;
  return { token: await sign(secret, { purpose: PURPOSE, until, says: { by } }), until: new Date(until) };
}

/** In whose name a token lets pick; null when it is not valid now. */
export async function pickerOf(secret: string, token: string, now: number): Promise<string | null> {
  const says = await read(secret, token, { purpose: PURPOSE, now });
  return typeof says?.by === 'string' ? says.by : null;
}
