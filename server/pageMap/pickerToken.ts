import type { RequestHandler } from 'express';
import { ProblemError } from '../http/errors.ts';
import { bearerOf } from '../http/identity.ts';
import type { Links } from '../http/links.ts';

const PURPOSE = 'picker';
const LIFE_MS = 30 * 60 * 1000;

/** Lets whoever has it change the draft of the page map, in the name of `by`, for half an hour. */
export async function pickerToken(
  links: Links,
  { by, now }: { by: string; now: number },
): Promise<{ token: string; until: Date }> {
  const until = now + LIFE_MS;
  return { token: await links.sign(PURPOSE, until, { by }), until: new Date(until) };
}

/** In whose name a token lets pick; null when it is not valid now. */
export async function pickerOf(links: Links, token: unknown): Promise<string | null> {
  const claims = await links.read(PURPOSE, token);
  return typeof claims?.by === 'string' ? claims.by : null;
}

/** Lets only the picker go on, and says in whose name it picks. */
export const pickerOnly =
  (links: Links): RequestHandler =>
  async (request, response, next) => {
    const by = await pickerOf(links, bearerOf(request));
    if (by === null) {
      const detail =
        'The picker was open for its half hour. Open it again from Connection; what was kept is in the draft.';
      throw new ProblemError(401, 'picker-over', 'The picker is over', detail);
    }
    response.locals.picker = by;
    next();
  };
