import type { Product } from '#core/contract/shopCalls.ts';
import type { Quote } from '#core/contract/askingCalls.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import type { Owner } from './ownerClient.ts';
import { post, shopTokenOf, tokenOf } from './shopCalls.ts';

/** A landscaper who has plants of two growers, and of the nursery, on one quote sheet. */
const LANDSCAPER = { customer: 'c-06', name: 'Fenn Tully', email: 'fenn.tully@quillfern.example' };

/** Requests to the growers: a pre-order, a waitlist entry, an enquiry, and a quote over two growers' plants. */
export async function fillGrowersRequests(
  url: string,
  owner: Owner,
  visitorSecret: string,
  prices: (grower: string, quote: string, lines: readonly object[]) => Promise<void>,
): Promise<void> {
  const soldBy = async (seller: string, ...more: Condition[]): Promise<Product> => {
    const where = { all: [{ fact: 'product.seller', op: 'in', value: [seller] }, ...more] };
    const body = JSON.stringify({ where, sort: 'price', descending: true, settled: true });
    const { products } = await owner.send<{ products: Product[] }>('POST', '/api/products/find', body);
    if (!products[0]) throw new Error(`the demo's range has nothing of ${seller}`);
    return products[0];
  };
  const fern = await soldBy('Tidewater Ferns');
  const tray = await soldBy('Marrow & Daughter', { fact: 'product.tags', op: 'hasAny', value: ['surplus'] });
  const seed = await soldBy('Marrow & Daughter', {
    fact: 'product.categories',
    op: 'within',
    value: ['seeds/vegetable-seed'],
  });
  const [fernPot, trayPot] = [fern.variants[0]?.id ?? '', tray.variants[0]?.id ?? ''];

  const order = {
    order: 'N-151',
    lines: [{ variantId: fernPot, quantity: 2 }],
    visitor: await tokenOf(visitorSecret, 'c-08'),
  };
  await post(`${url}/v1/preorders`, order, { Authorization: `Bearer ${await shopTokenOf(visitorSecret)}` });
  for (const customer of ['c-11', 'c-04', 'c-08'])
    await post(`${url}/v1/waitlist-entries`, {
      path: tray.path,
      visitor: await tokenOf(visitorSecret, customer),
    });
  await post(`${url}/v1/enquiries`, {
    path: seed.path,
    visitor: await tokenOf(visitorSecret, 'c-11'),
    name: 'Kit Sorrel',
    email: 'kit.sorrel@quillfern.example',
    answers: { question: 'Was this seed saved this year? I sow late, under glass.' },
  });

  const { customer, ...person } = LANDSCAPER;
  await post(`${url}/v1/quotes`, {
    ...person,
    visitor: await tokenOf(visitorSecret, customer),
    lines: [
      { variantId: fernPot, quantity: 60, note: 'All of one height, please' },
      { variantId: trayPot, quantity: 20 },
      { variantId: 'hornbeam-hedging-60-80-cm', quantity: 50 },
    ],
    key: `demo-quote-growers-${customer}`,
    answers: { delivery: 'The Old Maltings' },
  });
  const { quotes } = await owner.send<{ quotes: Quote[] }>('GET', '/api/quotes');
  const shared = quotes.find(({ isShared }) => isShared);
  const line = shared?.lines.find(({ variant }) => variant === fernPot);
  if (!shared || !line) throw new Error('the demo’s quote over several growers is not there');
  const lines = [{ variant: fernPot, units: line.units, unitPrice: Math.round(line.today * 0.85) }];
  await prices('Tidewater Ferns', shared.id, lines);
}
