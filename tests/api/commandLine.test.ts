import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { MESSY_FILES } from '../files/messyFiles.ts';
import { run } from '../../cli/run.ts';
import { signedInAs } from '../support/colleagues.ts';
import { startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
let folder: string;
const keys: Record<string, string> = {};
beforeAll(async () => {
  server = await startShop();
  folder = mkdtempSync(join(tmpdir(), 'understudy-cli-'));
  const owner = await signedInAs(server, 'owner');
  for (const scopes of [['rules'], ['catalog'], ['people']]) {
    const body = { name: scopes.join(), scopes };
    const made = await server.send('POST', '/api/keys', { body, headers: owner.headers, asNobody: true });
    keys[scopes.join()] = (made.body as { key: string }).key;
  }
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  await server.stop();
});

const at = (name: string) => join(folder, name);
const write = (name: string, content: string | Uint8Array) => {
  writeFileSync(at(name), content);
  return at(name);
};
async function understudy(key: string | null, ...args: readonly string[]) {
  const said = { out: '', error: '' };
  const env = key === null ? {} : { UNDERSTUDY_URL: server.url, UNDERSTUDY_KEY: keys[key] ?? key };
  const code = await run(args, env, {
    out: (text) => (said.out += text),
    error: (text) => (said.error += text),
  });
  return { code, ...said };
}
const waitlist = (id: string, name: string) => ({
  id,
  name,
  on: true,
  when: { all: [{ fact: 'product.tags', op: 'hasAny', value: ['rare'] }] },
  then: { control: { kind: 'waitlist', per: 'product' } },
});
const rulebook = (...rules: readonly object[]) => JSON.stringify({ format: 'understudy-rulebook', version: 1, rules });

describe('the command line', () => {
  it('is installed by npm as a command', async () => {
    const call = promisify(execFile);
    const options = ['--global', '--offline', '--no-audit', '--no-fund', '--prefix', at('installed')];
    await call('npm', ['install', ...options, '.']);
    const { stdout } = await call(at('installed/bin/understudy'), ['check', write('empty.json', rulebook())], {
      cwd: folder,
    });
    expect(stdout).toContain('0 rules, all right.');
  });

  it('says whether a file is right, with every fault, and asks nobody', async () => {
    const good = write('good.json', rulebook(waitlist('w', 'Rare ones')));
    expect(await understudy(null, 'check', good)).toMatchObject({ code: 0, out: `${good}: 1 rule, all right.` });
    const bad = write('bad.json', rulebook({ ...waitlist('w', 'x'), then: { control: { kind: 'nonsense' } } }));
    const found = await understudy(null, 'check', bad);
    expect([found.code, found.out]).toEqual([1, expect.stringContaining('/rules/0/then/control')]);
    const unfinished = write('unfinished.json', rulebook({ ...waitlist('w', 'x'), then: {} }));
    expect(await understudy(null, 'check', unfinished, '--json')).toMatchObject({ code: 1 });
    expect(await understudy(null, 'check', at('nothing.json'))).toMatchObject({ code: 2 });
    expect(await understudy(null, 'check', write('no.json', '{'))).toMatchObject({ code: 2 });
  });

  it('says what a file would change, pushes it, publishes it, and takes it back', async () => {
    const file = write('rules.json', rulebook(waitlist('w', 'Rare ones')));
    const before = await understudy('rules', 'diff', file);
    expect(before).toMatchObject({
      code: 1,
      out: expect.stringMatching(/^\+ Rare ones: For products tagged rare/) as string,
    });
    const pushed = await understudy('rules', 'push', file, '--publish', '--note', 'Autumn');
    expect(pushed).toMatchObject({ code: 0, out: expect.stringContaining('Edition 1 is live.') as string });
    expect(await understudy('rules', 'diff', file)).toMatchObject({ code: 0 });
    expect(await understudy('rules', 'pull', at('back.json'))).toMatchObject({ code: 0 });
    expect(JSON.parse(readFileSync(at('back.json'), 'utf8'))).toEqual(JSON.parse(readFileSync(file, 'utf8')));
    const { out } = await understudy('rules', 'pull', '--json');
    expect(JSON.parse(out)).toMatchObject({ rules: [{ id: 'w' }] });
  });

  it('loses nobody’s unpublished work unless it is told to', async () => {
    await understudy('rules', 'push', write('draft.json', rulebook(waitlist('w', 'Somebody’s own'))));
    const other = write('other.json', rulebook(waitlist('v', 'Another')));
    expect(await understudy('rules', 'push', other)).toMatchObject({
      code: 1,
      out: expect.stringContaining('Rare ones is called Somebody’s own') as string,
    });
    expect(await understudy('rules', 'push', other, '--over-draft')).toMatchObject({ code: 0 });
    expect((await understudy('rules', 'diff', other, '--draft')).code).toBe(0);
  });

  it('brings in a file as shops have it, or says what it would do', async () => {
    const [german] = MESSY_FILES;
    const file = write('artikel.csv', german!.bytes);
    const looked = await understudy('catalog', 'import', file, '--target', 'catalog', '--preview');
    expect(looked).toMatchObject({ code: 0, out: '2 new, 0 changed, 0 archived, 0 refused. Nothing is written.' });
    const brought = await understudy('catalog', 'import', file, '--target', 'catalog');
    expect(brought).toMatchObject({ code: 0, out: expect.stringContaining('2 of 2 rows are in') as string });
    const odd = write('odd.csv', 'Artikel;Preis;Bestand\nMoos;viel;3\n');
    expect(await understudy('catalog', 'import', odd, '--target', 'catalog')).toMatchObject({
      code: 1,
      out: expect.stringContaining('odd.csv:2: price “viel” is not a price') as string,
    });
    const unclear = MESSY_FILES.find(({ asksForDates }) => asksForDates);
    expect(await understudy('catalog', 'import', write('u.csv', unclear!.bytes), '--target', 'catalog')).toMatchObject({
      code: 2,
      error: expect.stringContaining('days from months') as string,
    });
  });

  it('explains what somebody sees, and which rules say so', async () => {
    const tagged = write('tags.csv', 'variant_id,tags\nkonigsfarn,rare\n');
    await understudy('catalog', 'import', tagged, '--target', 'catalog');
    const { code, out } = await understudy('rules', 'explain', 'konigsfarn', '--draft');
    expect([code, out]).toEqual([0, expect.stringMatching(/^konigsfarn: waitlist.*\n\s+control: Another/)]);
    const asked = await understudy('rules', 'explain', 'konigsfarn', '--role', 'trade', '--json');
    expect(JSON.parse(asked.out)).toMatchObject({ id: 'konigsfarn', variants: [{ id: 'konigsfarn' }] });
    expect(await understudy('rules', 'explain', 'no-such-thing')).toMatchObject({ code: 2 });
  });

  it('says what is missing, what is refused and what it does not know', async () => {
    expect(await understudy(null, 'diff', at('good.json'))).toMatchObject({
      code: 2,
      error: expect.stringContaining('UNDERSTUDY_KEY') as string,
    });
    expect(await understudy('no-such-key', 'pull')).toMatchObject({
      code: 2,
      error: expect.stringContaining('not valid') as string,
    });
    expect(await understudy('catalog', 'pull')).toMatchObject({
      code: 2,
      error: expect.stringContaining('needs leave') as string,
    });
    expect(await understudy('rules', 'dance')).toMatchObject({
      code: 2,
      error: expect.stringContaining('no command dance') as string,
    });
    expect(await understudy('rules', 'check', '--loud')).toMatchObject({ code: 2 });
    expect(await understudy(null, '--help')).toMatchObject({
      code: 0,
      out: expect.stringContaining('understudy push FILE') as string,
    });
    expect(await understudy(null)).toMatchObject({ code: 2 });
  });
});
