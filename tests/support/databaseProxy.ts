import { createServer, connect, type AddressInfo, type Socket } from 'node:net';

/** A line to a database that can be cut: to the server behind it, the database is down or frozen. */
export interface DatabaseProxy {
  readonly url: string;
  /** Drops every connection and refuses new ones, as a database that is down does. */
  stop(): Promise<void>;
  /** Lets nothing through in either direction, as a frozen machine does. */
  freeze(): void;
  /** Lets everything through again. */
  resume(): Promise<void>;
}

function join([near, far]: readonly [Socket, Socket]): void {
  near.pipe(far);
  far.pipe(near);
}

export async function startDatabaseProxy(databaseUrl: string): Promise<DatabaseProxy> {
  const target = new URL(databaseUrl);
  const pairs = new Set<readonly [Socket, Socket]>();
  let isFrozen = false;
  const listen = (port: number) =>
    new Promise<ReturnType<typeof createServer>>((resolve) => {
      const server = createServer((near) => {
        const far = connect(Number(target.port), target.hostname);
        const pair = [near, far] as const;
        pairs.add(pair);
        if (!isFrozen) join(pair);
        for (const socket of pair) {
          socket.on('error', () => undefined);
          socket.on('close', () => {
            pairs.delete(pair);
            near.destroy();
            far.destroy();
          });
        }
      }).listen(port, '127.0.0.1', () => {
        resolve(server);
      });
    });
  let server: Awaited<ReturnType<typeof listen>> | null = await listen(0);
  const { port } = server.address() as AddressInfo;
  const url = new URL(databaseUrl);
  url.host = `127.0.0.1:${port}`;
  return {
    url: url.href,
    async stop() {
      const closing = server;
      server = null;
      const closed = new Promise((resolve) => {
        if (closing) closing.close(resolve);
        else resolve(null);
      });
      for (const pair of pairs) for (const socket of pair) socket.destroy();
      await closed;
    },
    freeze() {
      isFrozen = true;
      for (const [near, far] of pairs) {
        near.unpipe(far);
        far.unpipe(near);
      }
    },
    async resume() {
      isFrozen = false;
      for (const pair of pairs) join(pair);
      server ??= await listen(port);
    },
  };
}
