import { SignJWT, jwtVerify } from 'jose';

const PURPOSE = 'picker';
const LIFE_MS = 30 * 60 * 1000;

/** Lets whoever has it change the draft of the page map, in the name of `by`, for half an hour. */
export async function pickerToken(
  secret: string,
  { by, now }: { by: string; now: number },
): Promise<{ token: string; until: Date }> {
  const until = new Date(now + LIFE_MS);
  const token = await new SignJWT({ by })
    .setProtectedHeader({ alg: 'HS256' })
    .setAudience(PURPOSE)
    .setExpirationTime(until)
    .sign(new TextEncoder().encode(secret));
  return { token, until };
}

/** In whose name a token lets pick; null when it is not valid now. */
export async function pickerOf(secret: string, token: string, now: number): Promise<string | null> {
  try {
    const { payload } = await jwtVerify(token, new TextEncoder().encode(secret), {
      algorithms: ['HS256'],
      audience: PURPOSE,
      requiredClaims: ['exp'],
      currentDate: new Date(now),
    });
    return typeof payload.by === 'string' ? payload.by : null;
  } catch {
    return null;
  }
}
