import { reply, type RequestContext } from '../http/route.ts';
import { StillWorking, type Waiting } from './analyst.ts';

/**
 * Answers a question about the whole catalog, and gives it up when the caller disconnects. With `Prefer: respond-async, wait=N`
 * (RFC 7240), an answer that takes longer than N seconds is a 202 with the progress, and the caller asks again.
 */
export async function answered<Body>({ request, response }: RequestContext, find: (how: Waiting) => Promise<Body>) {
  const gone = new AbortController();
  response.on('close', () => {
    if (!response.writableEnded) gone.abort();
  });
  const preferred = request.get('Prefer') ?? '';
  const isAsync = /\brespond-async\b/i.test(preferred);
  const wait = Number(/\bwait=(\d{1,4})\b/i.exec(preferred)?.[1] ?? 0);
  try {
    return reply(200, await find({ signal: gone.signal, ...(isAsync ? { patience: wait * 1000 } : {}) }));
  } catch (error) {
    if (!(error instanceof StillWorking)) throw error;
    return reply(202, { done: error.part }, { 'Preference-Applied': 'respond-async' });
  }
}
