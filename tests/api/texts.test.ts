import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ShopText } from '#core/contract/textCalls.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, SETUP_TOKEN, startServer, startShop, type TestServer } from '../support/testServer.ts';

const CATALOG = 'variant_id,product_id,path,title,price\nfern-1,fern,/plants/fern,Shield fern,300';
const WAIT = book(make('wait', { control: { kind: 'waitlist', per: 'product' } }));

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  expect((await importCsv(server, 'catalog', CATALOG)).status).toBe(200);
  expect((await server.publish(WAIT)).status).toBe(201);
});
afterAll(() => server.stop());

const put = (key: string, body: object) => server.send('PUT', `/api/texts/${key}`, { body });
const listed = async (key: string) =>
  ((await server.send('GET', '/api/texts')).body as ShopText[]).find((text) => text.key === key);

async function labelFor(locale: string): Promise<unknown> {
  const { body } = await server.send('GET', `/v1/decisions?surface=product&id=fern&locale=${locale}`, {
    asNobody: true,
  });
  return (body as { decisions: { control: { label: string } }[] }).decisions[0]?.control.label;
}
async function refusalFor(locale: string): Promise<unknown> {
  const lines = [{ variantId: 'fern-1', quantity: 1 }];
  const { body } = await server.send('POST', '/v1/guard', { body: { via: 'cart', locale, lines }, asNobody: true });
  return (body as { lines: { text: string | null }[] }).lines[0]?.text;
}

describe('the shop’s texts', () => {
  it('are ours in each of its languages until the owner writes another, and ours again when that is emptied', async () => {
    expect(await listed('label.waitlist')).toEqual({
      key: 'label.waitlist',
      default: { en: 'Join the waitlist', fr: 'Rejoindre la liste d’attente' },
      custom: {},
      placeholders: [],
    });
    expect(await labelFor('fr')).toBe('Rejoindre la liste d’attente');
    expect((await put('label.waitlist', { fr: 'Prévenez-moi' })).status).toBe(204);
    expect(await labelFor('fr')).toBe('Prévenez-moi');
    expect(await labelFor('en')).toBe('Join the waitlist');
    expect((await put('label.waitlist', { fr: ' ' })).status).toBe(204);
    expect(await labelFor('fr')).toBe('Rejoindre la liste d’attente');
  });

  it('change what the guard refuses with, and our own pages', async () => {
    await put('refusal.notForSale', { en: 'Not today.' });
    expect(await refusalFor('en')).toBe('Not today.');
    await put('listPage.over', { en: 'Too late' });
    const page = await (await fetch(`${server.url}/waitlist/leave?token=none`)).text();
    expect(page).toContain('<h1>Too late</h1>');
  });

  it.each([
    ['label.waitlist', { en: 'Wait for {product}' }, '/en', 'no placeholders'],
    ['status.waiting', { en: 'Number {place}' }, '/en', 'only these placeholders: position, leave'],
    ['label.waitlist', { sv: 'Vänta' }, '/sv', 'one of the shop’s languages: en, fr'],
  ])('take no %s that says %o', async (key, body, pointer, allowed) => {
    const { status, body: problem } = await put(key, body);
    expect(status).toBe(422);
    const [fault] = (problem as { errors: { pointer: string; allowed: string }[] }).errors;
    expect(fault?.pointer).toBe(pointer);
    expect(fault?.allowed).toContain(allowed);
  });

  it('are none that there are not, nor a message', async () => {
    expect((await put('label.nothing', { en: 'x' })).status).toBe(404);
    expect((await put('message.quote.new.subject', { en: 'x' })).status).toBe(404);
  });
});

describe('a shop in a language that is written from right to left, which we do not have', () => {
  it('says what its owner writes, on pages that go that way', async () => {
    const shop = await startServer();
    try {
      const setup = {
        token: SETUP_TOKEN,
        shop: { name: 'مشتل', zone: 'Africa/Cairo', locales: ['ar'], currency: 'EGP' },
        owner: { name: 'Olive', email: 'olive@quillfern.example', password: 'tansy-and-thyme' },
      };
      expect((await shop.send('POST', '/api/setup', { body: setup, asNobody: true })).status).toBe(201);
      const put = await shop.send('PUT', '/api/texts/listPage.over', { body: { ar: 'انتهت صلاحية هذا الرابط' } });
      expect(put.status).toBe(204);
      const page = await (await fetch(`${shop.url}/waitlist/leave?token=none`)).text();
      expect(page).toContain('<html lang="ar" dir="rtl">');
      expect(page).toContain('<h1>انتهت صلاحية هذا الرابط</h1>');
    } finally {
      await shop.stop();
    }
  });
});
