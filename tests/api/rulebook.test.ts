import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Problem } from '#core/contract/call.ts';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { importCsv, startServer, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(server, 'catalog', 'variant_id,product_id,title,price,tags\ninkwell-1,inkwell,Hepatica,48,rare');
});
afterAll(() => server.stop());

const rule = (id: string, label: string): Rule => ({
  id,
  name: id,
  on: true,
  when: { all: [{ fact: 'product.tags', op: 'hasAny', value: ['rare'] }] },
  then: { control: { kind: 'buy', label } },
});
const book = (...rules: unknown[]) => ({ format: 'understudy-rulebook', version: 1, rules });
const put = (body: unknown, ifMatch = '*') =>
  server.send('PUT', '/api/rulebook', { body, headers: { 'If-Match': ifMatch } });
const draft = () => server.send('GET', '/api/rulebook');
const etag = async () => (await draft()).headers.get('ETag') ?? '';

describe('the draft', () => {
  it('is kept as it was written, under a new ETag', async () => {
    const before = await etag();
    const written = book(rule('a', 'Reserve'));
    const saved = await put(written, before);
    expect(saved.status).toBe(204);
    const read = await draft();
    expect(read.body).toEqual(written);
    expect(read.headers.get('ETag')).toBe(saved.headers.get('ETag'));
    expect(read.headers.get('ETag')).not.toBe(before);
  });

  it('is not overwritten by somebody who read an older one', async () => {
    const old = await etag();
    await put(book(rule('theirs', 'Theirs')), old);
    const refused = await put(book(rule('mine', 'Mine')), old);
    expect(refused.status).toBe(412);
    expect(refused.headers.get('Content-Type')).toContain('application/problem+json');
    expect((await draft()).body).toEqual(book(rule('theirs', 'Theirs')));
  });

  it('of many who write over the same one at once takes one', async () => {
    const old = await etag();
    const answers = await Promise.all(
      Array.from({ length: 12 }, (_, index) => put(book(rule(`w${index}`, 'Words')), old)),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([204, ...Array<number>(11).fill(412)]);
  });

  it('has an ETag that no other draft gets, not even after the database is restored from a backup', async () => {
    const backup = (await server.db.query('SELECT document, revision FROM draft')).rows[0] as object;
    const lost = await put(book(rule('lost', 'Written after the backup')));
    const tag = lost.headers.get('ETag') ?? '';
    const { document, revision } = backup as { document: unknown; revision: string };
    await server.db.query('UPDATE draft SET document = $1, revision = $2', [JSON.stringify(document), revision]);
    await put(book(rule('kept', 'Written after the restore')));
    const read = await server.send('GET', '/api/rulebook', { headers: { 'If-None-Match': tag } });
    expect(read.status).toBe(200);
    expect(read.body).toEqual(book(rule('kept', 'Written after the restore')));
    expect((await put(book(), tag)).status).toBe(412);
  });

  it('needs If-Match, and one that never was an ETag matches nothing', async () => {
    const answer = await server.send('PUT', '/api/rulebook', { body: book() });
    expect(answer.status).toBe(428);
    expect((await put(book(), '"nonsense"')).status).toBe(412);
  });
});

describe('bad input', () => {
  let before: unknown;
  beforeEach(async () => {
    await put(book(rule('a', 'Reserve')));
    before = (await draft()).body;
  });

  const refused: [name: string, rule: unknown, pointer: string][] = [
    [
      'an unknown fact',
      { ...rule('b', 'x'), when: { fact: 'moon.phase', op: 'is', value: 'full' } },
      '/rules/0/when/fact',
    ],
    [
      'a fact’s unknown operator',
      { ...rule('b', 'x'), when: { fact: 'product.tags', op: 'like', value: ['a'] } },
      '/rules/0/when/op',
    ],
    [
      'an empty list',
      { ...rule('b', 'x'), when: { fact: 'product.tags', op: 'hasAny', value: [] } },
      '/rules/0/when/value',
    ],
    ['an empty when', { ...rule('b', 'x'), when: {} }, '/rules/0/when/fact'],
    ['an unknown key', { ...rule('b', 'x'), priority: 3 }, '/rules/0/priority'],
    ['an aspect that there is not', { ...rule('b', 'x'), then: { colour: 'green' } }, '/rules/0/then/colour'],
    [
      'a control that there is not',
      { ...rule('b', 'x'), then: { control: { kind: 'auction' } } },
      '/rules/0/then/control/kind',
    ],
    ['limits upside down', { ...rule('b', 'x'), then: { limits: { min: 4, max: 3 } } }, '/rules/0/then/limits'],
    [
      'a cap that closes without words',
      { ...rule('b', 'x'), then: { control: { kind: 'preorder', cap: { units: 4, per: 'variant' }, atCap: 'close' } } },
      '/rules/0/then/control/closedText',
    ],
    [
      'a control that hangs on an address',
      { ...rule('b', 'x'), when: { all: [rule('b', 'x').when, { fact: 'page.path', op: 'equals', value: '/sale' }] } },
      '/rules/0/then/control',
    ],
    ['gathering beside neither notes nor style', { ...rule('b', 'x'), gather: false }, '/rules/0/gather'],
    [
      'twenty-one notes',
      { ...rule('b', 'x'), then: { notes: Array(21).fill({ place: 'badge', text: 'New' }) } },
      '/rules/0/then/notes',
    ],
    [
      'a javascript link',
      { ...rule('b', 'x'), then: { control: { kind: 'link', href: 'javascript:alert(1)' } } },
      '/rules/0/then/control/href',
    ],
    [
      'another host in disguise',
      { ...rule('b', 'x'), then: { control: { kind: 'link', href: '//elsewhere.example' } } },
      '/rules/0/then/control/href',
    ],
    [
      'a hidden scheme',
      { ...rule('b', 'x'), then: { control: { kind: 'link', href: 'java\nscript:alert(1)' } } },
      '/rules/0/then/control/href',
    ],
    [
      'a sign-in by mail',
      { ...rule('b', 'x'), then: { control: { kind: 'signIn', href: 'mailto:a@b.example' } } },
      '/rules/0/then/control/href',
    ],
    ['a text of 2,001 characters', rule('b', 'x'.repeat(2001)), '/rules/0/then/control/label'],
    ['words that cannot be seen', rule('b', '  '), '/rules/0/then/control/label'],
    ['an unknown placeholder', rule('b', 'Only {moon.phase}'), '/rules/0/then/control/label'],
    ['a broken plural', rule('b', '{stock.quantity, plural, one {# left}}'), '/rules/0/then/control/label'],
    [
      'a day that no year has',
      { ...rule('b', 'x'), when: { fact: 'moment', op: 'between', value: { from: '2027-02-30' } } },
      '/rules/0/when/value/from',
    ],
    [
      'a year that does not turn',
      { ...rule('b', 'x'), when: { fact: 'moment', op: 'yearly', value: { from: '03-01', until: '03-01' } } },
      '/rules/0/when/value',
    ],
    [
      'no bound at all',
      { ...rule('b', 'x'), when: { fact: 'moment', op: 'around', value: { date: 'ships' } } },
      '/rules/0/when/value',
    ],
    ['groups nine deep', { ...rule('b', 'x'), when: nested(9) }, '/rules/0/when'],
    ['201 conditions', { ...rule('b', 'x'), when: { any: Array(201).fill(rule('b', 'x').when) } }, '/rules/0/when'],
  ];
  it.each(refused)('%s is refused with its place, and changes nothing', async (_name, bad, pointer) => {
    const answer = await put(book(bad));
    expect(answer.status).toBe(422);
    expect((answer.body as Problem).errors?.map((fault) => fault.pointer)).toEqual([pointer]);
    expect((await draft()).body).toEqual(before);
  });

  it('lists every fault at once', async () => {
    const answer = await put(book({ ...rule('b', ' '), extra: 1 }, { ...rule('b', 'x'), on: 'yes' }));
    const pointers = (answer.body as Problem).errors?.map((fault) => fault.pointer).sort();
    expect(pointers).toEqual(['/rules/0/extra', '/rules/0/then/control/label', '/rules/1/on']);
  });

  it('two rules with one id, broken JSON, no JSON and far too deep JSON get a 4xx problem', async () => {
    const double = await put(book(rule('same', 'a'), rule('same', 'b')));
    expect((double.body as Problem).errors?.[0]?.pointer).toBe('/rules/1/id');
    const headers = { 'If-Match': '*' };
    const broken = await server.send('PUT', '/api/rulebook', { raw: '{"format":', headers });
    expect([broken.status, (broken.body as Problem).type]).toEqual([400, 'urn:understudy:problem:broken-json']);
    const none = await server.send('PUT', '/api/rulebook', {
      raw: 'hello',
      headers: { ...headers, 'Content-Type': 'text/html' },
    });
    expect(none.status).toBe(415);
    const deep = await server.send('PUT', '/api/rulebook', {
      raw: `${'['.repeat(20_000)}${']'.repeat(20_000)}`,
      headers,
    });
    expect(deep.status).toBe(422);
    expect((await draft()).body).toEqual(before);
  });
});

function nested(depth: number): unknown {
  return depth === 0
    ? rule('x', 'x').when
    : { any: [depth === 1 ? { fact: 'product', op: 'every', value: true } : nested(depth - 1)] };
}

describe('unfinished rules', () => {
  const unfinished: [name: string, rule: unknown, pointer: string][] = [
    ['asks nothing', { ...rule('b', 'x'), when: { all: [] } }, '/rules/0/when'],
    [
      'names no goods',
      { ...rule('b', 'x'), when: { fact: 'visitor.signedIn', op: 'is', value: false } },
      '/rules/0/when',
    ],
    [
      'has an empty group',
      { ...rule('b', 'x'), when: { all: [{ fact: 'product', op: 'every', value: true }, { any: [] }] } },
      '/rules/0/when',
    ],
    ['says nothing', { ...rule('b', 'x'), then: {} }, '/rules/0/then'],
  ];
  it.each(unfinished)('one that %s may stand in the draft, and is not published', async (_name, bad, pointer) => {
    expect((await put(book(bad))).status).toBe(204);
    const answer = await server.send('POST', '/api/editions');
    expect(answer.status).toBe(422);
    expect((answer.body as Problem).errors?.map((fault) => fault.pointer)).toContain(pointer);
  });
});

describe('editions', () => {
  /** Label of the shop's button. */
  const labelNow = async () => {
    const ask = { surface: 'product', products: [{ id: 'inkwell' }] };
    const { body } = await server.send('POST', '/v1/decisions', { body: ask });
    return (body as DecisionsAnswer).decisions[0]?.control.label;
  };

  it('are numbered, kept, and cannot be changed', async () => {
    await put(book(rule('a', 'First')));
    const first = await server.send('POST', '/api/editions', { body: { note: 'The first' } });
    expect(first.status).toBe(201);
    await put(book(rule('a', 'Second')));
    const second = await server.send('POST', '/api/editions');
    const [one, two] = [first, second].map(({ body }) => (body as { number: number }).number);
    expect(two).toBe((one ?? 0) + 1);
    const list = await server.send('GET', '/api/editions?limit=2');
    expect(list.body).toMatchObject({
      editions: [
        { number: two, live: true, note: null },
        { number: one, live: false, note: 'The first', publishedBy: 'a program with the owner’s key' },
      ],
    });
    const kept = await server.send('GET', `/api/editions/${one}`);
    expect(kept.body).toMatchObject({ rulebook: book(rule('a', 'First')) });
    await expect(server.db.query('UPDATE editions SET note = NULL')).rejects.toThrow('unchangeable');
    await expect(server.db.query('DELETE FROM editions')).rejects.toThrow('unchangeable');
  });

  it('published by many at once get a number each', async () => {
    const answers = await Promise.all(Array.from({ length: 8 }, () => server.send('POST', '/api/editions')));
    const numbers = answers.map(({ body }) => (body as { number: number }).number);
    expect(new Set(numbers).size).toBe(8);
  });

  it('restored, go live again as a new one, and a draft without changes follows', async () => {
    await put(book(rule('a', 'Good')));
    const good = (await server.send('POST', '/api/editions')).body as { number: number };
    await put(book(rule('a', 'Bad')));
    await server.send('POST', '/api/editions');
    expect(await labelNow()).toBe('Bad');
    const restored = await server.send('POST', `/api/editions/${good.number}/restore`);
    expect(restored.body).toMatchObject({ number: good.number + 2, live: true, restoredFrom: good.number });
    expect((await draft()).body).toEqual(book(rule('a', 'Good')));
    expect(await labelNow()).toBe('Good');
  });

  it('restored, leave a draft with changes alone; into the draft, they leave the shop alone', async () => {
    await put(book(rule('a', 'One')));
    const one = (await server.send('POST', '/api/editions')).body as { number: number };
    await put(book(rule('a', 'Unpublished')));
    await server.send('POST', `/api/editions/${one.number}/restore`);
    expect((await draft()).body).toEqual(book(rule('a', 'Unpublished')));
    const list = await server.send('GET', '/api/editions?limit=1');
    await server.send('POST', `/api/editions/${one.number}/restore`, { body: { to: 'draft' } });
    expect((await draft()).body).toEqual(book(rule('a', 'One')));
    expect((await server.send('GET', '/api/editions?limit=1')).body).toEqual(list.body);
  });

  it('that do not exist are not found, and a stale ETag publishes nothing', async () => {
    expect((await server.send('POST', '/api/editions/9999/restore')).status).toBe(404);
    expect((await server.send('GET', '/api/editions/9999')).status).toBe(404);
    expect((await server.send('GET', '/api/editions/nought')).status).toBe(422);
    const old = await etag();
    await put(book(rule('a', 'Newer')));
    expect((await server.send('POST', '/api/editions', { headers: { 'If-Match': old } })).status).toBe(412);
  });

  it('are seen by another copy of the server, without a restart', async () => {
    const copy = await startServer(server.databaseUrl);
    try {
      await put(book(rule('a', 'For both')));
      const { number } = (await server.send('POST', '/api/editions')).body as { number: number };
      const seen = async () => {
        const { body } = await copy.send('POST', '/v1/decisions', { body: { surface: 'product', products: [] } });
        return (body as { edition: number }).edition;
      };
      await expect.poll(seen, { interval: 10 }).toBe(number);
    } finally {
      await copy.stop();
    }
  });
});
