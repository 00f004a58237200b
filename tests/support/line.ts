import { connect, createServer, type AddressInfo, type Socket } from 'node:net';

/** A line to the database that a test can freeze and cut, as networks and machines do. */
export interface Line {
  /** The database's URL, by this line. */
  readonly url: string;
  /** Nothing goes over it any more, in either direction; nobody is told. */
  freeze(): void;
  thaw(): void;
  /** Ends every connection; new ones are taken. */
  cut(): void;
  stop(): Promise<void>;
}

export async function startLine(databaseUrl: string): Promise<Line> {
  const target = new URL(databaseUrl);
  const sockets = new Set<Socket>();
  let isFrozen = false;
  const server = createServer((near) => {
    const far = connect(Number(target.port), target.hostname);
    for (const [from, to] of [
      [near, far],
      [far, near],
    ] as const) {
      sockets.add(from);
      from.on('data', (chunk) => to.write(chunk));
      from.on('close', () => {
        sockets.delete(from);
        to.destroy();
      });
      from.on('error', () => undefined);
      if (isFrozen) from.pause();
    }
  });
  server.listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const url = new URL(databaseUrl);
  url.port = String((server.address() as AddressInfo).port);
  return {
    url: url.href,
    freeze() {
      isFrozen = true;
      for (const socket of sockets) socket.pause();
    },
    thaw() {
      isFrozen = false;
      for (const socket of sockets) socket.resume();
    },
    cut() {
      for (const socket of sockets) socket.destroy();
    },
    stop: () =>
      new Promise((resolve) => {
        for (const socket of sockets) socket.destroy();
        server.close(() => {
          resolve();
        });
      }),
  };
}
