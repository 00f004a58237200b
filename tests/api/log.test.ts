import { pino } from 'pino';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startShop, type TestServer } from '../support/testServer.ts';

const lines: Record<string, unknown>[] = [];
let server: TestServer;
beforeAll(async () => {
  const written = { write: (line: string) => void lines.push(JSON.parse(line) as Record<string, unknown>) };
  server = await startShop({ log: pino({ level: 'info' }, written) });
});
afterAll(() => server.stop());

it('says of each request which call it was and what came of it, and nothing of who asked for what', async () => {
  lines.length = 0;
  const email = 'wren@quillfern.example';
  await server.send('GET', `/api/people?search=${email}`);
  const body = { surface: 'product', products: [{ path: '/plants/of-wren' }], visitor: 'secret-of-wren' };
  await server.send('POST', '/v1/decisions', { body, asNobody: true });
  const refused = await server.send('PATCH', '/api/products/of-wren', { body: { tags: [] } });
  await server.send('GET', '/no/such/address/of-wren');
  await expect.poll(() => lines).toHaveLength(4);
  expect(lines.map(({ method, route, status }) => [method, route, status])).toEqual([
    ['GET', '/api/people', 200],
    ['POST', '/v1/decisions', 200],
    ['PATCH', '/api/products/:id', 404],
    ['GET', null, 404],
  ]);
  expect(lines[2]).toMatchObject({
    id: (refused.body as { requestId: string }).requestId,
    ms: expect.any(Number) as number,
  });
  expect(JSON.stringify(lines)).not.toContain('wren');
});
