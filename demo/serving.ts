import { SignJWT } from 'jose';
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

const tokenOf = (secret: string, customer: string) =>
  new SignJWT()
    .setProtectedHeader({ alg: 'HS256' })
    .setSubject(customer)
    .setExpirationTime('1h')
    .sign(new TextEncoder().encode(secret));

async function post(address: string, body: object): Promise<void> {
  const response = await fetch(address, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${address} answered ${response.status}: ${await response.text()}`);
}
