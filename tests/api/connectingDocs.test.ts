import { spawn } from 'node:child_process';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startNursery } from '../support/demo.ts';
import { OWNER_KEY, type TestServer } from '../support/testServer.ts';

/** A block of code in the page, with what follows it as what comes of it. */
interface Sample {
  readonly language: string;
  readonly code: string;
  readonly result: string;
}

const page = readFileSync('docs/connecting.md', 'utf8');
const blocks = [...page.matchAll(/^```(\w+)( \w+)?\n([\s\S]*?)^```$/gm)].map(
  ([, language = '', about = '', code = '']) => ({
    language: language + about,
    code,
  }),
);
const samples = blocks.flatMap(({ language, code }, index): Sample[] =>
  ['js', 'http'].includes(language) ? [{ language, code, result: blocks[index + 1]?.code ?? '' }] : [],
);
const rulebook: unknown = JSON.parse(blocks.find(({ language }) => language === 'json rulebook')?.code ?? '');

let server: TestServer;
let env: Record<string, string>;
/** Path of the client that the samples use. */
const client = pathToFileURL('node_modules/.cache/understudy/client.mjs').href;
beforeAll(async () => {
  await build({
    entryPoints: ['client/understudy.ts'],
    outfile: fileURLToPath(client),
    platform: 'node',
    format: 'esm',
  });
  server = await startNursery();
  expect((await server.publish(rulebook)).status).toBe(201);
  const { body } = await server.send('GET', '/api/connection');
  const secret = (body as { visitorSecret: string }).visitorSecret;
  env = { UNDERSTUDY_URL: server.url, VISITOR_SECRET: secret, UNDERSTUDY_KEY: OWNER_KEY };
});
afterAll(() => server.stop());

/** Runs a sample for Node as it stands, and answers with what it prints. */
async function run(code: string): Promise<string> {
  const child = spawn(process.execPath, ['--input-type=module'], { env: { ...process.env, ...env } });
  let printed = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (part: Buffer) => (printed += part.toString()));
  child.stdin.end(code.replaceAll("'understudy-client'", `'${client}'`));
  await new Promise((resolve) => child.once('exit', resolve));
  return printed;
}

/** Sends a sample of plain HTTP. */
async function send(code: string) {
  const [head = '', body = ''] = code.split('\n\n');
  const [line = '', ...headers] = head.split('\n');
  const [method = '', path = ''] = line.split(' ');
  const member = await server.token('c-01', ['member']);
  const filled = (text: string) => text.replace('{key}', OWNER_KEY).replace('{token of a member}', member);
  return fetch(server.url + path, {
    method,
    headers: Object.fromEntries(headers.map((header) => filled(header).split(': ') as [string, string])),
    body: filled(body),
  });
}

describe('the page for a shop’s developer', () => {
  it('has samples for plain HTTP and for Node', () => {
    const count = (wanted: string) => samples.filter(({ language }) => language === wanted).length;
    expect([count('js'), count('http')]).toEqual([8, 4]);
  });

  it.each(
    samples.filter(({ language }) => language === 'js').map(({ code, result }) => [code.split('\n')[0], code, result]),
  )('says what Node prints: %s', async (_first, code = '', result = '') => {
    expect(await run(code)).toBe(result);
  });

  it.each(
    samples
      .filter(({ language }) => language === 'http')
      .map(({ code, result }) => [code.split('\n')[0], code, result]),
  )('says what is answered: %s', async (_first, code = '', result = '') => {
    const answer = await send(code);
    expect(answer.status).toBe(200);
    expect(await answer.json()).toMatchObject(JSON.parse(result) as object);
  });
});
