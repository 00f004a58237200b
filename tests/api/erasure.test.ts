import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Enquiry, Quote } from '#core/contract/askingCalls.ts';
import type { Import, Job } from '#core/contract/importCalls.ts';
import type { Erasure, PersonData } from '#core/contract/peopleCalls.ts';
import type { Person } from '#core/contract/shopCalls.ts';
import { startMailbox, type Mailbox } from '../support/mailbox.ts';
import { book, make } from '../support/oneVariant.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

const EMAIL = 'ada.wrenfield@quillfern.example';
/** Matches every value of hers, and nobody else's. */
const TRACE = /wrenfield|210998877/i;
const of = (product: string) => ({ fact: 'product.id' as const, op: 'in' as const, value: [product] });

let mail: Mailbox;
let server: TestServer;
beforeAll(async () => {
  mail = await startMailbox();
  server = await startShop({ smtpUrl: mail.smtpUrl });
  await importCsv(
    server,
    'catalog',
    `variant_id,product_id,path,title,price
fern-1,fern,/plants/fern,Shield fern,5.00
moss-1,moss,/plants/moss,Moss,2.00
hedge-1,hedge,/plants/hedge,Hornbeam,9.00
ivy-1,ivy,/plants/ivy,Ivy,3.00`,
  );
  const { status } = await server.publish(
    book(
      make('list', { control: { kind: 'waitlist', per: 'product' } }, of('fern')),
      make('early', { control: { kind: 'preorder' } }, of('moss')),
      make('by-quote', { control: { kind: 'quote' } }, of('hedge')),
      make('ask', { control: { kind: 'enquiry', form: 'contact', open: 'dialog' } }, of('ivy')),
    ),
  );
  expect(status).toBe(201);
});
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const send = async (method: string, path: string, body?: object, headers: Record<string, string> = {}) => {
  const answer = await server.send(method, path, body ? { body, headers } : { headers });
  expect(answer.status, `${method} ${path}: ${JSON.stringify(answer.body)}`).toBeLessThan(300);
  return answer.body;
};
const people = async (file: string, query = '') => (await importCsv(server, 'people', file, query)).body;
const peopleImports = async () => ((await send('GET', '/api/imports?target=people')) as { imports: Import[] }).imports;

/** Returns every row of every table as text, like a database dump. */
async function dump(): Promise<string[]> {
  const { rows: tables } = await server.db.query<{ name: string }>(
    `SELECT format('%I.%I', schemaname, tablename) AS name FROM pg_tables
     WHERE schemaname NOT IN ('pg_catalog', 'information_schema')`,
  );
  const rows: string[] = [];
  for (const { name } of tables) {
    const { rows: found } = await server.db.query<{ row: string }>(`SELECT t::text AS row FROM ${name} t`);
    rows.push(...found.map(({ row }) => `${name}: ${row}`));
  }
  return rows;
}
const traces = async () => (await dump()).filter((row) => TRACE.test(row));
const tablesOf = (rows: readonly string[]) => [...new Set(rows.map((row) => row.split(':', 1)[0]!))].sort();

/** Stores one person's details in every place that can hold them. */
async function fillEveryTable(): Promise<{ preview: string }> {
  await people(
    `customer_id,name,email,phone,roles\nc-1,Ada Wrenfield,${EMAIL},+351210998877,trade\nc-2,Bram Oakes,bram@quillfern.example,,`,
  );
  await people(`customer_id,name\nc-1,Ada Wrenfield-Moss`);
  await people(`customer_id,name,phone\nc-1,Ada Wrenfield,ask Wrenfield Hall`);
  await people(`customer_id,email,name\nc-1,wrenfield at quillfern,Ada Wrenfield`);
  const { id: preview } = (await people(
    `customer_id,name,email\nc-1,Ada W. Wrenfield,${EMAIL}\nc-7,New Wrenfield,${EMAIL}\nc-3,Cleo Marsh,cleo@quillfern.example`,
    '?preview=true',
  )) as Job;
  await send('PATCH', '/api/people/c-1', { name: 'Ada Wrenfield', phone: '+351210998877' });
  const { id: other } = (await send('POST', '/api/people', { name: 'A. Wrenfield', email: EMAIL })) as { id: string };
  await send('PUT', `/api/people/${other}/roles`, { grant: [{ role: 'member' }] });
  const { id: merged } = (await send('POST', '/api/people', { name: 'Mrs Wrenfield' })) as { id: string };
  await send('POST', '/api/people/c-1/merge', { other: merged });
  await send('POST', '/api/web-hooks', {
    // Nothing listens there, so its messages stay in the queue.
    url: 'http://127.0.0.1:9/',
    events: ['waitlist.joined', 'preorder.reserved', 'quote.asked', 'enquiry.asked'],
  });
  const visitor = await server.token('c-1');
  const guest = { email: EMAIL, name: 'Ada Wrenfield' };
  await send('POST', '/v1/waitlist-entries', { path: '/plants/fern', visitor });
  const [entry] = ((await send('GET', '/api/waitlists/entries?product=fern')) as { entries: { id: string }[] }).entries;
  await send('PATCH', `/api/waitlists/entries/${entry!.id}`, { note: 'Rang from Wrenfield Hall' });
  const order = { order: 'N-1', ...guest, lines: [{ variantId: 'moss-1', quantity: 2 }] };
  await send('POST', '/v1/preorders', order, { Authorization: `Bearer ${await shopToken(server)}` });
  await send('POST', '/v1/quotes', {
    ...guest,
    key: 'quote-of-ada',
    answers: { delivery: 'Wrenfield Hall' },
    lines: [{ variantId: 'hedge-1', quantity: 200, note: 'along the Wrenfield road' }],
  });
  await send('POST', '/v1/enquiries', {
    ...guest,
    path: '/plants/ivy',
    answers: { question: 'Does it climb at Wrenfield Hall?' },
  });
  const [enquiry] = ((await send('GET', '/api/enquiries')) as { enquiries: Enquiry[] }).enquiries;
  await send('POST', `/api/enquiries/${enquiry!.id}/answers`, { words: 'It does, Mrs Wrenfield.' });
  const [quote] = ((await send('GET', '/api/quotes')) as { quotes: Quote[] }).quotes;
  await send('PUT', `/api/quotes/${quote!.id}/price`, {
    lines: [{ variant: 'hedge-1', units: 200, unitPrice: 800 }],
    delivery: 0,
    days: 14,
    words: 'As discussed, Mrs Wrenfield.',
  });
  return { preview };
}

describe('erasing a person', () => {
  it('leaves no trace in the database, whatever is undone or started afterwards', async () => {
    const { preview } = await fillEveryTable();
    expect(tablesOf(await traces())).toEqual(
      [
        'customers',
        'enquiries',
        'import_changes',
        'import_refusals',
        'import_rows',
        'imports',
        'messages',
        'preorders',
        'quote_lines',
        'quotes',
        'thread_messages',
        'waitlist_entries',
      ].map((name) => `public.${name}`),
    );
    const { customers } = (await send('POST', '/api/people/erasure', { email: EMAIL })) as Erasure;
    expect(customers).toEqual(['c-1', ...Array.from({ length: 2 }, () => expect.stringMatching(/^hand-/) as string)]);
    expect(await traces()).toEqual([]);
    await send('POST', `/api/imports/${preview}/start`);
    const stateOf = async (id: string) => ((await send('GET', `/api/jobs/${id}`)) as Job).state;
    await expect.poll(() => stateOf(preview)).toBe('done');
    for (const { id } of (await peopleImports()).filter(({ canUndo }) => canUndo)) {
      await send('POST', `/api/imports/${id}/undoing`);
      await expect.poll(() => stateOf(id)).toBe('undone');
    }
    expect(await traces()).toEqual([]);
  });

  it('covers every customer with the address when asked by address, and names the others when asked by customer', async () => {
    const file =
      'customer_id,name,email\ns-1,Fenn Tully,tully@quillfern.example\ns-2,Tam Tully,Tully@quillfern.example';
    await people(file);
    const join = async (body: object) => send('POST', '/v1/waitlist-entries', { path: '/plants/fern', ...body });
    await join({ visitor: await server.token('s-1') });
    await join({ visitor: await server.token('s-2') });
    const dataOf = async (whose: object) => (await send('POST', '/api/people/export', whose)) as PersonData;
    const idsOf = ({ customers }: PersonData) => customers.map(({ id }) => id);
    const byAddress = await dataOf({ email: 'tully@quillfern.example' });
    expect(idsOf(byAddress)).toEqual(['s-1', 's-2']);
    expect(byAddress.waitlists).toHaveLength(2);
    expect(byAddress.sameAddress).toEqual([]);
    const byCustomer = await dataOf({ customer: 's-1' });
    expect(idsOf(byCustomer)).toEqual(['s-1']);
    expect(byCustomer.waitlists).toHaveLength(1);
    expect(byCustomer.sameAddress).toEqual(['s-2']);

    expect(await send('POST', '/api/people/erasure', { customer: 's-1' })).toEqual({
      customers: ['s-1'],
      sameAddress: ['s-2'],
    });
    const { people: left } = (await send('GET', '/api/people?search=tully')) as { people: Person[] };
    expect(left.map(({ id }) => id)).toEqual(['s-2']);
    expect((await dataOf({ customer: 's-2' })).waitlists).toHaveLength(1);
    await people(file);
    expect(await send('POST', '/api/people/erasure', { email: 'tully@quillfern.example' })).toEqual({
      customers: ['s-1', 's-2'],
      sameAddress: [],
    });
    expect((await dump()).filter((row) => /tully/i.test(row))).toEqual([]);
  });
});
