import type { RequestHandler } from 'express';
import { decodeJwt, type JWTPayload } from 'jose';
import { ProblemError } from '../http/errors.ts';
import { bearerOf } from '../http/identity.ts';
import type { Links } from '../http/links.ts';

const PURPOSE = 'picker';
const LIFE_MS = 30 * 60 * 1000;

/** Lets its holder change the draft of the page map in the name of `by`, for half an hour. */
export async function pickerToken(
  links: Links,
  { by, now }: { by: string; now: number },
): Promise<{ token: string; until: Date; id: string }> {
  const until = now + LIFE_MS;
  const token = await links.sign(PURPOSE, until, { by });
  return { token, until: new Date(until), id: decodeJwt(token).jti ?? '' };
}

/** In whose name a token lets pick, and the token’s claims; null when it is not valid now. */
export async function pickerOf(links: Links, token: unknown): Promise<{ by: string; claims: JWTPayload } | null> {
  const claims = await links.read(PURPOSE, token);
  return typeof claims?.by === 'string' ? { by: claims.by, claims } : null;
}

/** Lets only the picker go on, and says in whose name it picks. */
export const pickerOnly =
  (links: Links): RequestHandler =>
  async (request, response, next) => {
    const picker = await pickerOf(links, bearerOf(request));
    if (picker === null) {
      const detail =
        'The picker was open for its half hour. Open it again from Connection; what was kept is in the draft.';
      throw new ProblemError('picker-over', detail);
    }
    response.locals.picker = picker;
    next();
  };
