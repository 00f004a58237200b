import type { AskDecisions, DecisionsAnswer } from '#core/contract/storefront.ts';
import type { SharedDecision, Visit } from '#core/engine/decision.ts';
import type { Area, Surface } from './areas.ts';
import { loadFitting } from './fitting.ts';
import type { PageSettings, Settings } from './settings.ts';
import { soon } from './soon.ts';

/** Decisions for one product on one surface. */
export interface Answered {
  /** For the product as a whole, on a listing. */
  readonly whole: SharedDecision | undefined;
  readonly variants: ReadonlyMap<string, SharedDecision>;
}

export interface Answer {
  /** By `key` of path and surface. A product that we do not know is missing. */
  readonly products: ReadonlyMap<string, Answered>;
  readonly visit: Visit;
  /** Validity in ms; Infinity if time alone changes nothing. */
  readonly ttlMs: number;
}

export const key = ({ path, surface }: Pick<Area, 'path' | 'surface'>) => `${surface} ${path}`;

const LONGEST_ADDRESS = 1800;

/**
 * Asks for all products and for the visit in one request: by an address that caches share, for a guest with an empty cart and
 * one surface. The browser's cache revalidates its answer, so that a new edition is seen at once.
 */
export async function ask(
  { origin, fits }: Settings,
  { visitor, cart, invitations = [], locale = document.documentElement.lang || undefined }: PageSettings,
  areas: readonly Area[],
  page: Surface,
): Promise<Answer> {
  const wanted = [...new Map(areas.map((area) => [key(area), area])).values()];
  const query = new URLSearchParams([
    ['surface', page],
    ...(locale ? [['locale', locale]] : []),
    ['page', location.pathname],
    ...wanted.map(({ path }) => ['path', path]),
  ]);
  const address = `${origin}/v1/decisions`;
  const isShared =
    !visitor &&
    !cart &&
    !invitations.length &&
    wanted.every(({ surface }) => surface === page) &&
    query.toString().length < LONGEST_ADDRESS;
  if (fits) void loadFitting(origin);
  // The call is a task of its own: on slow devices it and the address take long enough.
  await new Promise<void>(soon);
  const response = isShared
    ? await fetch(`${address}?${query.toString()}`, { credentials: 'omit', cache: 'no-cache' })
    : await fetch(address, {
        method: 'POST',
        credentials: 'omit',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          surface: page,
          page: location.pathname,
          ...(locale ? { locale } : {}),
          products: wanted.map(({ path, surface }) => ({ path, surface })),
          ...(cart === undefined ? {} : { cart }),
          ...(visitor === undefined ? {} : { visitor }),
          invitations,
        } satisfies AskDecisions),
      });
  if (!response.ok) throw new Error(`answered ${response.status}`);
  const answer = (await response.json()) as DecisionsAnswer;
  // Controls decided by rules may look different from the shop's own.
  if (answer.decisions.some(({ reasons }) => reasons.control[0] ?? reasons.price[0])) await loadFitting(origin);
  // A cached body may be older than its confirmation.
  const respondedAt = Date.parse(response.headers.get('Understudy-At') ?? '');
  return read(answer, wanted, Math.max(Date.parse(answer.at), respondedAt || 0));
}

function read(
  { decisions, products, unknown, visit, validUntil }: DecisionsAnswer,
  areas: readonly Area[],
  at: number,
): Answer {
  const known = areas.filter(({ path }) => !unknown.includes(path));
  const answered = new Map<string, Answered>();
  // Products come in the order in which they were asked for.
  products.forEach(({ decision, variants }, index) => {
    const area = known[index];
    if (!area) return;
    const pairs = variants.flatMap(({ id, decision }) => {
      const decided = decisions[decision];
      return decided ? [[id, decided] as const] : [];
    });
    answered.set(key(area), { whole: decision === null ? undefined : decisions[decision], variants: new Map(pairs) });
  });
  return {
    products: answered,
    visit,
    ttlMs: validUntil === null ? Infinity : Date.parse(validUntil) - at,
  };
}

/** Decision for the chosen variant, or for the product as a whole. */
export const decisionIn = ({ whole, variants }: Answered, chosen: string | undefined) =>
  whole ?? variants.get(chosen ?? '') ?? variants.values().next().value;
