import { IncomingMessage, ServerResponse } from 'node:http';
import { Socket } from 'node:net';
import type { RequestHandler } from 'express';
import helmet from 'helmet';

/** Security headers, the same for every answer and computed once. */
export function securityHeaders(): RequestHandler {
  const request = new IncomingMessage(new Socket());
  const template = new ServerResponse(request);
  helmet({
    contentSecurityPolicy: {
      directives: {
        styleSrc: ["'self'"],
        fontSrc: ["'self'"],
        // Pictures of goods are wherever the shop has them.
        imgSrc: ["'self'", 'data:', 'https:', 'http:'],
        upgradeInsecureRequests: null,
      },
    },
    crossOriginOpenerPolicy: false,
    originAgentCluster: false,
  })(request, template, () => undefined);
  const headers = new Map(Object.entries(template.getHeaders() as Record<string, string>));
  return (_request, response, next) => {
    response.setHeaders(headers);
    next();
  };
}
