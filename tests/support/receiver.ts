import { createServer, type IncomingHttpHeaders } from 'node:http';
import type { AddressInfo } from 'node:net';

export interface Received {
  readonly path: string;
  readonly headers: IncomingHttpHeaders;
  readonly body: string;
}

/** A real server that takes what is posted to it, as a service or somebody's program does. */
export interface Receiver {
  readonly url: string;
  readonly host: string;
  readonly all: readonly Received[];
  /** The first call that fits, as soon as it is there. */
  call(fits: (call: Received) => boolean): Promise<Received>;
  /** Answers a path with these statuses in turn, and then with 200. */
  answer(path: string, ...statuses: number[]): void;
  stop(): Promise<void>;
}

export async function startReceiver(): Promise<Receiver> {
  const all: Received[] = [];
  const waiting: { fits: (call: Received) => boolean; resolve: (call: Received) => void }[] = [];
  const answers = new Map<string, number[]>();
  const server = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const path = request.url ?? '';
      const call = { path, headers: request.headers, body: Buffer.concat(chunks).toString() };
      all.push(call);
      response.writeHead(answers.get(path)?.shift() ?? 200).end();
      for (const one of waiting.filter(({ fits }) => fits(call))) one.resolve(call);
    });
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const host = `127.0.0.1:${(server.address() as AddressInfo).port}`;
  return {
    url: `http://${host}`,
    host,
    all,
    call: (fits) => {
      const there = all.find(fits);
      return there ? Promise.resolve(there) : new Promise((resolve) => waiting.push({ fits, resolve }));
    },
    answer: (path, ...statuses) => void answers.set(path, statuses),
    stop: () =>
      new Promise((resolve) => {
        server.close(() => {
          resolve();
        });
        server.closeAllConnections();
      }),
  };
}
