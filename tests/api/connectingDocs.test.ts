import { execFile, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
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
const call = promisify(execFile);
/** A shop's own project, with the client installed as the page says. */
const project = mkdtempSync(join(tmpdir(), 'understudy-shop-'));
beforeAll(async () => {
  writeFileSync(join(project, 'package.json'), '{ "private": true, "type": "module" }');
  await call('npm', ['install', '--offline', '--no-audit', '--no-fund', join(process.cwd(), 'client')], {
    cwd: project,
  });
  server = await startNursery();
  expect((await server.publish(rulebook)).status).toBe(201);
  const { body } = await server.send('GET', '/api/connection');
  const secret = (body as { visitorSecret: string }).visitorSecret;
  env = { UNDERSTUDY_URL: server.url, VISITOR_SECRET: secret, UNDERSTUDY_KEY: OWNER_KEY };
});
afterAll(async () => {
  rmSync(project, { recursive: true });
  await server.stop();
});

/** Runs a sample for Node as it stands, and answers with what it prints. */
async function run(code: string): Promise<string> {
  const child = spawn(process.execPath, ['--input-type=module'], { cwd: project, env: { ...process.env, ...env } });
  let printed = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (part: Buffer) => (printed += part.toString()));
  child.stdin.end(code);
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

  it('installs a client that has types', async () => {
    writeFileSync(
      join(project, 'shop.ts'),
      `import { Understudy } from 'understudy-client';
       const understudy = new Understudy({ url: '', visitorSecret: '' });
       export const isSold = (lines: { variantId: string; quantity: number }[]): Promise<boolean> =>
         understudy.guard({ via: 'cart', lines, visitor: null }).then(({ ok }) => ok);`,
    );
    writeFileSync(join(project, 'wrong.ts'), "import { isSold } from './shop.js';\nvoid isSold([{ quantity: 1 }]);");
    const compiler = join(process.cwd(), 'node_modules/typescript-7/bin/tsc');
    const options = ['--noEmit', '--strict', '--module', 'nodenext', '--types', ''];
    const compile = (file: string) => call(process.execPath, [compiler, ...options, file], { cwd: project });
    await compile('shop.ts');
    await expect(compile('wrong.ts')).rejects.toMatchObject({ stdout: expect.stringContaining('variantId') as string });
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
