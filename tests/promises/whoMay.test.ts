import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CALLS } from '#core/contract/calls.ts';
import { isPermission, KEY_SCOPES, type KeyScope, type StaffRole } from '#core/contract/permissions.ts';
import { signedInAs, signedInFor, type SignedIn } from '../support/colleagues.ts';
import { startShop, type TestServer } from '../support/testServer.ts';

/** The least that one must be to make each call, as the owner of a shop would say it: written by hand, not read off the code. */
const LEAST: Readonly<Record<string, StaffRole>> = {
  'delete /api/page-map/draft': 'editor',
  'delete /api/spot-checks/{id}': 'editor',
  'patch /api/enquiries/{id}': 'editor',
  'patch /api/waitlists/entries/{id}': 'editor',
  'post /api/calendar-address': 'editor',
  'post /api/enquiries/{id}/answers': 'editor',
  'post /api/messages/{id}/again': 'editor',
  'post /api/page-map/check': 'editor',
  'post /api/page-map/history/{id}/restore': 'editor',
  'post /api/picker': 'editor',
  'post /api/preorders/allocation': 'editor',
  'post /api/preorders/states': 'editor',
  'post /api/quotes/{id}/refusal': 'editor',
  'post /api/spot-checks': 'editor',
  'post /api/waitlists/invitations': 'editor',
  'put /api/audiences': 'editor',
  'put /api/page-map/draft': 'editor',
  'put /api/preorders/dates': 'editor',
  'put /api/quotes/{id}/price': 'editor',
  'put /api/rulebook': 'editor',
  'put /api/spot-checks/{id}': 'editor',
  'put /api/waitlists/settings': 'editor',
  'delete /api/colleagues/{id}': 'owner',
  'delete /api/insights/counts': 'owner',
  'delete /api/keys/{id}': 'owner',
  'delete /api/secrets/visitor/old': 'owner',
  'delete /api/web-hooks/{id}': 'owner',
  'delete /api/colleagues/{id}/second-factor': 'owner',
  'get /api/keys': 'owner',
  'get /api/messages/settings': 'owner',
  'get /api/web-hooks': 'owner',
  'post /api/colleagues': 'owner',
  'post /api/colleagues/{id}/invitation': 'owner',
  'post /api/keys': 'owner',
  'post /api/messages/letter': 'owner',
  'post /api/messages/trials': 'owner',
  'post /api/secrets/links': 'owner',
  'put /api/sellers/terms': 'owner',
  'post /api/sellers': 'owner',
  'put /api/sellers/{id}': 'owner',
  'delete /api/sellers/{id}': 'owner',
  'post /api/sellers/{id}/merge': 'owner',
  'post /api/sellers/{id}/people': 'owner',
  'post /api/secrets/visitor': 'owner',
  'post /api/web-hooks': 'owner',
  'post /api/web-hooks/{id}/trials': 'owner',
  'put /api/colleagues/{id}': 'owner',
  'put /api/messages/settings': 'owner',
  'put /api/shop': 'owner',
  'put /api/web-hooks/{id}': 'owner',
  'put /api/shop/details': 'owner',
  'post /api/sellers/{id}/answer': 'publisher',
  'delete /api/forms/{code}': 'publisher',
  'delete /api/openings/{id}': 'publisher',
  'delete /api/templates/{event}/{locale}': 'publisher',
  'patch /api/products/{id}': 'publisher',
  'post /api/catalog/import': 'publisher',
  'post /api/editions': 'publisher',
  'post /api/editions/{number}/restore': 'publisher',
  'post /api/imports/{id}/cancellation': 'publisher',
  'post /api/imports/{id}/start': 'publisher',
  'post /api/imports/{id}/undoing': 'publisher',
  'put /api/imports/readings': 'publisher',
  'post /api/feeds': 'publisher',
  'post /api/feeds/{id}/fetch': 'publisher',
  'delete /api/feeds/{id}': 'publisher',
  'post /api/openings': 'publisher',
  'post /api/page-map/publish': 'publisher',
  'post /api/people/erasure': 'publisher',
  'post /api/people/export': 'publisher',
  'post /api/people/import': 'publisher',
  'post /api/templates/test': 'publisher',
  'put /api/first-steps/people': 'publisher',
  'put /api/forms/{code}': 'publisher',
  'put /api/openings/{id}': 'publisher',
  'put /api/page-map': 'publisher',
  'post /api/people': 'publisher',
  'patch /api/people/{id}': 'publisher',
  'post /api/people/{id}/merge': 'publisher',
  'get /api/people/{id}/timeline': 'publisher',
  'put /api/people/{id}/roles': 'publisher',
  'put /api/stock': 'publisher',
  'put /api/templates': 'publisher',
  'put /api/texts/{key}': 'publisher',
  'delete /api/session': 'viewer',
  'delete /api/sessions': 'viewer',
  'delete /api/sessions/{id}': 'viewer',
  'get /api/attention': 'viewer',
  'get /api/audiences': 'viewer',
  'get /api/sellers': 'viewer',
  'get /api/sellers/{id}/publications': 'viewer',
  'post /api/sellers/{id}/publications/{number}/restore': 'publisher',
  'get /api/calendar-address': 'viewer',
  'get /api/colleagues': 'viewer',
  'get /api/connection': 'viewer',
  'get /api/editions': 'viewer',
  'get /api/editions/{number}': 'viewer',
  'get /api/enquiries': 'viewer',
  'get /api/first-steps': 'viewer',
  'get /api/forms': 'viewer',
  'get /api/imports': 'viewer',
  'get /api/feeds': 'viewer',
  'get /api/imports/readings': 'viewer',
  'get /api/insights/answers': 'viewer',
  'get /api/insights/answers.csv': 'viewer',
  'get /api/insights/demand': 'viewer',
  'get /api/insights/demand.csv': 'viewer',
  'get /api/insights/editions/{number}': 'viewer',
  'get /api/insights/editions/{number}/counts.csv': 'viewer',
  'get /api/insights/words': 'viewer',
  'get /api/insights/words.csv': 'viewer',
  'get /api/insights/funnel': 'viewer',
  'get /api/insights/funnel.csv': 'viewer',
  'get /api/insights/products': 'viewer',
  'get /api/insights/products.csv': 'viewer',
  'get /api/insights/series': 'viewer',
  'get /api/insights/series.csv': 'viewer',
  'get /api/imports/{id}/examples': 'viewer',
  'get /api/jobs/{id}': 'viewer',
  'get /api/messages': 'viewer',
  'get /api/messages/look': 'viewer',
  'get /api/openings': 'viewer',
  'get /api/openings/{id}': 'viewer',
  'get /api/page-map': 'viewer',
  'get /api/page-map/history': 'viewer',
  'get /api/people': 'viewer',
  'get /api/preorders': 'viewer',
  'get /api/preorders.csv': 'viewer',
  'get /api/preorders/goods': 'viewer',
  'get /api/products': 'viewer',
  'post /api/products/find': 'viewer',
  'post /api/products/export': 'viewer',
  'post /api/products/fact-changes': 'publisher',
  'post /api/products/fact-changes/{id}/undoing': 'publisher',
  'post /api/products/fact-changes/impact': 'viewer',
  'get /api/products/fact-changes': 'viewer',
  'get /api/products/{id}/facts': 'viewer',
  'get /api/catalog/views': 'viewer',
  'put /api/catalog/views': 'editor',
  'get /api/quotes': 'viewer',
  'get /api/record': 'viewer',
  'get /api/record.csv': 'viewer',
  'get /api/rehearsal/calendar': 'viewer',
  'get /api/rehearsal/findings': 'viewer',
  'get /api/rulebook': 'viewer',
  'get /api/shop': 'viewer',
  'get /api/shop/details': 'viewer',
  'get /api/sessions': 'viewer',
  'get /api/spot-checks': 'viewer',
  'get /api/templates': 'viewer',
  'get /api/texts': 'viewer',
  'get /api/vocabulary': 'viewer',
  'get /api/waitlists': 'viewer',
  'get /api/waitlists/entries': 'viewer',
  'get /api/waitlists/entries.csv': 'viewer',
  'post /api/previews': 'viewer',
  'post /api/rehearsal/decisions': 'viewer',
  'post /api/rehearsal/impact': 'viewer',
  'post /api/rehearsal/rows': 'viewer',
  'post /api/shop/trial': 'viewer',
  'put /api/password': 'viewer',
  'get /api/second-factor': 'viewer',
  'post /api/second-factor': 'viewer',
  'put /api/second-factor': 'viewer',
  'post /api/second-factor/recovery-codes': 'viewer',
  'post /api/second-factor/removal': 'viewer',
};

/** Calls for programs besides their scope's reads, also written by hand. */
const READERS: readonly KeyScope[] = ['read', 'rules', 'orders'];
const IMPORTERS: readonly KeyScope[] = ['catalog', 'people'];
const SCOPES: Readonly<Record<string, readonly KeyScope[]>> = {
  'get /api/imports': [...READERS, ...IMPORTERS],
  'get /api/feeds': [...READERS, ...IMPORTERS],
  'post /api/feeds': IMPORTERS,
  'post /api/feeds/{id}/fetch': IMPORTERS,
  'delete /api/feeds/{id}': IMPORTERS,
  'get /api/imports/{id}/examples': [...READERS, ...IMPORTERS],
  'get /api/jobs/{id}': [...READERS, ...IMPORTERS],
  'post /api/imports/{id}/cancellation': IMPORTERS,
  'get /api/imports/readings': [...READERS, ...IMPORTERS],
  'post /api/imports/{id}/start': IMPORTERS,
  'post /api/imports/{id}/undoing': IMPORTERS,
  'put /api/imports/readings': IMPORTERS,
  'post /api/catalog/import': ['catalog'],
  'patch /api/products/{id}': ['catalog'],
  'put /api/stock': ['catalog'],
  'post /api/products/fact-changes': ['catalog'],
  'post /api/products/fact-changes/{id}/undoing': ['catalog'],
  'post /api/people/import': ['people'],
  'put /api/first-steps/people': ['people'],
  'post /api/people/erasure': ['people'],
  'post /api/people/export': ['people'],
  'get /api/people/{id}/timeline': ['people'],
  'post /api/people': ['people'],
  'patch /api/people/{id}': ['people'],
  'post /api/people/{id}/merge': ['people'],
  'put /api/people/{id}/roles': ['people'],
  'patch /api/enquiries/{id}': ['orders'],
  'patch /api/waitlists/entries/{id}': ['orders'],
  'post /api/enquiries/{id}/answers': ['orders'],
  'post /api/messages/{id}/again': ['orders'],
  'post /api/preorders/allocation': ['orders'],
  'post /api/preorders/states': ['orders'],
  'post /api/quotes/{id}/refusal': ['orders'],
  'post /api/waitlists/invitations': ['orders'],
  'put /api/preorders/dates': ['orders'],
  'put /api/quotes/{id}/price': ['orders'],
  'put /api/waitlists/settings': ['orders'],
  'delete /api/session': [],
  'delete /api/sessions': [],
  'delete /api/sessions/{id}': [],
  'get /api/sessions': [],
  'put /api/password': [],
  'get /api/second-factor': [],
  'post /api/second-factor': [],
  'put /api/second-factor': [],
  'post /api/second-factor/recovery-codes': [],
  'post /api/second-factor/removal': [],
};
/** Scopes of calls in neither table: reads need `read`, changes of rules need `rules`. */
const scopesOf = (call: string): readonly KeyScope[] =>
  SCOPES[call] ??
  (SELLING.includes(call) ? [] : LEAST[call] === 'viewer' ? READERS : LEAST[call] === 'owner' ? [] : ['rules']);

/** Calls for sellers only. */
const SELLING: readonly string[] = [
  'get /api/seller',
  'get /api/seller/rulebook',
  'put /api/seller/rulebook',
  'post /api/seller/editions',
  'delete /api/seller/asked',
  'get /api/seller/goods',
  'post /api/seller/proof',
];
/** Calls that sellers share with the shop, about their own products: `sellerRequests.test.ts` tries each on others'. */
const REQUESTS: readonly string[] = [
  'get /api/waitlists',
  'get /api/waitlists/entries',
  'get /api/waitlists/entries.csv',
  'put /api/waitlists/settings',
  'patch /api/waitlists/entries/{id}',
  'post /api/waitlists/invitations',
  'get /api/preorders',
  'get /api/preorders.csv',
  'get /api/preorders/goods',
  'post /api/preorders/allocation',
  'post /api/preorders/states',
  'put /api/preorders/dates',
  'get /api/quotes',
  'put /api/quotes/{id}/price',
  'post /api/quotes/{id}/refusal',
  'get /api/enquiries',
  'patch /api/enquiries/{id}',
  'post /api/enquiries/{id}/answers',
  'get /api/messages',
  'get /api/messages/look',
  'get /api/forms',
  'post /api/messages/{id}/again',
];
const OF_ONESELF: readonly string[] = [
  'delete /api/session',
  'delete /api/sessions',
  'delete /api/sessions/{id}',
  'get /api/sessions',
  'put /api/password',
  'get /api/second-factor',
  'post /api/second-factor',
  'put /api/second-factor',
  'post /api/second-factor/recovery-codes',
  'post /api/second-factor/removal',
];

/** The least first. */
const ROLES: readonly StaffRole[] = ['viewer', 'editor', 'publisher', 'owner'];

let server: TestServer;
const people = new Map<StaffRole, SignedIn>();
/** Stays signed in, where those above sign out among all that they try. */
let keeper: SignedIn;

beforeAll(async () => {
  server = await startShop();
  for (const role of ROLES) people.set(role, await signedInAs(server, role));
  keeper = await signedInAs(server, 'owner', { email: 'rowan@quillfern.example' });
});
afterAll(() => server.stop());

const closed = CALLS.filter(({ auth }) => isPermission(auth));
// Signing out comes last.
const inOrder = [...closed].sort((a, b) => Number(a.path === '/api/session') - Number(b.path === '/api/session'));

/** The calls that somebody could make and should not, or the other way about. */
async function wrongFor(headers: Readonly<Record<string, string>>, isAllowed: (call: string) => boolean) {
  const wrong: string[] = [];
  for (const { method, path } of inOrder) {
    const address = path.replace(/\{\w+\}/g, '999999');
    // Invalid JSON changes nothing where it is let in.
    const raw = method === 'get' || method === 'delete' ? {} : { raw: '{' };
    const { status, body } = await server.send(method.toUpperCase(), address, { ...raw, headers, asNobody: true });
    const isRefused = status === 403 && (body as { type?: string }).type === 'urn:understudy:problem:not-allowed';
    if (isRefused === isAllowed(`${method} ${path}`) || status === 401) wrong.push(`${method} ${path}: ${status}`);
  }
  return wrong;
}

const withKey = async (...scopes: readonly KeyScope[]) => {
  const { headers } = keeper;
  const body = { name: `for ${scopes.join(' and ')}`, scopes };
  const made = await server.send('POST', '/api/keys', { body, headers, asNobody: true });
  return { Authorization: `Bearer ${(made.body as { key: string }).key}` };
};

describe('who may make a call', () => {
  it('is said of every call that is not for everybody, and of no other', () => {
    expect(closed.map(({ method, path }) => `${method} ${path}`).sort()).toEqual(
      [...Object.keys(LEAST), ...SELLING].sort(),
    );
  });

  it.each(ROLES)('is asked before anything of it is read: a %s', async (role) => {
    const { headers } = people.get(role)!;
    expect(
      await wrongFor(headers, (call) => call in LEAST && ROLES.indexOf(role) >= ROLES.indexOf(LEAST[call]!)),
    ).toEqual([]);
  });

  it('is asked of sellers, who may do nothing that is not theirs', async () => {
    const added = await server.send('POST', '/api/sellers', {
      body: { name: 'Tidewater Ferns', names: ['Tidewater'] },
    });
    const seller = await signedInFor(server, (added.body as { id: string }).id, 'tide@quillfern.example');
    expect(await wrongFor(seller.headers, (call) => [...SELLING, ...REQUESTS, ...OF_ONESELF].includes(call))).toEqual(
      [],
    );
  });

  it.each(KEY_SCOPES)('is asked of programs too: a key for %s', async (scope) => {
    expect(await wrongFor(await withKey(scope), (call) => scopesOf(call).includes(scope))).toEqual([]);
  });

  it('follows a change of role at once, and ends with the colleague', async () => {
    const someone = await signedInAs(server, 'publisher', {
      email: 'wren@quillfern.example',
      by: keeper,
    });
    const publish = async () =>
      (await server.send('POST', '/api/page-map/publish', { headers: someone.headers, asNobody: true })).status;
    expect(await publish()).toBe(409);
    const { headers } = keeper;
    const change = { headers, asNobody: true } as const;
    await server.send('PUT', `/api/colleagues/${someone.id}`, { body: { role: 'editor' }, ...change });
    expect(await publish()).toBe(403);
    await server.send('DELETE', `/api/colleagues/${someone.id}`, change);
    expect(await publish()).toBe(401);
  });
});
