import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import express from 'express';
import type { Endpoints } from './http/endpoints.ts';
import type { Services } from './services/services.ts';

/** The owner's application: files whose names change with their content, and one page for every address of its own. */
export function webRoutes(endpoints: Endpoints, { files }: Services): void {
  const file = join(files.web, 'index.html');
  if (!existsSync(file)) return;
  const page = readFileSync(file, 'utf8');
  endpoints.files(
    '/assets',
    express.static(join(files.web, 'assets'), { immutable: true, maxAge: '1y', index: false }),
  );
  endpoints.mount('get', '/icon.svg', 'public', (_request, response) => {
    response.sendFile(join(files.web, 'icon.svg'), { maxAge: '1h' });
  });
  endpoints.mount('get', '/{*address}', 'public', (request, response, next) => {
    if (/^\/(api|v1|assets)(\/|$)/i.test(request.path) || !request.accepts('html')) {
      next();
      return;
    }
    // The styles that the application makes while it runs carry a word that only this answer knows.
    const nonce = randomBytes(16).toString('base64');
    const policy = String(response.getHeader('Content-Security-Policy'));
    response.set('Content-Security-Policy', policy.replace("style-src 'self'", `style-src 'self' 'nonce-${nonce}'`));
    response.set('Cache-Control', 'no-store').type('html').send(page.replace('%NONCE%', nonce));
  });
}
