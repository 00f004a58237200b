import type { Quote } from '#core/contract/askingCalls.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import type { Preorder } from '#core/contract/preorderCalls.ts';
import type { Waitlist, WaitlistEntry } from '#core/contract/waitlistCalls.ts';
import type { Owner } from './ownerClient.ts';
import { post, shopTokenOf, tokenOf } from './shopCalls.ts';

/** Waitlist entries of the demo, in order of joining. */
const WAITING: Readonly<Record<string, readonly string[]>> = {
  '/plants/inkwell': ['c-03', 'c-09', 'c-01', 'c-11', 'c-06', 'c-08', 'c-12', 'c-05'],
  '/plants/quiet-hour': ['c-11', 'c-04', 'c-03', 'c-12'],
};

/** People on the waitlists, one of them with a turn to buy, one who has gone. */
export async function fillWaitlists(url: string, owner: Owner, visitorSecret: string): Promise<void> {
  const stock = (quantity: number) =>
    owner.send('PUT', '/api/stock', JSON.stringify([{ variantId: 'quiet-hour-division', quantity }]));
  await stock(0);
  for (const [path, people] of Object.entries(WAITING)) {
    for (const customer of people) {
      const visitor = await tokenOf(visitorSecret, customer);
      await post(`${url}/v1/waitlist-entries`, { path, visitor });
    }
  }
  const { lists } = await owner.send<{ lists: Waitlist[] }>('GET', '/api/waitlists');
  const [longest] = lists;
  const rare = lists.find(({ product }) => product === 'quiet-hour');
  if (!longest || !rare) throw new Error('the demo’s waitlists are not there');
  const query = `product=${longest.product}`;
  const { entries } = await owner.send<{ entries: WaitlistEntry[] }>('GET', `/api/waitlists/entries?${query}`);
  const patch = (entry: WaitlistEntry | undefined, body: object) =>
    owner.send('PATCH', `/api/waitlists/entries/${entry?.id ?? ''}`, JSON.stringify(body));
  await patch(entries[1], { note: 'Has the white form already; only the blue, please' });
  await patch(entries[4], { state: 'removed' });
  await stock(2);
  await owner.send('POST', '/api/waitlists/invitations', JSON.stringify({ product: rare.product, next: 1, hours: 72 }));
}

/** People on a longer waitlist, with entries in every state. */
const MORE_WAITING = Array.from({ length: 14 }, (_, index) => `c-${13 + index * 3}`);

/**
 * A longer list, on which somebody was invited and bought, somebody is invited for an hour only, and lapses while the demo
 * runs, and somebody was taken off; and a request for a price that was turned down.
 * @param written the ids of products that examples use by name, which stay as they are
 */
export async function fillWholeRange(
  url: string,
  owner: Owner,
  visitorSecret: string,
  written: ReadonlySet<string>,
): Promise<void> {
  const rare = {
    all: [
      { fact: 'product.tags', op: 'hasAny', value: ['rare'] },
      { fact: 'stock.status', op: 'in', value: ['inStock'] },
      { fact: 'waitlist.length', op: 'eq', value: 0 },
    ],
  };
  const { products } = await owner.send<{ products: Product[] }>(
    'POST',
    '/api/products/find',
    JSON.stringify({ where: rare, sort: 'price', descending: true, settled: true }),
  );
  const dearest = products.find(({ id }) => !written.has(id));
  const variantId = dearest?.variants[0]?.id;
  if (!dearest || variantId === undefined) throw new Error('the demo’s range has no rare plant in stock');
  const product = dearest.id;
  const stock = (quantity: number) => owner.send('PUT', '/api/stock', JSON.stringify([{ variantId, quantity }]));
  const invite = (hours: number) =>
    owner.send('POST', '/api/waitlists/invitations', JSON.stringify({ product, next: 1, hours }));
  await stock(0);
  for (const customer of MORE_WAITING)
    await post(`${url}/v1/waitlist-entries`, {
      path: dearest.path,
      visitor: await tokenOf(visitorSecret, customer),
    });
  await stock(3);
  await invite(72);
  const shop = await shopTokenOf(visitorSecret);
  const visitor = await tokenOf(visitorSecret, MORE_WAITING[0]!);
  const order = { order: 'N-140', lines: [{ variantId, quantity: 1 }], visitor };
  await post(`${url}/v1/preorders`, order, { Authorization: `Bearer ${shop}` });
  await invite(1);
  await invite(72);
  const { entries } = await owner.send<{ entries: WaitlistEntry[] }>(
    'GET',
    `/api/waitlists/entries?product=${product}&state=waiting`,
  );
  const gone = JSON.stringify({ state: 'removed' });
  await owner.send('PATCH', `/api/waitlists/entries/${entries[4]?.id ?? ''}`, gone);

  await post(`${url}/v1/quotes`, {
    lines: [{ variantId: 'yew-hedging-30-40-cm', quantity: 900 }],
    visitor: await tokenOf(visitorSecret, 'c-18'),
    name: 'Clara Stone',
    email: 'clara.stone@quillfern.example',
    key: 'demo-quote-c-18',
    answers: { delivery: 'Stone Farm, the top field' },
  });
  const { quotes } = await owner.send<{ quotes: Quote[] }>('GET', '/api/quotes');
  const asked = quotes.find(({ customer }) => customer === 'c-18');
  const words = JSON.stringify({ words: 'We have not so many of one size this winter. Ask again in March.' });
  await owner.send('POST', `/api/quotes/${asked?.id ?? ''}/refusal`, words);

  for (const [customer, question] of [
    ['c-06', 'Is the ash handle oiled, or should I oil it?'],
    ['c-02', 'Do the oak handles fit the old forks as well?'],
  ] as const) {
    const [name = '', email = ''] = PEOPLE[customer];
    await post(`${url}/v1/enquiries`, { ...FORK, name, email, answers: { question } });
  }
  const { enquiries } = await owner.send<{ enquiries: { id: string }[] }>('GET', '/api/enquiries');
  const answer = JSON.stringify({ words: 'They do, all of them. A little linseed oil once a year is enough.' });
  await owner.send('POST', `/api/enquiries/${enquiries[0]?.id ?? ''}/answers`, answer);
}

/** Reservations of the demo, in their order. */
const RESERVED = [
  ['c-08', 'paper-lantern-5-tubers', 2],
  ['c-02', 'paper-lantern-5-tubers', 12],
  ['c-11', 'saffron-hill-3-tubers', 1],
  ['c-09', 'paper-lantern-5-tubers', 1],
  ['c-06', 'saffron-hill-3-tubers', 6],
  ['c-12', 'paper-lantern-5-tubers', 3],
  ['c-03', 'saffron-hill-3-tubers', 2],
] as const;

/** Reservations for the spring, one of them sent, one cancelled. */
export async function fillPreorders(url: string, owner: Owner, visitorSecret: string): Promise<void> {
  const shop = await shopTokenOf(visitorSecret);
  for (const [index, [customer, variantId, quantity]] of RESERVED.entries()) {
    const visitor = await tokenOf(visitorSecret, customer);
    const order = { order: `N-${101 + index}`, lines: [{ variantId, quantity }], visitor };
    await post(`${url}/v1/preorders`, order, { Authorization: `Bearer ${shop}` });
  }
  const variant = RESERVED[0][1];
  const { preorders } = await owner.send<{ preorders: Preorder[] }>('GET', `/api/preorders?variant=${variant}`);
  const move = (id: string | undefined, to: string) =>
    owner.send('POST', '/api/preorders/states', JSON.stringify({ preorders: [id], to }));
  await move(preorders[0]?.id, 'fulfilled');
  await move(preorders[2]?.id, 'cancelled');
}

/** Fills in quotes, one of them priced, and enquiries. */
export async function fillQuestions(url: string, owner: Owner, visitorSecret: string): Promise<void> {
  const quotes = [
    ['c-02', [['hornbeam-hedging-60-80-cm', 240, 'Delivered in two lots, please']], 'Wharf Lane, second gate'],
    [
      'c-06',
      [
        ['hornbeam-hedging-60-80-cm', 40, ''],
        ['yew-hedging-60-80-cm', 25, 'Bushy ones'],
      ],
      'The Old Maltings',
    ],
  ] as const;
  for (const [customer, sheet, delivery] of quotes) {
    const visitor = await tokenOf(visitorSecret, customer);
    const lines = sheet.map(([variantId, quantity, note]) => ({ variantId, quantity, ...(note && { note }) }));
    const [name = '', email = ''] = PEOPLE[customer];
    const request = { lines, visitor, name, email, key: `demo-quote-${customer}`, answers: { delivery } };
    await post(`${url}/v1/quotes`, request);
  }
  const { quotes: found } = await owner.send<{ quotes: Quote[] }>('GET', '/api/quotes');
  const first = found.find(({ customer }) => customer === 'c-02');
  const lines = first?.lines.map(({ variant, units, today }) => ({
    variant,
    units,
    unitPrice: Math.round(today * 0.8),
  }));
  const priced = { lines, delivery: 6500, days: 21, words: 'Lifted the week before, roots wrapped.' };
  await owner.send('PUT', `/api/quotes/${first?.id ?? ''}/price`, JSON.stringify(priced));
  for (const [customer, question] of [
    ['c-08', 'When will the next oak handles be turned? I would like two.'],
    ['c-03', 'Could I have one with a longer handle?'],
  ] as const) {
    const [name = '', email = ''] = PEOPLE[customer];
    const request = { ...FORK, name, email, answers: { question } };
    await post(`${url}/v1/enquiries`, request);
  }
}

const FORK = { path: '/tools/hand-fork', variantId: 'hand-fork-oak' };
const PEOPLE = {
  'c-02': ['Bram Oakes', 'bram.oakes@quillfern.example'],
  'c-03': ['Cleo Marsh', 'cleo.marsh@quillfern.example'],
  'c-06': ['Fenn Tully', 'fenn.tully@quillfern.example'],
  'c-08': ['Hugo Vale', 'hugo.vale@quillfern.example'],
} as const;
