import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { listSellers } from '#core/contract/sellerCalls.ts';
import type { getSellerGoods, getSelling, postSellerProof } from '#core/contract/sellingCalls.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { signedInFor, type SignedIn } from '../support/colleagues.ts';
import { book, everything, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

type Listed = z.infer<(typeof listSellers)['replies'][200]>;
const ENTRY = { id: 'growers', sellers: true, on: true } as const;
const ALLOWED = {
  kinds: ['preorder', 'quote', 'notice'],
  aspects: ['notes'],
  hidesPrices: false,
  ownWords: true,
  mostUnits: 30,
};

let server: TestServer;
const ids: Record<string, string> = {};
let fern: SignedIn;
let other: SignedIn;

beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    [
      'variant_id,product_id,title,path,seller,tags,price,stock_tracked,stock_quantity',
      'hart-1,hart,Hart’s tongue,/hart,Tidewater Ferns,fern,9.00,true,5',
      'lady-1,lady,Lady fern,/lady,tidewater ferns ,fern,11.00,true,5',
      'aster-1,aster,Aster,/aster,The Long Bed,late,6.00,true,5',
      'spade-1,spade,Border spade,/spade,,,39.00,true,5',
    ].join('\n'),
  );
  for (const name of ['Tidewater Ferns', 'The Long Bed']) {
    const { status, body } = await server.send('POST', '/api/sellers', { body: { name, names: [name] } });
    expect(status).toBe(201);
    ids[name] = (body as { id: string }).id;
  }
  fern = await signedInFor(server, ids['Tidewater Ferns']!, 'ida@quillfern.example');
  other = await signedInFor(server, ids['The Long Bed']!, 'bram@quillfern.example');
});
afterAll(() => server.stop());

const listed = async () => (await server.send('GET', '/api/sellers')).body as Listed;
const terms = (publishing: 'atOnce' | 'asked', allowed: object = ALLOWED) =>
  server.send('PUT', '/api/sellers/terms', { body: { allowed, publishing } });
const as = (who: SignedIn, method: string, path: string, body?: unknown, headers: object = {}) =>
  server.send(method, path, { body, headers: { ...who.headers, ...headers }, asNobody: true });
const save = (who: SignedIn, ...rules: Rule[]) =>
  as(who, 'PUT', '/api/seller/rulebook', book(...rules), { 'If-Match': '*' });
const publish = (who: SignedIn) => as(who, 'POST', '/api/seller/editions');
const selling = async (who: SignedIn) =>
  (await as(who, 'GET', '/api/seller')).body as z.infer<(typeof getSelling)['replies'][200]>;

/** The control that a guest finds on a product's page. */
async function shown(product: string) {
  const body = { surface: 'product', products: [{ id: product }] };
  const answer = await server.send('POST', '/v1/decisions', { body, asNobody: true });
  const { decisions, products } = answer.body as {
    decisions: { control: { kind: string }; reasons: { control: string[] } }[];
    products: { variants: { decision: number }[] }[];
  };
  const decision = decisions[products[0]?.variants[0]?.decision ?? 0];
  return [decision?.control.kind, ...(decision?.reasons.control ?? [])];
}
const buy = async (variantId: string) => {
  const lines = [{ variantId, quantity: 1 }];
  const { body } = await server.send('POST', '/v1/guard', { body: { via: 'cart', lines }, asNobody: true });
  return (body as { lines: { ok: boolean }[] }).lines[0]?.ok;
};
const wish = make('wish', { control: { kind: 'quote' } });

describe('who sells what', () => {
  it('is read from the catalog, however names are spelt', async () => {
    const { sellers, unnamed } = await listed();
    expect(sellers.map(({ name, products }) => [name, products])).toEqual([
      ['The Long Bed', 1],
      ['Tidewater Ferns', 2],
    ]);
    expect(unnamed).toEqual([]);
  });

  it('is said by the owner: a name is one seller’s alone', async () => {
    const taken = await server.send('POST', '/api/sellers', { body: { name: 'Copy', names: ['TIDEWATER FERNS'] } });
    expect([taken.status, (await listed()).sellers.length]).toEqual([409, 2]);
    const made = await server.send('POST', '/api/sellers', { body: { name: 'Moss', names: ['Moss & Co'] } });
    const { id } = made.body as { id: string };
    const settings = { name: 'Moss', names: ['Moss & Co', 'The long bed'], allowed: null, publishing: null };
    expect((await server.send('PUT', `/api/sellers/${id}`, { body: settings })).status).toBe(409);
    const into = ids['The Long Bed']!;
    expect((await server.send('POST', `/api/sellers/${id}/merge`, { body: { into } })).status).toBe(204);
    const merged = (await listed()).sellers.find((one) => one.id === into);
    expect(merged?.names).toEqual(['Moss & Co', 'The Long Bed']);
    expect((await server.send('POST', `/api/sellers/${into}/merge`, { body: { into } })).status).toBe(409);
    expect((await server.send('DELETE', `/api/sellers/${id}`)).status).toBe(404);
  });
});

describe('what sellers decide', () => {
  beforeEach(async () => {
    await terms('atOnce');
    await server.publish({ ...book(), rules: [ENTRY] });
    for (const who of [fern, other]) {
      await save(who);
      await publish(who);
    }
  });

  it('is live at once, about their own goods alone, on page and guard', async () => {
    await save(fern, wish);
    expect((await publish(fern)).status).toBe(201);
    const quoted = ['quote', `sellers/${ids['Tidewater Ferns']}/wish`];
    expect([await shown('hart'), await shown('lady')]).toEqual([quoted, quoted]);
    expect([await shown('aster'), await shown('spade')]).toEqual([['buy'], ['buy']]);
    expect([await buy('hart-1'), await buy('aster-1')]).toEqual([false, true]);
    // The owner outranks it from above, and is outranked from below.
    const close = make('close', { control: { kind: 'notice', text: 'Closed' } });
    await server.publish({ ...book(), rules: [close, ENTRY] });
    expect(await shown('hart')).toEqual(['notice', 'close']);
    await server.publish({ ...book(), rules: [ENTRY, close] });
    expect([await shown('hart'), await shown('aster')]).toEqual([quoted, ['notice', 'close']]);
    await server.publish({ ...book(), rules: [{ ...ENTRY, on: false }] });
    expect([await shown('hart'), await buy('hart-1')]).toEqual([['buy'], true]);
  });

  it('waits for the owner’s yes where it is asked for, and hears a no', async () => {
    await terms('asked');
    await save(fern, wish);
    expect((await publish(fern)).status).toBe(202);
    expect(await shown('hart')).toEqual(['buy']);
    const [asking] = (await listed()).sellers.filter(({ asked }) => asked);
    expect(asking?.asked?.rules).toEqual([wish]);
    const answer = (body: object) => server.send('POST', `/api/sellers/${asking!.id}/answer`, { body });
    expect((await answer({ publish: true, askedAt: '2020-01-01T00:00:00Z' })).status).toBe(409);
    const no = { publish: false, askedAt: asking!.asked!.at, reason: 'Not before Easter.' };
    expect((await answer(no)).status).toBe(204);
    expect(await selling(fern)).toMatchObject({ asked: null, refusal: 'Not before Easter.', rules: [] });
    await publish(fern);
    expect((await answer({ publish: true, askedAt: (await selling(fern)).asked!.at })).status).toBe(204);
    expect((await shown('hart'))[0]).toBe('quote');
    // The owner was asked by e-mail, and the seller's people were answered.
    const { body: written } = await server.send('GET', '/api/messages?limit=50');
    const letters = (written as { messages: { event: string; recipient: string; subject: string }[] }).messages
      .filter(({ event }) => event.startsWith('sellerRules.'))
      .map(({ recipient, subject }) => [recipient, subject]);
    expect(letters.reverse()).toEqual([
      ['olive@quillfern.example', 'Tidewater Ferns asks to publish rules'],
      ['ida@quillfern.example', 'Your rules were not published'],
      ['olive@quillfern.example', 'Tidewater Ferns asks to publish rules'],
      ['ida@quillfern.example', 'Your rules were published'],
    ]);
    const [newest] = (await selling(fern)).editions;
    expect(newest).toMatchObject({ rules: 1 });
    expect([newest?.publishedBy, newest?.allowedBy]).toEqual([
      `Of ${ids['Tidewater Ferns']}`,
      'a program with the owner’s key',
    ]);
    await publish(fern);
    expect((await as(fern, 'DELETE', '/api/seller/asked')).status).toBe(204);
    expect((await selling(fern)).asked).toBeNull();
  });

  it('is no more than they may: refused when they publish, and left out when they may no longer', async () => {
    const hidden = make('hidden', { price: { show: false }, control: { kind: 'waitlist', per: 'variant' } });
    await save(fern, hidden);
    const refused = await publish(fern);
    expect(refused.status).toBe(422);
    const named = make('named', hidden.then, hidden.when);
    await save(fern, { ...named, name: 'Sold-out ferns' });
    expect((await publish(fern)).body).toMatchObject({
      detail:
        'The shop does not let you decide this. “Sold-out ferns”: the price and the button. Change or switch off these rules, or ask the shop.',
    });
    // A rule that is switched off decides nothing, so it holds nothing up.
    await save(fern, { ...named, on: false });
    expect((await publish(fern)).status).toBe(201);
    await save(fern, make('later', { control: { kind: 'preorder' } }));
    expect((await publish(fern)).status).toBe(201);
    expect((await shown('hart'))[0]).toBe('preorder');
    await terms('atOnce', { ...ALLOWED, kinds: ['quote'] });
    expect(await shown('hart')).toEqual(['buy']);
    const own = { name: 'Tidewater', names: ['Tidewater Ferns'], allowed: ALLOWED, publishing: null };
    await server.send('PUT', `/api/sellers/${ids['Tidewater Ferns']}`, { body: own });
    expect((await shown('hart'))[0]).toBe('preorder');
    await server.send('PUT', `/api/sellers/${ids['Tidewater Ferns']}`, { body: { ...own, allowed: null } });
  });

  it('is a list without an entry of its own, kept from being overwritten unseen', async () => {
    expect(
      (await as(fern, 'PUT', '/api/seller/rulebook', { ...book(), rules: [ENTRY] }, { 'If-Match': '*' })).status,
    ).toBe(422);
    const { headers } = await as(fern, 'GET', '/api/seller/rulebook');
    const etag = headers.get('ETag')!;
    expect((await as(fern, 'PUT', '/api/seller/rulebook', book(wish), { 'If-Match': etag })).status).toBe(204);
    expect((await as(fern, 'PUT', '/api/seller/rulebook', book(), { 'If-Match': etag })).status).toBe(412);
    expect((await as(other, 'PUT', '/api/seller/rulebook', book(), { 'If-Match': etag })).status).toBe(412);
  });

  it('has an ETag that no other draft gets, not even after the database is restored from a backup', async () => {
    const { rows } = await server.db.query('SELECT id, draft, revision FROM sellers');
    const tag = (await save(fern, wish)).headers.get('ETag') ?? '';
    for (const { id, draft, revision } of rows as { id: string; draft: unknown; revision: string }[])
      await server.db.query('UPDATE sellers SET draft = $2, revision = $3 WHERE id = $1', [
        id,
        JSON.stringify(draft),
        revision,
      ]);
    await save(fern);
    const read = await as(fern, 'GET', '/api/seller/rulebook', undefined, { 'If-None-Match': tag });
    expect(read.status).toBe(200);
    expect(read.body).toEqual(book());
    expect((await as(fern, 'PUT', '/api/seller/rulebook', book(wish), { 'If-Match': tag })).status).toBe(412);
  });

  it('is found in the catalog, and in what an edition changes', async () => {
    await save(fern, wish);
    await publish(fern);
    const find = async (body: object) => {
      const found = await server.send('POST', '/api/products/find', {
        body: { settled: true, source: 'live', ...body },
      });
      return (found.body as { products: { id: string }[] }).products.map(({ id }) => id);
    };
    expect(await find({ decidedBy: `sellers/${ids['Tidewater Ferns']}/wish` })).toEqual(['hart', 'lady']);
    expect(await find({ shown: { kind: 'quote', audience: 'Guest' } })).toEqual(['hart', 'lady']);
    const off = { ...book(), rules: [{ ...ENTRY, on: false }] };
    await server.send('PUT', '/api/rulebook', { body: off, headers: { 'If-Match': '*' } });
    const impact = await server.send('POST', '/api/rehearsal/impact', {
      body: { from: 'live', to: 'draft', surface: 'product' },
    });
    expect((impact.body as { changes: { product: string }[] }).changes.map(({ product }) => product).sort()).toContain(
      'hart',
    );
    expect((impact.body as { changes: { product: string }[] }).changes.map(({ product }) => product)).not.toContain(
      'aster',
    );
  });

  it('is set back by the owner to what was published before, of which the seller reads', async () => {
    await terms('atOnce');
    await save(fern, wish);
    await publish(fern);
    await save(fern, { ...wish, id: 'second', name: 'Second thoughts' });
    await publish(fern);
    const seller = `/api/sellers/${ids['Tidewater Ferns']}`;
    const read = async (query = '') =>
      (await server.send('GET', `${seller}/publications${query}`)).body as {
        publications: { number: number; rules: Rule[]; allowedBy: string | null }[];
        more: boolean;
      };
    const [newest, before] = (await read()).publications;
    expect([newest, before]).toMatchObject([{ rules: [{ id: 'second' }] }, { rules: [{ id: 'wish' }] }]);
    expect(await read('?limit=1')).toMatchObject({ publications: [newest], more: true });
    const restore = (number: number) =>
      server.send('POST', `${seller}/publications/${number}/restore`, { body: { words: 'Too dear.' } });
    expect((await restore(before!.number)).status).toBe(204);
    expect((await selling(fern)).rules).toMatchObject([{ id: 'wish' }]);
    expect((await read()).publications[0]).toMatchObject({ number: newest!.number + 1, rules: [{ id: 'wish' }] });
    expect((await read()).publications[0]?.allowedBy).not.toBeNull();
    const { rows } = await server.db.query(
      "SELECT subject, text_body FROM messages WHERE event = 'sellerRules.answered' ORDER BY id DESC LIMIT 1",
    );
    expect(rows).toMatchObject([
      {
        subject: 'Your rules were set back to an earlier publication',
        text_body: expect.stringContaining('Too dear.') as string,
      },
    ]);
    expect((await restore(9999)).status).toBe(404);
    expect((await server.send('GET', '/api/sellers/nobody/publications')).status).toBe(404);
  });

  it('shows nothing of others', async () => {
    const { body } = await as(fern, 'GET', '/api/seller/goods');
    const goods = body as z.infer<(typeof getSellerGoods)['replies'][200]>;
    expect(goods.products.map(({ id }) => id)).toEqual(['hart', 'lady']);
    expect(goods.vocabulary.tags.map(({ name }) => name)).toEqual(['fern']);
    expect(new Set(goods.vocabulary.sellers.map(({ name }) => name.trim().toLowerCase()))).toEqual(
      new Set(['tidewater ferns']),
    );
    await server.publish({ ...book(), rules: [make('secret', { price: { show: false } }, everything), ENTRY] });
    await save(fern, wish);
    const proof = await as(fern, 'POST', '/api/seller/proof', { products: ['hart', 'aster', 'spade'] });
    const { rows } = proof.body as z.infer<(typeof postSellerProof)['replies'][200]>;
    expect(rows.map(({ product }) => product)).toEqual(['hart']);
    const [cell] = rows[0]!.cells;
    expect([cell?.draft.control.kind, cell?.live.control.kind]).toEqual(['quote', 'buy']);
    expect([cell?.draft.reasons.control, cell?.draft.reasons.price]).toEqual([['wish'], ['shop']]);
    expect(JSON.stringify(proof.body)).not.toContain('secret');
  });

  it('ends with the seller', async () => {
    const made = await server.send('POST', '/api/sellers', { body: { name: 'Brief', names: ['Brief'] } });
    const { id } = made.body as { id: string };
    const brief = await signedInFor(server, id, 'brief@quillfern.example');
    expect((await as(brief, 'GET', '/api/seller')).status).toBe(200);
    expect((await server.send('PUT', `/api/colleagues/${brief.id}`, { body: { role: 'owner' } })).status).toBe(404);
    expect((await server.send('DELETE', `/api/sellers/${id}`)).status).toBe(204);
    expect((await as(brief, 'GET', '/api/seller')).status).toBe(401);
  });
});
