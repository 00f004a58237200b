import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { postImpact } from '#core/contract/rehearsalCalls.ts';
import type { Decision } from '#core/engine/decision.ts';
import { aspectsBetween } from '#core/analysis/outcomeDiffer.ts';
import { startNursery } from '../support/demo.ts';
import { book, make } from '../support/oneVariant.ts';
import type { TestServer } from '../support/testServer.ts';

type Impact = z.infer<(typeof postImpact)['replies'][200]>;

let server: TestServer;
const AUDIENCES = [
  { name: 'Guest', signedIn: false, roles: [] },
  { name: 'Member', signedIn: true, roles: ['member'] },
];
const TAGGED = { fact: 'product.tags', op: 'hasAny', value: ['wildlife'] } as const;
const NOT_MEMBER = { fact: 'visitor.roles', op: 'hasNone', value: ['member'] } as const;
const LIVE = book(make('quiet', { price: { show: false } }, { fact: 'product.tags', op: 'hasAny', value: ['gift'] }));
const DRAFT = book(
  make(
    'reserve',
    { control: { kind: 'preorder', label: 'Reserve' }, cart: { open: false } },
    {
      all: [
        { ...TAGGED, value: [...TAGGED.value] },
        { ...NOT_MEMBER, value: [...NOT_MEMBER.value] },
      ],
    },
  ),
  ...LIVE.rules,
  make(
    'winter',
    { express: 'hide' },
    {
      all: [
        { fact: 'product', op: 'every', value: true },
        { fact: 'moment', op: 'between', value: { from: '2027-01-01' } },
      ],
    },
  ),
);

beforeAll(async () => {
  server = await startNursery();
  await server.send('PUT', '/api/audiences', { body: AUDIENCES });
  await server.publish(LIVE);
  await server.send('PUT', '/api/rulebook', { body: DRAFT, headers: { 'If-Match': '*' } });
});
afterAll(() => server.stop());

const impact = async (body: object = {}) => {
  const answer = await server.send('POST', '/api/rehearsal/impact', { body });
  expect(answer.status).toBe(200);
  return answer.body as Impact;
};

describe('the impact of the draft', () => {
  it('is told in counts and groups, for the audiences that it concerns', async () => {
    const { looked, changed, groups, changes } = await impact({ limit: 1000 });
    expect(looked).toBe(72);
    expect(changed).toBeGreaterThan(3);
    expect(groups).toMatchObject([
      {
        count: changed,
        before: { kind: 'buy', label: null },
        after: { kind: 'preorder', label: 'Reserve' },
        audiences: ['Guest'],
      },
    ]);
    expect(changes).toHaveLength(changed);
  });

  it.each(['product', 'listing'])('equals asking for each decision by itself, on the %s page', async (surface) => {
    const { changes, looked } = await impact({ surface, limit: 1000 });
    const { body } = await server.send('GET', '/api/products?limit=500');
    const products = (body as { products: { id: string }[] }).products.map(({ id }) => id);
    const found = new Set<string>();
    let requests = 0;
    for (const { name, ...visitor } of AUDIENCES) {
      const [live, draft] = await Promise.all(
        (['live', 'draft'] as const).map(async (source) => {
          const answer = await server.send('POST', '/api/rehearsal/decisions', {
            body: { source, surface, visitor, products },
          });
          const result = answer.body as {
            products: { id: string; decision: Decision | null; variants: { id: string; decision: Decision }[] }[];
          };
          return new Map(
            result.products.flatMap(({ id, decision, variants }) =>
              decision ? [[id, decision] as const] : variants.map((one) => [one.id, one.decision] as const),
            ),
          );
        }),
      );
      requests = draft?.size ?? 0;
      for (const [id, is] of draft ?? []) {
        const was = live?.get(id);
        if (was && aspectsBetween(was, is).length > 0) found.add(`${id} ${name}`);
      }
    }
    expect(looked).toBe(requests);
    expect(new Set(changes.map(({ product, variant, audience }) => `${variant ?? product} ${audience}`))).toEqual(
      found,
    );
    expect(found.size).toBeGreaterThan(0);
  });

  it('is paged, found by name and by group', async () => {
    const { groups, changes: all } = await impact({ limit: 1000 });
    const [group] = groups;
    const pages = [await impact({ limit: 2 }), await impact({ limit: 2, skip: 2 })];
    expect(pages.flatMap(({ changes }) => changes)).toEqual(all.slice(0, 4));
    expect(pages[0]?.more).toBe(true);
    expect((await impact({ limit: 0 })).changes).toEqual([]);
    expect((await impact({ group: group?.key, limit: 1000 })).changes).toEqual(all);
    expect((await impact({ group: 'another' })).changes).toEqual([]);
    const { title } = all[0]!;
    expect((await impact({ search: title.toUpperCase() })).changes.every((change) => change.title === title)).toBe(
      true,
    );
  });

  it('is another at another moment, and between any two editions', async () => {
    const later = await impact({ at: '2027-02-01T10:00:00Z' });
    expect(later.changed).toBe(72);
    expect((await impact({ from: { edition: 0 }, to: 'live' })).groups).toMatchObject([
      { aspects: ['price'], audiences: ['Guest', 'Member'] },
    ]);
    expect((await impact({ from: 'live', to: 'live' })).changed).toBe(0);
    const missing = await server.send('POST', '/api/rehearsal/impact', { body: { to: { edition: 99 } } });
    expect(missing.status).toBe(404);
  });

  it('says whose cart and checkout change', async () => {
    await server.send('PUT', '/api/rulebook', {
      body: book(
        make(
          'closed',
          { cart: { open: false } },
          {
            all: [
              { fact: 'product', op: 'every', value: true },
              { ...NOT_MEMBER, value: [...NOT_MEMBER.value] },
            ],
          },
        ),
      ),
      headers: { 'If-Match': '*' },
    });
    const { visits } = await impact();
    expect(visits).toMatchObject([
      { audience: 'Guest', before: { cart: { open: true } }, after: { cart: { open: false } } },
    ]);
  });

  it('is looked at at every coming change within a horizon as well', async () => {
    await server.send('PUT', '/api/rulebook', { body: DRAFT, headers: { 'If-Match': '*' } });
    const [now, ahead] = [await impact({ limit: 0 }), await impact({ days: 60, limit: 1000 })];
    expect(now.moments).toBe(1);
    expect(ahead.moments).toBeGreaterThan(1);
    expect(ahead.groups.some(({ aspects }) => aspects.join() === 'express')).toBe(true);
    expect(now.groups.some(({ aspects }) => aspects.join() === 'express')).toBe(false);
    const winter = ahead.changes.find(({ aspects }) => aspects.join() === 'express');
    expect(winter?.at).toBe('2027-01-01T00:00:00.000+00:00');
  });
});
