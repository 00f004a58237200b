import { SignJWT } from 'jose';
import type { Preorder } from '#core/contract/preorderCalls.ts';
import type { Waitlist, WaitlistEntry } from '#core/contract/waitlistCalls.ts';
import type { Owner } from './ownerClient.ts';

/** Who waits for what, in the order in which they joined. */
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
  const lists = await owner.send<Waitlist[]>('GET', '/api/waitlists');
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

/** Who reserved how many of what, in the order in which they did. */
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
  const shop = await signed(visitorSecret, (token) => token.setAudience('understudy-shop'));
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

const tokenOf = (secret: string, customer: string) => signed(secret, (token) => token.setSubject(customer));

const signed = (secret: string, of: (token: SignJWT) => SignJWT) =>
  of(new SignJWT()).setProtectedHeader({ alg: 'HS256' }).setExpirationTime('1h').sign(new TextEncoder().encode(secret));

async function post(address: string, body: object, headers: Readonly<Record<string, string>> = {}): Promise<void> {
  const response = await fetch(address, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...headers },
    body: JSON.stringify(body),
  });
  const answer = await response.text();
  if (!response.ok || answer.includes('"ok":false'))
    throw new Error(`${address} answered ${response.status}: ${answer}`);
}
