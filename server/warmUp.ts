import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { promisify } from 'node:util';
import { pino } from 'pino';
import { postDecisions, postGuard } from '#core/contract/storefront.ts';
import { createApp } from './app.ts';
import type { AllServices } from './allServices.ts';

const ROUNDS = 80;
const AT_ONCE = 4;
const PRODUCTS = 20;

/**
 * Opens the connections that shoppers and orders use, and asks itself what pages and carts ask, at a port that nobody else
 * knows: so a server that is started again is as quick for those who wait for it as for those who come later. It only
 * reads, and logs nothing.
 */
export async function warmUp(services: AllServices): Promise<void> {
  for (const { pool, query } of [services.shopperDb, services.orderDb]) {
    await Promise.all(Array.from({ length: pool.options.max }, () => query('SELECT 1')));
  }
  const { rows } = await services.shopperDb.query<{ id: string; variantId: string }>(
    `SELECT p.external_id AS id, v.external_id AS "variantId" FROM products p JOIN variants v ON v.product_id = p.id
     LIMIT ${PRODUCTS}`,
  );
  const products = rows.map(({ id }) => ({ id }));
  const lines = rows.map(({ variantId }) => ({ variantId, quantity: 1 }));

  const server = createServer(createApp({ ...services, log: pino({ level: 'silent' }) }));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  const ask = async ({ path }: { path: string }, body: unknown) => {
    const response = await fetch(`http://127.0.0.1:${port}${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    await response.arrayBuffer();
  };
  for (let round = 0; round < ROUNDS; round += AT_ONCE) {
    await Promise.all(
      Array.from({ length: AT_ONCE }, async () => {
        await ask(postDecisions, { surface: 'listing', products });
        await ask(postGuard, { via: 'cart', lines });
      }),
    );
  }
  server.closeIdleConnections();
  await promisify(server.close.bind(server))();
}
