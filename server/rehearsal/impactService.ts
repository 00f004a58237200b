import type { z } from 'zod';
import type { ImpactChange, postImpact } from '#core/contract/rehearsalCalls.ts';
import { ChangeGroups, changesIn, groupKey, type Change } from '#core/analyse/impact.ts';
import { visitorOf } from '#core/decide/audience.ts';
import { compile, type CompiledRulebook } from '#core/decide/compile.ts';
import type { ProductFacts } from '#core/decide/subject.ts';
import { decideVisit } from '#core/decide/visit.ts';
import { formatInstant } from '#core/decide/zone.ts';
import { EMPTY_RULEBOOK, type Rulebook } from '#core/rulebook/rulebook.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { pageOfProducts } from '../catalog/catalogQueries.ts';
import { notFound } from '../errors.ts';
import { editionByNumber, readDraft } from '../rulebook/rulebookQueries.ts';
import type { Services } from '../services.ts';
import { readAudiences } from '../shop/shopQueries.ts';

type Ask = z.infer<(typeof postImpact)['body']>;
type Answer = z.infer<(typeof postImpact)['replies'][200]>;
type Needs = Pick<Services, 'db' | 'live' | 'clock'>;

/** So many products are decided between two reads, so that other calls are answered meanwhile. */
const AT_ONCE = 200;

/** What one rulebook changes against another, over the whole catalog. */
export async function impact(services: Needs, ask: Ask): Promise<Answer> {
  const { db, live, clock } = services;
  const { shop } = live.current().rulebook;
  const [before, after, audiences] = await Promise.all([
    compiledOf(services, ask.from),
    compiledOf(services, ask.to),
    readAudiences(db),
  ]);
  const moment = ask.at === undefined ? clock() : Date.parse(ask.at);
  const { surface } = ask;
  const visitors = audiences.map(visitorOf);
  const comparison = { before, after, visitors, surface, moment };
  const groups = new ChangeGroups();
  const changes: ImpactChange[] = [];
  const wanted = ask.search?.trim().toLowerCase() ?? '';
  let looked = 0;
  let fitting = 0;
  for await (const products of catalogIn(services)) {
    looked +=
      surface === 'listing' ? products.length : products.reduce((sum, { variants }) => sum + variants.length, 0);
    for (const change of changesIn(comparison, products)) {
      groups.add(change);
      const title = titleOf(change, shop.locales);
      const isFitting =
        (ask.group === undefined || groupKey(change) === ask.group) &&
        `${title} ${change.variant?.id ?? ''} ${change.product.id}`.toLowerCase().includes(wanted);
      if (!isFitting) continue;
      fitting += 1;
      if (fitting <= ask.skip || changes.length >= ask.limit) continue;
      const { product, variant, visitor, before: was, after: is, aspects } = change;
      const audience = audiences[visitor]?.name ?? '';
      changes.push({
        product: product.id,
        variant: variant?.id ?? null,
        title,
        audience,
        aspects: [...aspects],
        before: was,
        after: is,
      });
    }
  }
  const nameOf = (visitor: number) => audiences[visitor]?.name ?? '';
  return {
    at: formatInstant(shop.zone, moment),
    looked,
    changed: groups.changed,
    groups: groups.all().map(({ visitors: whose, aspects, ...group }) => ({
      ...group,
      aspects: [...aspects],
      audiences: whose.map(nameOf),
    })),
    changes,
    more: fitting > ask.skip + changes.length,
    visits: visitors.flatMap((visitor, index) => {
      const seen = { visitor, moment, surface: 'cart', page: null } as const;
      const [was, is] = [before, after].map((rulebook) => decideVisit(rulebook, seen, []).visit);
      const doors = (visit: typeof was) => JSON.stringify([visit?.cart, visit?.checkout]);
      return was && is && doors(was) !== doors(is) ? [{ audience: nameOf(index), before: was, after: is }] : [];
    }),
  };
}

async function compiledOf({ db, live }: Needs, source: Ask['from']): Promise<CompiledRulebook> {
  const { rulebook } = live.current();
  if (source === 'live') return rulebook;
  return compile(source === 'draft' ? (await readDraft(db)).document : await editionOf(), rulebook.shop);

  async function editionOf(): Promise<Rulebook> {
    const { edition } = source as { edition: number };
    if (edition === 0) return EMPTY_RULEBOOK;
    const row = await editionByNumber(db, edition);
    if (!row) throw notFound(`edition ${edition}`);
    return row.document;
  }
}

/** The whole catalog, some products at a time. */
async function* catalogIn({ db }: Pick<Needs, 'db'>): AsyncGenerator<ProductFacts[]> {
  let after: string | undefined;
  for (;;) {
    const { products } = await pageOfProducts(db, { after, limit: AT_ONCE });
    if (products.length > 0) yield products;
    if (products.length < AT_ONCE) return;
    after = products.at(-1)?.id;
  }
}

const titleOf = ({ product, variant }: Change, locales: readonly string[]): string =>
  [wordsIn(product.title, null, locales), variant?.title].filter(Boolean).join(', ');
