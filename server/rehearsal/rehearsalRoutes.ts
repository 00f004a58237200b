import {
  getCalendar,
  getFindings,
  postImpact,
  postPreview,
  postRehearsalDecisions,
  postRows,
} from '#core/contract/rehearsalCalls.ts';
import { compile, type CompiledRulebook } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import { decideListing } from '#core/engine/listing.ts';
import { trace } from '#core/engine/trace.ts';
import { decideVisit } from '#core/engine/visit.ts';
import { formatInstant } from '#core/model/zone.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { RehearsalServices } from './rehearsalService.ts';
import type { Services } from '../services/services.ts';
import { productsByKeys } from '../catalog/catalogQueries.ts';
import { invalid } from '../http/errors.ts';
import { reply, route } from '../http/route.ts';
import { answered } from './answered.ts';
import { calendar, findings, impact, rows } from './rehearsalService.ts';
import { addressInShop } from '../shopData/shopAddress.ts';
import { readDraft } from '../rules/rulebookQueries.ts';
import { rulesOf } from '../services/rulesOf.ts';
import { PREVIEW_HASH, previewToken } from '../visitors/preview.ts';

export function rehearsalRoutes(endpoints: Endpoints, services: Services & RehearsalServices): void {
  const { db, live, clock } = services;

  route(endpoints, postImpact, ({ body }, context) => answered(context, (how) => impact(services, body, how)));
  route(endpoints, getFindings, ({ query }, context) => answered(context, (how) => findings(services, query.of, how)));
  route(endpoints, getCalendar, ({ query }, context) =>
    answered(context, (how) => calendar(services, query.of, query.days, how)),
  );
  route(endpoints, postRows, ({ body }, context) => answered(context, (how) => rows(services, body, how)));

  route(endpoints, postPreview, async ({ body: { page, ...claims } }) => {
    // An unknown edition is refused here rather than on the shop's page.
    await rulesOf(services, claims.source);
    const { pageMap, rulebook } = live.current();
    const address = addressInShop(page, pageMap ?? undefined);
    const { token, until } = await previewToken(services.links, { ...claims, zone: rulebook.shop.zone.name }, clock());
    address.hash = `${PREVIEW_HASH}=${token}`;
    return reply(201, { address: address.href, until: until.toISOString() }, { 'Cache-Control': 'no-store' });
  });

  route(endpoints, postRehearsalDecisions, async ({ body }) => {
    const rulebook = await sourceOf(services, body.source);
    const { shop } = rulebook;
    const moment = body.at === undefined ? clock() : Date.parse(body.at);
    const locale = body.locale ?? null;
    const visitor = {
      signedIn: body.visitor.signedIn,
      roles: body.visitor.roles.map((code) => ({ code, from: null, until: null })),
      customerId: body.visitor.customerId ?? null,
      locale,
      invitations: (body.visitor.invitedTo ?? []).map((id) => ({ to: 'variant' as const, id, until: null })),
    };
    const seen = { visitor, moment, surface: body.surface, page: null };
    const rows = new Map((await productsByKeys(db, { ids: body.products, paths: [] })).map((row) => [row.id, row]));
    const missing = body.products.flatMap((id, index) => (rows.has(id) ? [] : [{ id, index }]));
    if (missing.length > 0) {
      const faults = missing.map(({ id, index }) => ({
        pointer: `/products/${index}`,
        found: JSON.stringify(id),
        allowed: 'the id of a product in the catalog',
      }));
      throw invalid('What was sent', faults);
    }
    const products = [...rows.values()].map((product) => {
      const variants = product.variants.map((variant) => {
        const subject = { ...seen, product, variant };
        return { id: variant.id, decision: decide(rulebook, subject), trace: trace(rulebook, subject) };
      });
      const decisions = variants.map(({ decision }) => decision);
      const decision = body.surface === 'listing' ? decideListing(decisions, product, locale, shop) : null;
      return { id: product.id, decision, variants };
    });
    const { visit } = decideVisit(rulebook, seen, []);
    return reply(200, { at: formatInstant(shop.zone, moment), products, visit });
  });
}

async function sourceOf(
  { db, live }: Services,
  source: 'draft' | 'live' | { rulebook: Rulebook },
): Promise<CompiledRulebook> {
  const { rulebook, sellers } = live.current();
  if (source === 'live') return rulebook;
  return compile(source === 'draft' ? (await readDraft(db)).document : source.rulebook, rulebook.shop, sellers);
}
