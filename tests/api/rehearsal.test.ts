import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Problem } from '#core/contract/call.ts';
import { demoRulebook, startNursery } from '../support/demo.ts';
import type { TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startNursery();
  await server.publish(demoRulebook(new Date(server.now)));
});
afterAll(() => server.stop());

const guest = { signedIn: false, roles: [] };
const rehearse = (body: object) =>
  server.send('POST', '/api/rehearsal/decisions', {
    body: { source: 'live', surface: 'product', visitor: guest, products: ['fern-spores'], ...body },
  });

describe('a rehearsal', () => {
  it('opens the decision into every rule and condition', async () => {
    const { body } = await rehearse({});
    expect(body).toMatchObject({
      at: '2026-11-25T10:00:00.000+00:00',
      products: [
        {
          id: 'fern-spores',
          decision: null,
          variants: [
            {
              id: 'fern-spores-packet',
              decision: { control: { kind: 'signIn' }, reasons: { control: ['society-seed'] } },
            },
          ],
        },
      ],
      visit: { cart: { open: true }, checkout: { open: true } },
    });
    const [variant] = (body as { products: { variants: { trace: unknown[] }[] }[] }).products[0]?.variants ?? [];
    expect(variant?.trace).toHaveLength(16);
    expect(variant?.trace[1]).toEqual({
      ruleId: 'society-seed',
      outcome: 'counts',
      decided: ['control'],
      lost: [],
      leaves: [
        {
          pointer: '/when/all/0',
          fact: 'product.categories',
          op: 'within',
          asked: ['seeds/society-seed-list'],
          actual: ['seeds/society-seed-list/ferns'],
          held: true,
        },
        {
          pointer: '/when/all/1',
          fact: 'visitor.roles',
          op: 'hasNone',
          asked: ['member', 'staff'],
          actual: [],
          held: true,
        },
      ],
    });
    expect(variant?.trace.at(-1)).toMatchObject({ ruleId: 'autumn-bulbs', outcome: 'off' });
  });

  it('looks at any rulebook, any moment, any visitor', async () => {
    const rulebook = { format: 'understudy-rulebook', version: 1, rules: [] };
    const own = await rehearse({ source: { rulebook } });
    expect(own.body).toMatchObject({
      products: [{ variants: [{ decision: { control: { kind: 'buy', label: null } } }] }],
    });
    const member = await rehearse({ visitor: { signedIn: true, roles: ['member'] } });
    expect(member.body).toMatchObject({ products: [{ variants: [{ decision: { control: { kind: 'buy' } } }] }] });
    const frost = await rehearse({ at: '2026-12-25T00:00:00+01:00', locale: 'fr' });
    expect(frost.body).toMatchObject({
      at: '2026-12-24T23:00:00.000+00:00',
      products: [
        { variants: [{ decision: { control: { kind: 'notice' }, validUntil: '2027-01-03T08:00:00.000+00:00' } }] },
      ],
    });
  });

  it('keeps the order of the products that were asked for, and names those that do not exist', async () => {
    const { body } = await rehearse({ products: ['yew-cone', 'ash-dibber'] });
    expect((body as { products: { id: string }[] }).products.map(({ id }) => id)).toEqual(['yew-cone', 'ash-dibber']);
    const missing = await rehearse({ products: ['fern-spores', 'moon-rock'] });
    expect(missing.status).toBe(422);
    expect((missing.body as Problem).errors?.map(({ pointer }) => pointer)).toEqual(['/products/1']);
  });

  it('refuses a bad rulebook with the place inside the request', async () => {
    const answer = await rehearse({
      source: {
        rulebook: {
          format: 'understudy-rulebook',
          version: 1,
          rules: [{ id: 'a', on: true, when: { all: [] }, then: { price: 3 } }],
        },
      },
    });
    expect((answer.body as Problem).errors?.map(({ pointer }) => pointer)).toEqual([
      '/source/rulebook/rules/0/then/price',
    ]);
  });
});
