import { randomUUID } from 'node:crypto';
import type { RequestHandler } from 'express';
import type { Logger } from 'pino';

declare module 'http' {
  interface IncomingMessage {
    /** Names the request in the log and in problems. */
    id: string;
  }
}

/**
 * Logs which call was made and what came of it, when it is over, and nothing personal or secret: the route as it was
 * mounted, not the address with what is in it; null where nothing is mounted.
 */
export function requestLog(log: Logger): RequestHandler {
  return (request, response, next) => {
    request.id = randomUUID();
    const from = performance.now();
    response.once('close', () => {
      const { id, method } = request;
      const { path: route = null } = (request.route ?? {}) as { path?: string };
      const ms = Math.round(performance.now() - from);
      log.info({ id, method, route, status: response.writableFinished ? response.statusCode : null, ms }, 'a request');
    });
    next();
  };
}
