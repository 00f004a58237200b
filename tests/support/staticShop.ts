import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';

export interface StaticShop {
  readonly url: string;
  /** Content by address, which may change while it serves. */
  readonly pages: Map<string, string>;
  readonly stop: () => Promise<void>;
}

/** A shop of pages that are written, not made: each address answers with its page, all others with 404. */
export async function staticShop(pages: Iterable<readonly [string, string]>): Promise<StaticShop> {
  const served = new Map(pages);
  const server = createServer((request, response) => {
    const page = served.get(new URL(request.url ?? '/', 'http://shop').pathname);
    response.writeHead(page === undefined ? 404 : 200, { 'Content-Type': 'text/html; charset=utf-8' });
    response.end(page ?? '');
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    pages: served,
    stop: async () => {
      await new Promise((resolve) => {
        server.close(resolve);
        server.closeAllConnections();
      });
    },
  };
}
