import express from 'express';
// Its own entry would load the whole reader to say where it is.
import readerFolder from 'swagger-ui-dist/absolute-path.js';
import { rulebookJsonSchema } from '#core/rulebook/jsonSchema.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { openApiDocument } from './openApi.ts';

/** The description of the calls, and a page to read it. */
export function docsRoutes(endpoints: Endpoints, { config }: Services): void {
  let document: ReturnType<typeof openApiDocument> | undefined;
  endpoints.mount('get', '/api/openapi.json', 'public', (_request, response) => {
    document ??= openApiDocument(config.publicUrl);
    response.set('Access-Control-Allow-Origin', '*').json(document);
  });
  let schema: ReturnType<typeof rulebookJsonSchema> | undefined;
  endpoints.mount('get', '/api/rulebook.schema.json', 'public', (_request, response) => {
    schema ??= rulebookJsonSchema();
    response.set('Access-Control-Allow-Origin', '*').type('application/schema+json').send(JSON.stringify(schema));
  });
  endpoints.mount('get', '/api/docs', 'public', (_request, response) => {
    // The reader sets styles on its elements, which the application itself never does.
    response.set(
      'Content-Security-Policy',
      "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:",
    );
    response.type('html').send(PAGE);
  });
  endpoints.mount('get', '/api/docs/start.js', 'public', (_request, response) => {
    response.type('text/javascript').send(START);
  });
  endpoints.files('/api/docs/files', express.static(readerFolder(), { index: false, maxAge: '1h' }));
}

const PAGE = `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width" />
    <title>Calls · Understudy</title>
    <link rel="stylesheet" href="/api/docs/files/swagger-ui.css" />
  </head>
  <body>
    <main id="calls"></main>
    <script src="/api/docs/files/swagger-ui-bundle.js"></script>
    <script src="/api/docs/start.js"></script>
  </body>
</html>
`;

const START = `SwaggerUIBundle({ url: '/api/openapi.json', dom_id: '#calls', deepLinking: true, validatorUrl: null });
`;
