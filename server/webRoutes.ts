import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type IRouter } from 'express';
import type { Services } from './app.ts';

/** The owner's application: files whose names change with their content, and one page for every address of its own. */
export function webRoutes(router: IRouter, { files }: Services): void {
  const page = join(files.web, 'index.html');
  router.use('/assets', express.static(join(files.web, 'assets'), { immutable: true, maxAge: '1y', index: false }));
  router.get('/{*address}', (request, response, next) => {
    if (
      request.path.startsWith('/api/') ||
      request.path.startsWith('/v1/') ||
      !request.accepts('html') ||
      !existsSync(page)
    ) {
      next();
      return;
    }
    response.set('Cache-Control', 'no-cache').sendFile(page);
  });
}
