import type { Request } from 'express';
import { ProblemError } from '../errors.ts';
import { read } from './signed.ts';

const PURPOSE = 'understudy-shop';

/**
 * Lets only the shop's own server go on: it sends a token that it signed with the visitors' secret (JWT, HS256, `aud`
 * `understudy-shop`, and an `exp` that is near).
 * @throws {ProblemError} 401
 */
export async function shopOnly(request: Request, secrets: readonly string[], now: number): Promise<void> {
  const token = /^Bearer +(\S+)$/i.exec(request.get('Authorization') ?? '')?.[1];
  for (const secret of secrets) if (await read(secret, token, { purpose: PURPOSE, now })) return;
  const detail = 'This call is for the shop’s server: sign a token with the visitors’ secret, for understudy-shop.';
  throw new ProblemError(401, 'not-the-shop', 'Not the shop', detail, { headers: { 'WWW-Authenticate': 'Bearer' } });
}
