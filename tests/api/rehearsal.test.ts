import ICAL from 'ical.js';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { getCalendar, getFindings, postRows } from '#core/contract/rehearsalCalls.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { startAnalyst, StillWorking } from '../../server/rehearsal/analyst.ts';
import { LISBON } from '../support/arbitraries.ts';
import { book } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer, THREADS } from '../support/testServer.ts';

type Findings = z.infer<(typeof getFindings)['replies'][200]>;
type Calendar = z.infer<(typeof getCalendar)['replies'][200]>;
type Rows = z.infer<(typeof postRows)['replies'][200]>;

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    [
      'variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity,dates',
      'dahlia-3,dahlia,/plants/dahlia,Dahlia,ships-spring,14.50,true,0,ships=2027-03-15',
      'aster-1,aster,/plants/aster,Aster,,6.00,true,4,',
      'fern-1,fern,/plants/fern,Fern,,9.00,false,0,',
    ].join('\n'),
  );
});
afterAll(() => server.stop());

const saveDraft = (...rules: Rule[]) =>
  server.send('PUT', '/api/rulebook', { body: book(...rules), headers: { 'If-Match': '*' } });
const found = async (of = 'draft') => (await server.send('GET', `/api/rehearsal/findings?of=${of}`)).body as Findings;
const tagged = (...value: string[]): Rule['when'] => ({ fact: 'product.tags', op: 'hasAny', value });

const SPRING: Rule = {
  id: 'spring',
  name: 'Spring tubers',
  on: true,
  when: {
    all: [
      tagged('ships-spring'),
      { fact: 'moment', op: 'around', value: { date: 'ships', from: '-P30D', until: 'P0D' } },
    ],
  },
  then: {
    control: { kind: 'preorder', ships: { within: 'P2W' } },
    notes: [{ place: 'belowControl', text: 'Ships in March' }],
  },
};

describe('findings', () => {
  it('are named with an example, and with what ends them', async () => {
    const wait: Rule = {
      id: 'wait',
      on: true,
      when: { fact: 'product.id', op: 'in', value: ['aster'] },
      then: { control: { kind: 'waitlist', per: 'product' } },
    };
    await saveDraft(SPRING, { ...SPRING, id: 'slip', name: 'A slip', when: tagged('ship-spring') }, wait);
    const { findings, looked, of } = await found();
    expect([looked, of]).toEqual([3, 3]);
    const inStock = findings.find(({ about }) => about.kind === 'waitlistInStock');
    expect(inStock).toMatchObject({
      rule: 'wait',
      severity: 'note',
      count: 1,
      example: { product: 'aster', variant: 'aster-1', title: 'Aster', audience: 'Guest', surface: 'product' },
    });
    const { example } = inStock ?? {};
    const { body } = await server.send('POST', '/api/rehearsal/decisions', {
      body: {
        source: 'draft',
        at: example?.at,
        surface: 'product',
        visitor: { signedIn: false, roles: [] },
        products: ['aster'],
      },
    });
    expect(body).toMatchObject({ products: [{ variants: [{ decision: { control: { kind: 'waitlist' } } }] }] });

    const slip = findings.find(({ rule }) => rule === 'slip');
    expect(slip).toMatchObject({
      about: { kind: 'unknownName', fact: 'product.tags', of: null, name: 'ship-spring', nearest: 'ships-spring' },
      quickFix: { kind: 'useNearest' },
    });
    const fixed = slip?.quickFix && 'becomes' in slip.quickFix ? slip.quickFix.becomes : null;
    await saveDraft(SPRING, { ...fixed } as Rule);
    expect((await found()).findings.filter(({ about }) => about.kind === 'unknownName')).toEqual([]);
  });

  it('are those of what is live, or of an edition, when it is asked for', async () => {
    await server.publish(book({ ...SPRING, when: tagged('nothing-like-it') }));
    await saveDraft();
    expect((await found()).findings).toEqual([]);
    expect((await found('live')).findings.map(({ about }) => about.kind)).toContain('unknownName');
    expect((await found('1')).findings.map(({ about }) => about.kind)).toContain('unknownName');
    expect((await found('0')).findings).toEqual([]);
    expect((await server.send('GET', '/api/rehearsal/findings?of=99')).status).toBe(404);
    expect((await server.send('GET', '/api/rehearsal/findings?of=edition')).status).toBe(422);
    expect((await server.send('GET', '/api/rehearsal/findings', { asNobody: true })).status).toBe(401);
  });

  it('are told anew when the catalog changes', async () => {
    const rule = { ...SPRING, when: tagged('new-tag') };
    await saveDraft(rule);
    expect((await found()).findings.some(({ about }) => about.kind === 'unknownName')).toBe(true);
    await server.send('PATCH', '/api/products/aster', { body: { tags: ['new-tag'] } });
    expect((await found()).findings.some(({ about }) => about.kind === 'unknownName')).toBe(false);
  });
});

describe('the calendar', () => {
  it('has every instant at which the clock changes a decision, and each rule’s time', async () => {
    await saveDraft(SPRING);
    const calendar = (await server.send('GET', '/api/rehearsal/calendar')).body as Calendar;
    expect(calendar.instants).toMatchObject([
      {
        at: '2027-02-13T00:00:00.000+00:00',
        changed: 1,
        opens: ['spring'],
        closes: [],
        groups: [{ before: { kind: 'buy' }, after: { kind: 'preorder' }, count: 1 }],
      },
      { at: '2027-03-15T00:00:00.000+00:00', changed: 1, opens: [], closes: ['spring'] },
    ]);
    expect(calendar.bars).toEqual([
      { rule: 'spring', bars: [{ from: '2027-02-13T00:00:00.000+00:00', until: '2027-03-15T00:00:00.000+00:00' }] },
    ]);
    const soon = (await server.send('GET', '/api/rehearsal/calendar?days=30')).body as Calendar;
    expect(soon.instants).toEqual([]);
    expect((await server.send('GET', '/api/rehearsal/calendar?days=401')).status).toBe(422);
  });
});

describe('the calendar for other programs', () => {
  const addressOf = async (method: 'GET' | 'POST') => {
    const { body } = await server.send(method, '/api/calendar-address');
    return new URL((body as { address: string }).address).pathname;
  };

  it('is at a secret address, and another program reads it without a fault', async () => {
    await server.publish(book(SPRING));
    await saveDraft();
    await server.send('POST', '/api/openings', { body: { at: '2026-12-24T08:00:00Z', note: 'Quiet; days, all' } });
    const path = await addressOf('GET');
    expect(await addressOf('GET')).toBe(path);
    const answer = await server.send('GET', path, { asNobody: true });
    expect(answer.status).toBe(200);
    expect(answer.headers.get('Content-Type')).toContain('text/calendar');
    const file = answer.body as string;
    // RFC 5545: lines end with CRLF, and have no more than 75 octets.
    expect(file.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
    for (const line of file.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
    const calendar = new ICAL.Component(ICAL.parse(file) as unknown[]);
    expect(calendar.getFirstPropertyValue('version')).toBe('2.0');
    const events = calendar.getAllSubcomponents('vevent').map((event) => new ICAL.Event(event));
    expect(new Set(events.map(({ uid }) => uid)).size).toBe(events.length);
    for (const { component } of events) expect(component.getFirstPropertyValue('dtstamp')).not.toBeNull();
    expect(events.map(({ startDate, summary }) => [startDate.toJSDate().toISOString(), summary]).sort()).toEqual([
      ['2026-12-24T08:00:00.000Z', 'The next edition opens: Quiet; days, all'],
      ['2027-02-13T00:00:00.000Z', '“Spring tubers” begins'],
      ['2027-03-15T00:00:00.000Z', '“Spring tubers” ends'],
    ]);
  });

  it('moves to another address when it is asked to, and is nowhere else', async () => {
    const before = await addressOf('GET');
    const after = await addressOf('POST');
    expect(after).not.toBe(before);
    expect((await server.send('GET', before, { asNobody: true })).headers.get('Content-Type')).not.toContain(
      'text/calendar',
    );
    expect((await server.send('GET', after, { asNobody: true })).headers.get('Content-Type')).toContain(
      'text/calendar',
    );
    expect((await server.send('GET', '/api/calendar-address', { asNobody: true })).status).toBe(401);
  });
});

const NO_SELLERS: readonly never[] = [];
const analystOf = ({ databaseUrl }: TestServer) =>
  startAnalyst(THREADS.analyst, { databaseUrl, readUrl: null }, () => NO_SELLERS, pino({ level: 'silent' }));
const MOMENT = Date.parse('2026-11-25T10:00:00Z');
const AS_GUEST = { shop: LISBON, audiences: [{ signedIn: false, roles: [] }], moment: MOMENT } as const;

describe('an analysis', () => {
  it('is given up when nobody waits for it any more, and others go on', async () => {
    const analyst = analystOf(server);
    const question = { kind: 'rows', ...AS_GUEST, moments: [MOMENT], rulebook: book() } as const;
    const gone = new AbortController();
    const answer = analyst.ask<'rows'>({ ...question, surfaces: ['listing'] }, { signal: gone.signal });
    const refused = expect(answer).rejects.toMatchObject({ status: 503, code: 'given-up' });
    gone.abort();
    await refused;
    expect(await analyst.ask<'rows'>({ ...question, surfaces: ['product'] })).toHaveLength(1);
    await analyst.stop();
    await expect(analyst.ask<'rows'>({ ...question, surfaces: ['product'] })).resolves.toHaveLength(1);
    await analyst.stop();
  });
});

describe('an answer that takes long', () => {
  it('is told how far it is to whoever prefers that, and goes on for them until they ask again', async () => {
    const ask = async (headers: Record<string, string>) => {
      const answer = await server.send('POST', '/api/rehearsal/impact', { body: { days: 400 }, headers });
      return { status: answer.status, applied: answer.headers.get('Preference-Applied'), body: answer.body };
    };
    const prefer = { Prefer: 'respond-async, wait=0' };
    const first = await ask(prefer);
    expect(first).toMatchObject({
      status: 202,
      applied: 'respond-async',
      body: { done: expect.any(Number) as number },
    });
    const patient = await ask({});
    expect(patient).toMatchObject({ status: 200, applied: null, body: { looked: expect.any(Number) as number } });
  });

  it('is answered at once where it is kept from asking before', async () => {
    const analyst = analystOf(server);
    const question = { kind: 'rows', ...AS_GUEST, moments: [MOMENT], rulebook: book(), surfaces: ['product'] } as const;
    await expect(analyst.ask<'rows'>(question, { patience: 0, isNow: true })).rejects.toBeInstanceOf(StillWorking);
    // A minute later the question about now is still the same.
    const later = { ...question, moment: MOMENT + 60_000 };
    expect(await analyst.ask<'rows'>(later, { isNow: true })).toHaveLength(1);
    await analyst.stop();
  });
});

describe('representative rows', () => {
  it('are few variants that show all there is', async () => {
    await saveDraft(SPRING);
    const ask = async (at?: string) =>
      ((await server.send('POST', '/api/rehearsal/rows', { body: { ...(at ? { at } : {}) } })).body as Rows).rows;
    expect((await ask()).map(({ variant }) => variant)).toEqual(['aster-1']);
    expect((await ask('2027-03-01T12:00:00Z')).map(({ variant }) => variant).sort()).toEqual(['aster-1', 'dahlia-3']);
  });
});

describe('a catalog of many products', () => {
  it('is read in parts, and each part is told', async () => {
    const lines = Array.from({ length: 4000 }, (_, index) => `pea-${index},pea-${index},Pea ${index},3.00`);
    await importCsv(server, 'catalog', ['variant_id,product_id,title,price', ...lines].join('\n'));
    const analyst = analystOf(server);
    const question = { kind: 'calendar', ...AS_GUEST, days: 1, rulebook: book() } as const;
    const parts: number[] = [];
    for (;;) {
      const found = await analyst.ask<'calendar'>(question, { patience: 1 }).catch((error: unknown) => error);
      if (!(found instanceof StillWorking)) {
        expect(found).toMatchObject({ instants: [] });
        break;
      }
      parts.push(found.part);
    }
    await analyst.stop();
    expect(parts).toEqual(parts.toSorted((a, b) => a - b));
    // To read them is half of the work.
    expect(parts.filter((part) => part > 0 && part < 0.5)).not.toEqual([]);
  });
});
