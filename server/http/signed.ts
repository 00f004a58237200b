import { jwtVerify, SignJWT, type JWTPayload } from 'jose';

/**
 * Signs what somebody may do by whatever they were handed: a link in a message, say (JWT, HS256, RFC 7519).
 * @param purpose what it is good for, and nothing else
 * @param until epoch ms
 */
export function sign(
  secret: string,
  { purpose, until, says }: { purpose: string; until: number; says: JWTPayload },
): Promise<string> {
  return new SignJWT(says)
    .setProtectedHeader({ alg: 'HS256' })
    .setAudience(purpose)
    .setExpirationTime(new Date(until))
    .sign(new TextEncoder().encode(secret));
}

/** What a token says; null when it is not valid now, or is for something else. */
export async function read(
  secret: string,
  token: unknown,
  { purpose, now }: { purpose: string; now: number },
): Promise<JWTPayload | null> {
  if (typeof token !== 'string' || token.length > 8000) return null;
  try {
    const { payload } = await jwtVerify(token, new TextEncoder().encode(secret), {
      algorithms: ['HS256'],
      audience: purpose,
      requiredClaims: ['exp'],
      currentDate: new Date(now),
    });
    return payload;
  } catch {
    return null;
  }
}
