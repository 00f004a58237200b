import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { CheckedSpot, SpotCheck } from '#core/contract/spotCheckCalls.ts';
import type { Opening } from '#core/contract/rulebookCalls.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, startServer, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    'variant_id,product_id,path,title,tags,price\naster-1,aster,/plants/aster,Aster,blue,6.00\nfern-1,fern,/plants/fern,Fern,,9.00',
  );
});
afterAll(() => server.stop());
const START = Date.parse('2026-11-25T10:00:00Z');
beforeEach(async () => {
  server.now = START;
  await server.db.query('DELETE FROM openings');
  await server.db.query('DELETE FROM spot_checks');
});

const MEMBERS: Rule = make(
  'members',
  { control: { kind: 'signIn', label: 'Sign in to buy', href: '/account' } },
  {
    all: [
      { fact: 'product.tags', op: 'hasAny', value: ['blue'] },
      { fact: 'visitor.signedIn', op: 'is', value: false },
    ],
  },
);
const OTHER: Rule = make(
  'other',
  { control: { kind: 'nothing' } },
  { fact: 'product.tags', op: 'hasAny', value: ['blue'] },
);
const saveDraft = (...rules: Rule[]) =>
  server.send('PUT', '/api/rulebook', { body: book(...rules), headers: { 'If-Match': '*' } });
const control = async (at = server) => {
  const { body } = await at.send('POST', '/v1/decisions', {
    body: { surface: 'product', products: [{ id: 'aster' }] },
  });
  return (body as { decisions: { control: { kind: string } }[] }).decisions[0]?.control.kind;
};
const openings = async () => ((await server.send('GET', '/api/openings')).body as { openings: Opening[] }).openings;
const live = async () =>
  (
    (await server.send('GET', '/api/editions?limit=1')).body as {
      editions: { number: number; note: string | null; publishedBy: string }[];
    }
  ).editions[0];

describe('a scheduled opening', () => {
  it('makes the draft, as it was when it was set, the next edition at its time', async () => {
    await server.publish(book());
    const before = (await live())?.number ?? 0;
    await saveDraft(MEMBERS);
    const set = await server.send('POST', '/api/openings', {
      body: { at: '2026-11-25T18:00:00Z', note: 'For the evening' },
    });
    expect(set.status).toBe(201);
    expect(set.body).toMatchObject({ note: 'For the evening', rules: 1, over: before, isDraft: true });
    await saveDraft(OTHER);
    expect(await openings()).toMatchObject([{ at: '2026-11-25T18:00:00.000Z', isDraft: false }]);

    server.now = Date.parse('2026-11-25T17:59:59Z');
    await server.needs.openings.arm();
    expect(await control()).toBe('buy');
    server.now = Date.parse('2026-11-25T18:00:00Z');
    await server.needs.openings.arm();
    expect(await control()).toBe('signIn');
    expect(await live()).toMatchObject({ number: before + 1, note: 'For the evening' });
    expect(await openings()).toEqual([]);
    // Each opening happens once, however many copies of the server wait for it.
    await server.needs.openings.arm();
    expect((await live())?.number).toBe(before + 1);
  });

  it('can be seen with its rules, moved, given the draft’s rules, and called off', async () => {
    await saveDraft(MEMBERS);
    const { id } = (await server.send('POST', '/api/openings', { body: { at: '2026-12-01T08:00:00Z' } }))
      .body as Opening;
    expect((await server.send('GET', `/api/openings/${id}`)).body).toMatchObject({
      rulebook: { rules: [{ id: 'members' }] },
    });
    await saveDraft(OTHER);
    const moved = await server.send('PUT', `/api/openings/${id}`, { body: { at: '2026-12-02T08:00:00Z' } });
    expect(moved.body).toMatchObject({ at: '2026-12-02T08:00:00.000Z', isDraft: false });
    const renewed = await server.send('PUT', `/api/openings/${id}`, {
      body: { at: '2026-12-02T08:00:00Z', rules: 'draft' },
    });
    expect(renewed.body).toMatchObject({ isDraft: true });
    expect((await server.send('GET', `/api/openings/${id}`)).body).toMatchObject({
      rulebook: { rules: [{ id: 'other' }] },
    });
    expect((await server.send('DELETE', `/api/openings/${id}`)).status).toBe(204);
    expect((await server.send('DELETE', `/api/openings/${id}`)).status).toBe(404);
    expect((await server.send('PUT', `/api/openings/${id}`, { body: { at: '2026-12-02T08:00:00Z' } })).status).toBe(
      404,
    );
    expect(await openings()).toEqual([]);
  });

  it('is refused for a time that is over, an unfinished draft, and a draft that somebody changed', async () => {
    await saveDraft(MEMBERS);
    const past = await server.send('POST', '/api/openings', { body: { at: '2026-11-25T09:00:00Z' } });
    expect(past.status).toBe(422);
    const headers = { 'If-Match': '"draft-1"' };
    expect((await server.send('POST', '/api/openings', { body: { at: '2026-12-01T08:00:00Z' }, headers })).status).toBe(
      412,
    );
    await saveDraft({ ...MEMBERS, then: {} });
    expect((await server.send('POST', '/api/openings', { body: { at: '2026-12-01T08:00:00Z' } })).status).toBe(422);
    expect(await openings()).toEqual([]);
  });

  it('opens by itself, by its timer, and other copies of the server follow', async () => {
    await server.publish(book());
    await saveDraft(OTHER);
    const copy = await startServer(server.databaseUrl);
    try {
      const follows = (one: TestServer) =>
        new Promise<void>((resolve) => {
          one.needs.live.onRead(() => {
            void control(one).then((kind) => {
              if (kind === 'nothing') resolve();
            });
          });
        });
      const opened = Promise.all([follows(server), follows(copy)]);
      const announced = new Promise<void>((resolve) => {
        server.needs.live.onRead(resolve);
      });
      await server.send('POST', '/api/openings', { body: { at: new Date(START + 300).toISOString() } });
      // Other checks for openings have run too early: only the timer is left.
      await announced;
      await server.needs.openings.arm();
      expect(await openings()).toHaveLength(1);
      server.now = START + 300;
      await opened;
    } finally {
      await copy.stop();
    }
  });
});

const CHECK: SpotCheck = {
  variant: 'aster-1',
  surface: 'product',
  visitor: { name: 'Guest', signedIn: false, roles: [], customer: null, invited: false },
  at: null,
  expects: { kind: 'signIn', label: 'Sign in to buy', priceShown: true },
  blocks: true,
};
const checked = async (of = 'draft') =>
  (await server.send('GET', `/api/spot-checks?of=${of}`)).body as {
    checks: CheckedSpot[];
    failing: number;
    blocking: number;
  };

describe('spot checks', () => {
  it('say what is seen by the draft, and whether that is what is expected', async () => {
    await saveDraft(MEMBERS);
    await server.send('POST', '/api/spot-checks', { body: CHECK });
    expect(await checked()).toMatchObject({
      failing: 0,
      checks: [
        {
          passes: true,
          title: 'Aster',
          sentence:
            'Guest sees “Sign in to buy” (a sign-in prompt) and the price for Aster on product pages, at any time.',
        },
      ],
    });
    await saveDraft(OTHER);
    expect(await checked()).toMatchObject({
      failing: 1,
      blocking: 1,
      checks: [{ passes: false, seen: { kind: 'nothing', label: null, priceShown: true } }],
    });
    await server.publish(book());
  });

  it('keep a draft that fails them from being published or set to open, where they block', async () => {
    await saveDraft(OTHER);
    const { id } = (await server.send('POST', '/api/spot-checks', { body: CHECK })).body as { id: number };
    const refused = await server.send('POST', '/api/editions');
    expect(refused.status).toBe(409);
    expect((refused.body as { detail: string }).detail).toContain('Guest sees “Sign in to buy”');
    expect((await server.send('POST', '/api/openings', { body: { at: '2026-12-01T08:00:00Z' } })).status).toBe(409);
    expect((await server.send('PUT', `/api/spot-checks/${id}`, { body: { ...CHECK, blocks: false } })).status).toBe(
      204,
    );
    expect((await server.send('POST', '/api/editions')).status).toBe(201);
  });

  it('stand for their own moment, and fail when the goods are gone', async () => {
    const until = { fact: 'moment', op: 'between', value: { until: '2026-12-01' } } as const;
    await saveDraft({ ...OTHER, when: { all: [OTHER.when, { ...until, value: { ...until.value } }] } });
    const expects = { kind: 'buy' as const, label: null, priceShown: null };
    await server.send('POST', '/api/spot-checks', { body: { ...CHECK, expects, at: '2026-12-02T12:00:00Z' } });
    await server.send('POST', '/api/spot-checks', { body: { ...CHECK, expects, variant: 'gone-1' } });
    const { checks } = await checked();
    expect(checks.map(({ passes }) => passes)).toEqual([true, false]);
    expect(checks[0]?.sentence).toMatch(/on 2 December 2026,? (at )?12:00\.$/);
    expect(checks[1]).toMatchObject({ title: null, seen: null });
  });

  it('can be changed and forgotten', async () => {
    const { id } = (await server.send('POST', '/api/spot-checks', { body: CHECK })).body as { id: number };
    expect((await server.send('DELETE', `/api/spot-checks/${id}`)).status).toBe(204);
    expect((await server.send('DELETE', `/api/spot-checks/${id}`)).status).toBe(404);
    expect((await server.send('PUT', `/api/spot-checks/${id}`, { body: CHECK })).status).toBe(404);
    expect((await server.send('POST', '/api/spot-checks', { body: { ...CHECK, surface: 'window' } })).status).toBe(422);
  });
});
