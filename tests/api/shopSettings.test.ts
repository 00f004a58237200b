import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SettingsEffect } from '#core/contract/shopSettingsCalls.ts';
import type { Problem } from '#core/contract/call.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    'variant_id,title,price,path,dates\nfern,Fern,14.50,/plants/fern,ships=2027-03-01',
  );
  const rule = (id: string, when: object, label: Record<string, string>) => ({
    id,
    name: id,
    on: true,
    when: { all: [{ fact: 'product', op: 'every', value: true }, when] },
    then: { control: { kind: 'preorder', label } },
  });
  await server.publish({
    format: 'understudy-rulebook',
    version: 1,
    rules: [
      rule(
        'Winter',
        { fact: 'moment', op: 'between', value: { from: '2026-11-25T11:30', until: '2027-01-01' } },
        { en: 'Reserve', fr: 'Réserver' },
      ),
      rule('Always', { fact: 'stock.status', op: 'in', value: ['inStock'] }, { en: 'Take' }),
    ],
  });
});
afterAll(() => server.stop());

const NOW = { name: 'Quillfern Nursery', zone: 'UTC', locales: ['en', 'fr'], currency: 'EUR' };
const put = (body: object) => server.send('PUT', '/api/shop', { body });
const trial = async (body: object) => (await server.send('POST', '/api/shop/trial', { body })).body as SettingsEffect;
const shown = async () => {
  const { body } = await server.send('GET', '/v1/decisions?surface=product&path=/plants/fern&locale=en', {
    asNobody: true,
  });
  return JSON.stringify(body);
};

describe('the settings of a shop', () => {
  it('say what else changes with them before anything does', async () => {
    await put(NOW);
    expect(await trial({ ...NOW, zone: 'Asia/Tokyo', currency: 'USD', locales: ['en'] })).toMatchObject({
      clock: { before: '2026-11-25T10:00', after: '2026-11-25T19:00' },
      datedRules: ['Winter'],
      dates: 1,
      prices: 1,
      decimals: null,
      textsLost: [{ locale: 'fr', rules: ['Winter'] }],
      defaultMoves: false,
    });
    expect(await trial(NOW)).toMatchObject({ clock: null, datedRules: [], prices: 0, textsLost: [] });
    expect((await server.send('GET', '/api/shop')).body).toMatchObject({ currency: 'EUR', zone: { name: 'UTC' } });
  });

  it('are those of the next answer, in rules, prices and words', async () => {
    expect(await shown()).not.toContain('Reserve');
    expect((await put({ ...NOW, zone: 'Europe/Helsinki', name: 'Quillfern' })).status).toBe(204);
    expect(await shown()).toContain('Reserve');
    expect((await server.send('GET', '/api/shop')).body).toMatchObject({ name: 'Quillfern' });
  });

  it('keep a currency of other decimals out while there are prices', async () => {
    expect(await trial({ ...NOW, currency: 'JPY' })).toMatchObject({ decimals: { before: 2, after: 0 } });
    expect((await put({ ...NOW, currency: 'JPY' })).status).toBe(409);
    expect((await put({ ...NOW, currency: 'USD' })).status).toBe(204);
  });

  it('are refused with all that is wrong with them', async () => {
    const { status, body } = await put({ ...NOW, zone: 'Nowhere', currency: 'ZZZ' });
    expect([status, (body as Problem).errors?.map(({ pointer }) => pointer)]).toEqual([422, ['/zone', '/currency']]);
  });
});
