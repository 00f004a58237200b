import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapCheck, MapVersion } from '#core/contract/pageMapCalls.ts';
import { checkLive } from '../../server/pageMap/checkService.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { staticShop, type StaticShop } from '../support/staticShop.ts';
import { BROWSER } from '../support/browser.ts';
import { ENDLESS, hostilePage, ODD } from '../support/hostilePages.ts';
import { childrenOf, nicenessOfBrowsers } from '../support/memory.ts';
import { partOf } from '../support/sampling.ts';
import { importCsv, OWNER_KEY, startShop, type TestServer } from '../support/testServer.ts';

const PRODUCT = '<main class="product"><h1>Aster</h1><p class="cost">€5.00</p><button class="add">Add</button></main>';
const LISTING =
  '<ul><li class="card"><a href="/plants/aster">Aster</a><p class="cost">€5.00</p><button class="add">Add</button></li></ul>';
const HOSTS =
  '<main class="product"><x-buy><template shadowrootmode="open"><p class="cost">€1</p><button class="add">Add</button></template></x-buy></main>';

let shop: StaticShop;
let server: TestServer;
let mail: Mailbox;

beforeEach(async () => {
  shop = await staticShop([
    ['/plants/aster', PRODUCT],
    ['/plants/', LISTING],
  ]);
  mail = await startMailbox();
  server = await startShop({ privateHosts: [new URL(shop.url).host], smtpUrl: mail.smtpUrl });
});
afterEach(async () => {
  await server.stop();
  await shop.stop();
  await mail.stop();
});

const map = (more: Partial<PageMap> = {}): PageMap => ({
  site: shop.url,
  pages: ['/plants/aster', '/plants/'],
  productPage: { path: '^/plants/[^/]+$', area: '.product' },
  card: { area: '.card', link: 'a' },
  control: '.add',
  price: '.cost',
  ...more,
});
const maps = async () =>
  (await server.send('GET', '/api/page-map')).body as { live: MapVersion | null; draft: MapVersion | null };
const embed = async () => (await server.send('GET', '/embed.js', { asNobody: true })).body as string;
const found = (check: MapCheck, path: string) =>
  Object.fromEntries(
    check.pages.find((page) => page.path === path)?.lines.map(({ part, found }) => [part, found]) ?? [],
  );

describe('a check', () => {
  it('says which amounts would stay when the price goes, in whatever digits and currency', async () => {
    const amounts = [
      '<s>¥6,000</s>',
      '<i>٦٫٥٠ €</i>',
      '<small>3 × 2.00 CHF</small>',
      '<b>H7 and up to 110 cm</b>',
      '<p>5 DIY tips</p>',
    ];
    shop.pages.set('/plants/aster', PRODUCT.replace('</main>', `${amounts.join('')}<option>€9</option></main>`));
    const lineBy = async (more: Partial<PageMap>) => {
      await server.send('PUT', '/api/page-map/draft', { body: map(more) });
      const { body } = await server.send('POST', '/api/page-map/check');
      const { pages } = body as MapCheck;
      return pages.find(({ path }) => path === '/plants/aster')?.lines.find(({ part }) => part === 'otherMoney');
    };
    const moneyBy = async (more: Partial<PageMap>) => (await lineBy(more))?.found;
    expect(await moneyBy({})).toBe(4);
    expect(await moneyBy({ besidePrice: 's, i' })).toBe(2);
    expect(await moneyBy({ besidePrice: 's, i, small, option' })).toBe(0);

    const choices =
      '<div id="sizes"><label class="size"><input type="radio"> small – 20.86 €</label>' +
      '<button aria-label="large, 43.57 €">L</button></div>';
    shop.pages.set('/plants/aster', PRODUCT.replace('</main>', `${choices}</main>`));
    expect((await lineBy({}))?.amounts).toEqual([
      { text: 'small – 20.86 €', where: 'div#sizes > label.size' },
      { text: 'large, 43.57 €', where: 'div#sizes > button' },
    ]);
    const many = '<p>€1</p>'.repeat(150);
    shop.pages.set('/plants/aster', PRODUCT.replace('</main>', `${many}</main>`));
    const line = await lineBy({});
    expect([line?.found, line?.amounts?.length]).toEqual([150, 100]);
  });
});

describe('a page map', () => {
  it('is drafted, checked and published, and only then in the storefront script', async () => {
    expect((await server.send('POST', '/api/page-map/publish')).status).toBe(409);
    expect((await server.send('PUT', '/api/page-map/draft', { body: map() })).status).toBe(204);
    expect(await embed()).toContain('"pageMap":null');
    const { status, body } = await server.send('POST', '/api/page-map/check');
    expect(status).toBe(200);
    expect(found(body as MapCheck, '/plants/aster')).toEqual({
      productPage: 1,
      card: 0,
      cardLink: 0,
      control: 1,
      price: 1,
      otherMoney: 0,
    });
    expect(found(body as MapCheck, '/plants/')).toEqual({ card: 1, cardLink: 1, control: 1, price: 1, otherMoney: 0 });
    expect((await maps()).draft?.check).toEqual(body);
    expect((await server.send('POST', '/api/page-map/publish')).status).toBe(200);
    expect((await maps()).draft).toBeNull();
    expect(await embed()).toContain('"control":".add"');
  });

  it('is refused with every fault named, and nothing changes', async () => {
    const { status, body } = await server.send('PUT', '/api/page-map/draft', {
      body: { ...map(), site: 'ftp://shop', control: '', cart: { path: '(' }, wrong: 1 },
    });
    expect(status).toBe(422);
    const pointers = (body as { errors: { pointer: string }[] }).errors.map(({ pointer }) => pointer);
    expect(pointers.sort()).toEqual(['/cart/path', '/control', '/site', '/wrong']);
    expect((await maps()).draft).toBeNull();
  });

  it('that was live before is taken into the draft again; a draft is thrown away', async () => {
    await server.send('PUT', '/api/page-map', { body: map() });
    await server.send('PUT', '/api/page-map', { body: map({ control: '.other' }) });
    const { body } = await server.send('GET', '/api/page-map/history');
    const [now, before] = body as MapVersion[];
    expect([now?.map.control, before?.map.control]).toEqual(['.other', '.add']);
    expect((await server.send('POST', `/api/page-map/history/${before?.id}/restore`)).status).toBe(204);
    expect((await maps()).draft?.map.control).toBe('.add');
    expect((await maps()).live?.map.control).toBe('.other');
    await server.send('DELETE', '/api/page-map/draft');
    expect((await maps()).draft).toBeNull();
    expect((await server.send('POST', '/api/page-map/history/99999/restore')).status).toBe(404);
  });

  it('looks into shadow roots that are sent with the page', async () => {
    shop.pages.set('/plants/aster', HOSTS);
    await server.send('PUT', '/api/page-map/draft', { body: map({ shadowHosts: 'x-buy' }) });
    const { body } = await server.send('POST', '/api/page-map/check');
    expect(found(body as MapCheck, '/plants/aster')).toMatchObject({ productPage: 1, control: 1, price: 1 });
  });
});

describe('a check', () => {
  const broken = async () => (await maps()).live?.check?.broken;
  const publishIt = async () => {
    await server.send('PUT', '/api/page-map/draft', { body: map() });
    await server.send('POST', '/api/page-map/publish');
  };

  it('says what a new theme broke, tells the owner once, and again only after it was whole', async () => {
    await publishIt();
    await checkLive(server.needs);
    expect(await broken()).toEqual([]);
    shop.pages.set('/plants/aster', PRODUCT.replace('class="add"', 'class="new-add"'));
    await checkLive(server.needs);
    await checkLive(server.needs);
    expect(await broken()).toEqual([{ path: '/plants/aster', part: 'control', seenBy: 'check' }]);
    expect((await server.send('GET', '/api/attention')).body).toMatchObject({ pageMapBroken: await broken() });
    const first = await mail.letter(() => true);
    expect(first).toMatchObject({ to: 'olive@quillfern.example' });
    expect(first.text).toContain('/plants/aster (control)');
    shop.pages.set('/plants/aster', PRODUCT);
    await checkLive(server.needs);
    expect(await broken()).toEqual([]);
    shop.pages.delete('/plants/aster');
    await checkLive(server.needs);
    expect(await broken()).toEqual([{ path: '/plants/aster', part: null, seenBy: 'check' }]);
    await mail.letter(({ text }) => text.includes('/plants/aster (the page cannot be read)'));
    expect(mail.letters).toHaveLength(2);
  });

  it('draws pages in a browser where there is one: scripts run, ours do not, and private addresses are not asked', async () => {
    const asked: string[] = [];
    const inside = createServer((request, response) => {
      asked.push(request.url ?? '');
      response.end('parent.x = 1');
    }).listen(0, '127.0.0.1');
    await once(inside, 'listening');
    const secret = `http://127.0.0.1:${(inside.address() as AddressInfo).port}`;
    const drawn = `<body><script>open('${secret}/opened'); location.href = '${secret}/away-at-once'</script><script src="/draw.js"></script><script src="http://understudy.test/embed.js"></script>
      <script src="${secret}/script"></script><img src="${secret}/picture"><iframe src="${secret}/frame"></iframe>
      <script>fetch('${secret}/fetched').catch(() => {}); new WebSocket('${secret.replace('http', 'ws')}/socket');
      navigator.sendBeacon('${secret}/beacon', 'x'); setTimeout(() => { location.href = '${secret}/away'; }, 50)</script>`;
    const script = `setTimeout(() => { const host = document.createElement('x-buy'); const main = document.createElement('main');
      main.className = 'product'; main.append(host); document.body.append(main); host.attachShadow({ mode: 'open' }).innerHTML =
      '<p class="cost">€5.00</p><button class="add">Add</button>'; }, 200)`;
    shop.pages.set('/plants/aster', drawn);
    shop.pages.set('/draw.js', script);
    const body = map({ pages: ['/plants/aster'], shadowHosts: 'x-buy' });
    await server.send('PUT', '/api/page-map/draft', { body });
    const asSent = (await server.send('POST', '/api/page-map/check')).body as MapCheck;
    expect(asSent.pages).toMatchObject([{ isDrawn: false, problem: null }]);
    expect(found(asSent, '/plants/aster')).toMatchObject({ control: 0 });

    const drawing = await startShop({
      privateHosts: [new URL(shop.url).host],
      ...(BROWSER === undefined ? {} : { chromium: BROWSER }),
    });
    await drawing.send('PUT', '/api/page-map/draft', { body });
    const check = (await drawing.send('POST', '/api/page-map/publish')).body as MapCheck;
    expect(check.pages).toMatchObject([{ isDrawn: true, problem: null }]);
    expect(found(check, '/plants/aster')).toMatchObject({ productPage: 1, control: 1, price: 1 });
    // Parts drawn by a script are missing once it no longer draws them.
    shop.pages.set('/draw.js', script.replace('class="add"', 'class="other"'));
    await checkLive(drawing.needs);
    const live = (await drawing.send('GET', '/api/page-map')).body as { live: MapVersion };
    expect(live.live.check?.broken).toEqual([{ path: '/plants/aster', part: 'control', seenBy: 'check' }]);
    expect(asked).toEqual([]);
    await drawing.stop();
    inside.close();
  });

  it('gives up pages that never end or take everything, says why, and never takes a processor from shoppers', async () => {
    // Each of the first keeps a processor busy until its deadline.
    const pages = [...partOf(Object.entries(ENDLESS), 4), ...Object.entries(ODD)];
    for (const [path, script] of pages) shop.pages.set(path, hostilePage(script));
    const drawing = await startShop({
      privateHosts: [new URL(shop.url).host],
      ...(BROWSER === undefined ? {} : { chromium: BROWSER }),
    });
    const before = childrenOf(process.pid);
    await drawing.send('PUT', '/api/page-map/draft', { body: map({ pages: pages.map(([path]) => path) }) });
    const niceness = new Set<number>();
    const watching = setInterval(() => {
      for (const nice of nicenessOfBrowsers(process.pid)) niceness.add(nice);
    }, 200);
    const check = (await drawing.send('POST', '/api/page-map/check')).body as MapCheck;
    clearInterval(watching);
    expect(niceness.size).toBeGreaterThan(0);
    expect(Math.min(...niceness)).toBe(10);
    for (const { path, isDrawn, notDrawn } of check.pages) {
      if (['/plants/timers', '/plants/markup'].includes(path))
        expect({ path, isDrawn }).toEqual({ path, isDrawn: true });
      else if (path !== '/plants/requests') expect(notDrawn, path).toMatch(/^(tooSlow|tooMuchMemory|ended)$/);
      // Read as it was sent, it still says where its parts are.
      expect(found(check, path)).toMatchObject({ control: 1 });
    }
    await expect.poll(() => childrenOf(process.pid).filter((pid) => !before.includes(pid))).toEqual([]);
    await drawing.stop();
  });

  it('says why a page cannot be read, and never asks where it should not', async () => {
    const pages = ['/plants/aster', '/gone', '/elsewhere', '/picture'];
    await server.send('PUT', '/api/page-map/draft', { body: map({ pages }) });
    const of = async () => (await server.send('POST', '/api/page-map/check')).body as MapCheck;
    expect((await of()).pages.map(({ problem }) => problem)).toEqual([null, 'status 404', 'status 404', 'status 404']);
    for (const site of [
      'http://127.0.0.1:9',
      'http://[::1]:80',
      'http://169.254.169.254',
      'http://localhost:1',
      'http://10.0.0.1',
    ]) {
      await server.send('PUT', '/api/page-map/draft', { body: map({ site, pages: ['/'] }) });
      expect({ site, problem: (await of()).pages[0]?.problem }).toEqual({ site, problem: 'private' });
    }
  });

  it('needs to know where the shop is', async () => {
    const { site: _site, ...nowhere } = map();
    await server.send('PUT', '/api/page-map/draft', { body: nowhere });
    expect((await server.send('POST', '/api/page-map/check')).status).toBe(409);
    expect((await server.send('POST', '/api/page-map/check?of=live')).status).toBe(409);
  });

  it('hears of what many shoppers’ browsers miss, and not of what one says or what is not the map’s', async () => {
    await publishIt();
    await importCsv(server, 'catalog', 'variant_id,product_id,path,title,price\nf,fern,/plants/fern,Fern,3');
    const miss = (path: string, missing: unknown = ['control'], browser = 'a browser') =>
      server.send('POST', '/v1/misses', {
        body: { path, missing },
        asNobody: true,
        headers: { 'User-Agent': browser },
      });
    // One that says it often is one.
    for (let times = 0; times < 6; times += 1) expect((await miss('/plants/fern')).status).toBe(204);
    for (const browser of ['b', 'c', 'd']) await miss('/plants/fern', ['control'], browser);
    // Pages of no product are not stored.
    for (const browser of ['a', 'b', 'c', 'd', 'e']) await miss('/plants/made-up', ['control'], browser);
    expect((await miss('/about')).status).toBe(204);
    expect((await miss('/plants/fern', ['everything'])).status).toBe(422);
    await checkLive(server.needs);
    expect(await broken()).toEqual([]);
    await miss('/plants/fern', ['control'], 'e');
    await checkLive(server.needs);
    expect(await broken()).toEqual([{ path: '/plants/fern', part: 'control', seenBy: 'shoppers' }]);
    const answers = await Promise.all(Array.from({ length: 40 }, () => miss('/plants/fern')));
    expect(answers.some(({ status }) => status === 429)).toBe(true);
  });
});

describe('the picker', () => {
  const open = async (page: string) => server.send('POST', '/api/picker', { body: { page } });

  it('opens by an address of the shop, or a path when the map says where the shop is', async () => {
    expect((await open('/plants/aster')).status).toBe(422);
    await server.send('PUT', '/api/page-map', { body: map() });
    const { address } = (await open('/plants/aster')).body as { address: string };
    expect(address).toMatch(new RegExp(`^${shop.url}/plants/aster#understudy-picker=[\\w.-]+$`));
    expect((await open('javascript:alert(1)')).status).toBe(422);
  });

  it('that does not start says why: the line is missing, its script was held back, or the page cannot be read', async () => {
    const opened = async (page: string) => {
      const { address, id } = (await open(page)).body as { address: string; id: string };
      const asked = async (why = '') => (await server.send('GET', `/api/picker/${id}${why}`)).body as object;
      return { asked, why: () => asked(`?page=${encodeURIComponent(page)}`), token: address.split('=')[1] ?? '' };
    };
    const page = `${shop.url}/plants/aster`;
    const { asked, why, token } = await opened(page);
    expect(await asked()).toEqual({ hasStarted: false, problem: null });
    expect(await why()).toEqual({ hasStarted: false, problem: 'noLine' });
    shop.pages.set('/plants/aster', `<script src="http://understudy.test/embed.js"></script>${PRODUCT}`);
    expect(await why()).toEqual({ hasStarted: false, problem: 'notRun' });
    expect(await (await opened(`${shop.url}/gone`)).why()).toMatchObject({ problem: 'status 404' });
    expect(await (await opened('http://127.0.0.1:1/')).why()).toMatchObject({ problem: 'private' });
    const headers = { Authorization: `Bearer ${token}` };
    await server.send('GET', '/v1/page-map-draft', { asNobody: true, headers });
    for (const ask of [asked, why]) expect(await ask()).toEqual({ hasStarted: true, problem: null });
  });

  it('is let in by its token for half an hour, by nothing else, and only to the draft', async () => {
    const { address } = (await open('https://shop.quillfern.example/')).body as { address: string };
    const token = address.split('=')[1] ?? '';
    const call = (method: string, bearer: string, body?: unknown) =>
      server.send(method, '/v1/page-map-draft', {
        asNobody: true,
        body,
        headers: { Authorization: `Bearer ${bearer}` },
      });
    expect((await server.send('GET', `/picker.js?token=${token}`, { asNobody: true })).status).toBe(200);
    expect((await server.send('GET', '/picker.js?token=x', { asNobody: true })).status).toBe(403);
    expect((await call('GET', token)).body).toMatchObject({ map: null, exponent: 2 });
    expect((await call('PUT', token, map())).status).toBe(204);
    expect((await maps()).draft?.savedBy).toBe('a program with the owner’s key');
    expect((await maps()).live).toBeNull();
    expect((await call('GET', OWNER_KEY)).status).toBe(401);
    expect((await call('GET', await server.token('c-1'))).status).toBe(401);
    expect(
      (await server.send('GET', '/api/page-map', { asNobody: true, headers: { Authorization: `Bearer ${token}` } }))
        .status,
    ).toBe(401);
    server.now += 31 * 60_000;
    expect((await call('PUT', token, map())).status).toBe(401);
    expect((await server.send('GET', `/picker.js?token=${token}`, { asNobody: true })).status).toBe(403);
  });
});
