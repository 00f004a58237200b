import type { AskDecisions, DecisionsAnswer } from '#core/contract/storefront.ts';
import type { Decision, SharedDecision } from '#core/engine/decision.ts';
import { decideVariants } from '#core/engine/decide.ts';
import { decideListing } from '#core/engine/listing.ts';
import { samePath } from '#core/model/names.ts';
import { decideVisit } from '#core/engine/visit.ts';
import { formatInstant } from '#core/model/zone.ts';
import { localeFor } from '#core/texts/locale.ts';
import type { Services } from '../base/services.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import type { ProductRow } from '../catalog/catalogQueries.ts';
import { statusesOf, type StatusReader } from '../visitors/visitorStatuses.ts';
import { previewOf } from '../visitors/preview.ts';
import { visitorOf } from '../visitors/visitor.ts';

/** An answer, and, for who asks, all that it says but the time, so that a cache can tell whether it still stands. */
export interface Decided {
  readonly answer: DecisionsAnswer;
  readonly etagSource: () => string;
}

/** What stands for the products asked for: what is held of them, then the core for each variant. */
export async function decisionsFor(
  services: Services & CatalogServices,
  ask: AskDecisions,
  readers: readonly StatusReader[],
): Promise<Decided> {
  const { products: facts, live, clock } = services;
  const current = live.current();
  const { edition, visitorSecrets: secrets } = current;
  const preview = await previewOf(services, ask.visitor);
  const { rulebook } = preview ?? current;
  const moment = preview?.moment ?? clock();
  const locale = ask.locale ?? null;
  const page = ask.page ?? null;
  const [rows, inCart, known] = await Promise.all([
    facts.byKeys({
      ids: ask.products.flatMap(({ id }) => id ?? []),
      paths: ask.products.flatMap(({ path }) => path ?? []),
    }),
    facts.byVariants(ask.cart ?? []),
    preview
      ? { ...preview.visitor, locale }
      : visitorOf(services, { token: ask.visitor, locale, invitations: ask.invitations, secrets, moment }),
  ]);
  const standings = await statusesOf(services, known, { readers, zone: rulebook.shop.zone });
  const visitor = { ...known, standings };
  const find = finder(rows);
  const shared = new SharedDecisions();
  const products: DecisionsAnswer['products'] = [];
  const unknown: string[] = [];

  for (const { id, path, variants, surface = ask.surface } of ask.products) {
    const row = find(id, path);
    if (!row) {
      unknown.push(id ?? path ?? '');
      continue;
    }
    const decisions = decideVariants(rulebook, row, { visitor, moment, surface, page });
    const whole = surface === 'listing' ? decideListing(decisions, row, locale, rulebook.shop) : null;
    products.push({
      id: row.id,
      path: row.path,
      surface,
      decision: whole && shared.indexOf(whole),
      variants: decisions
        .filter(({ variantId }) => variantId !== null && (variants === undefined || variants.includes(variantId)))
        .map((decision) => ({ id: decision.variantId ?? '', decision: shared.indexOf(decision) })),
    });
  }

  const seen = { visitor, moment, surface: ask.surface, page };
  const { visit, validUntil: visitUntil } = decideVisit(rulebook, seen, [...inCart.values()]);
  // At a moment that stands still nothing changes.
  const validUntil = preview?.moment
    ? null
    : earliest([...shared.all.map((decision) => decision.validUntil), visitUntil]);
  const answer: DecisionsAnswer = {
    edition,
    at: formatInstant(rulebook.shop.zone, moment),
    locale: localeFor(locale, rulebook.shop.locales),
    decisions: shared.all,
    products,
    unknown,
    visit,
    validUntil,
  };
  return { answer, etagSource: () => JSON.stringify({ ...answer, at: null }) };
}

function finder(rows: readonly ProductRow[]) {
  const byId = new Map(rows.map((row) => [row.id, row]));
  const byPath = new Map(rows.map((row) => [row.pathKey, row]));
  return (id: string | undefined, path: string | undefined): ProductRow | undefined =>
    id === undefined ? byPath.get(samePath(path ?? '')) : byId.get(id);
}

/** The distinct decisions, each once. */
class SharedDecisions {
  readonly all: SharedDecision[] = [];
  private readonly indexes = new Map<string, number>();

  indexOf({ productId: _product, variantId: _variant, surface: _surface, ...decision }: Decision): number {
    const key = JSON.stringify(decision);
    const known = this.indexes.get(key);
    if (known !== undefined) return known;
    const index = this.all.push(decision) - 1;
    this.indexes.set(key, index);
    return index;
  }
}

function earliest(instants: readonly (string | null)[]): string | null {
  return instants
    .filter((instant) => instant !== null)
    .reduce<string | null>((a, b) => (a !== null && Date.parse(a) <= Date.parse(b) ? a : b), null);
}
