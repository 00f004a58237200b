import { request, type IncomingMessage } from 'node:http';

export interface RawAnswer {
  readonly status: number;
  readonly headers: IncomingMessage['headers'];
  readonly text: string;
}

/** A request whose address goes out exactly as it is written, which `fetch` would tidy up. */
export function rawRequest(
  server: string,
  {
    method,
    path,
    headers = {},
    body,
  }: { method: string; path: string; headers?: Record<string, string>; body?: string },
): Promise<RawAnswer> {
  const { hostname, port } = new URL(server);
  return new Promise((resolve, reject) => {
    const sent = request({ hostname, port, method, path, headers, agent: false }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (chunk: Buffer) => chunks.push(chunk));
      answer.on('end', () => {
        const { statusCode = 0, headers } = answer;
        resolve({ status: statusCode, headers, text: Buffer.concat(chunks).toString() });
      });
    });
    sent.once('error', reject);
    sent.end(body);
  });
}
