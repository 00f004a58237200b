import { readFileSync } from 'node:fs';
import { createConfig, lintFromString } from '@redocly/openapi-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startServer, type TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

it('the description of the calls is valid OpenAPI 3.1, and names every one', async () => {
  const { status, body } = await server.send('GET', '/api/openapi.json', { asNobody: true });
  expect(status).toBe(200);
  const config = await createConfig({ extends: ['minimal'] });
  const problems = await lintFromString({ source: JSON.stringify(body), config });
  expect(
    problems
      .filter(({ severity }) => severity === 'error')
      .map(({ message, location }) => [message, location[0]?.pointer]),
  ).toEqual([]);
  const { openapi, paths } = body as { openapi: string; paths: Record<string, object> };
  expect(openapi).toBe('3.1.0');
  expect(Object.keys(paths)).toEqual(
    expect.arrayContaining([
      '/v1/decisions',
      '/v1/guard',
      '/api/rulebook',
      '/api/editions',
      '/api/editions/{number}/restore',
      '/api/rehearsal/decisions',
      '/api/catalog/import',
      '/api/people/import',
    ]),
  );
});

it('there is a page to read it, whose files come from here', async () => {
  const page = await server.send('GET', '/api/docs', { asNobody: true });
  expect(page.status).toBe(200);
  for (const [, address] of String(page.body).matchAll(/(?:src|href)="([^"]+)"/g)) {
    expect(address).toMatch(/^\//);
    expect((await server.send('GET', address ?? '', { asNobody: true })).status).toBe(200);
  }
});

it('the rulebook’s JSON Schema is published at an address, and in docs/ as it is there', async () => {
  const { status, body, headers } = await server.send('GET', '/api/rulebook.schema.json', { asNobody: true });
  expect(status).toBe(200);
  expect(headers.get('Content-Type')).toContain('application/schema+json');
  const published: unknown = typeof body === 'string' ? JSON.parse(body) : body;
  expect(published).toEqual(JSON.parse(readFileSync('docs/rulebook.schema.json', 'utf8')));
});
