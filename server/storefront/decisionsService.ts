import type { AskDecisions, DecisionsAnswer } from '#core/contract/storefront.ts';
import type { CompiledRulebook } from '#core/engine/compile.ts';
import type { Decision, SharedDecision } from '#core/engine/decision.ts';
import { decideVariants } from '#core/engine/decide.ts';
import { decideListing } from '#core/engine/listing.ts';
import { decideVisit, type ProductVariant } from '#core/engine/visit.ts';
import { sameAddress, samePath } from '#core/model/names.ts';
import type { VisitorFacts } from '#core/model/subject.ts';
import { formatInstant } from '#core/model/zone.ts';
import { localeFor } from '#core/texts/locale.ts';
import type { Services } from '../services/services.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import type { ProductRow } from '../catalog/catalogQueries.ts';
import { previewOf } from '../visitors/preview.ts';
import { visitorOf } from '../visitors/visitor.ts';
import type { VisitorServices } from '../visitors/visitorCache.ts';
import { encoded, type Answer, type HeldAnswers } from './heldAnswers.ts';

/** Input of an answer. */
interface Known {
  readonly edition: number;
  readonly rulebook: CompiledRulebook;
  readonly rows: readonly ProductRow[];
  readonly inCart: ReadonlyMap<string, ProductVariant>;
  readonly visitor: VisitorFacts;
  /** Epoch ms. */
  readonly moment: number;
  /** Whether the moment is another than now, at which nothing changes. */
  readonly standsStill: boolean;
}

/** Answers a request for decisions from cached facts, or from a cached answer. */
export async function answerFor(
  services: Services & CatalogServices & VisitorServices,
  held: HeldAnswers,
  ask: AskDecisions,
): Promise<Answer> {
  const { shownProducts: products, live, clock } = services;
  const current = live.current();
  const preview = await previewOf(services, ask.visitor);
  const locale = ask.locale ?? null;
  const moment = preview?.moment ?? clock();
  const [rows, inCart, visitor] = await Promise.all([
    products.byKeys({
      ids: ask.products.flatMap(({ id }) => id ?? []),
      paths: ask.products.flatMap(({ path }) => path ?? []),
    }),
    products.byVariants(ask.cart ?? []),
    preview ? { ...preview.visitor, locale } : knownVisitor(services, ask, moment),
  ]);
  const { edition } = current;
  const { rulebook } = preview ?? current;
  const standsStill = preview !== null && preview.moment !== null;
  const make = () => decided({ edition, rulebook, rows, inCart, visitor, moment, standsStill }, ask);
  if (preview) return encoded(make());
  const { visitor: _token, invitations: _tokens, ...asked } = ask;
  const facts = [current, ...rows, ...[...inCart.values()].map(({ product }) => product)];
  const key = JSON.stringify([asked, lookedAt(rulebook, visitor)]);
  return held.for(key, facts, moment, make);
}

/** Reads the visitor with their earlier actions; guests have none. */
async function knownVisitor(
  services: Services & VisitorServices,
  { visitor: token, locale, invitations }: AskDecisions,
  moment: number,
): Promise<VisitorFacts> {
  const { live, shownVisitors: visitors } = services;
  const { visitorSecrets: secrets } = live.current();
  const visitor = await visitorOf(
    { ...services, visitors },
    { token, locale: locale ?? null, invitations, secrets, moment },
  );
  const { customerId } = visitor;
  return customerId === null ? visitor : { ...visitor, statuses: await visitors.statuses(customerId) };
}

/** Visitor facts that rules can depend on: visitors with equal facts share an answer. */
const lookedAt = ({ distinguishesCustomers }: CompiledRulebook, visitor: VisitorFacts): VisitorFacts =>
  distinguishesCustomers ? visitor : { ...visitor, customerId: null };

/** Computes the answer from facts alone. */
function decided({ edition, rulebook, rows, inCart, visitor, moment, standsStill }: Known, ask: AskDecisions) {
  const { shop } = rulebook;
  const locale = ask.locale ?? null;
  const page = ask.page ?? null;
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
    const whole = surface === 'listing' ? decideListing(decisions, row, locale, shop) : null;
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
  const answer: DecisionsAnswer = {
    edition,
    at: formatInstant(shop.zone, moment),
    locale: localeFor(locale, shop.locales),
    decisions: shared.all,
    products,
    unknown,
    visit,
    validUntil: standsStill ? null : earliest([...shared.all.map(({ validUntil }) => validUntil), visitUntil]),
  };
  return answer;
}

function finder(rows: readonly ProductRow[]) {
  const byId = new Map(rows.map((row) => [row.id, row]));
  const byPath = new Map(rows.map((row) => [row.pathKey, row]));
  return (id: string | undefined, path: string | undefined): ProductRow | undefined =>
    id === undefined ? (byPath.get(sameAddress(path ?? '')) ?? byPath.get(samePath(path ?? ''))) : byId.get(id);
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
