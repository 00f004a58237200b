import { isSellers, rulesIn, sellerOfRule } from '#core/rulebook/entries.ts';
import type { Request } from 'express';
import {
  deleteSellerAsked,
  getSellerGoods,
  getSellerRulebook,
  getSelling,
  postSellerEdition,
  postSellerProof,
  putSellerRulebook,
} from '#core/contract/sellingCalls.ts';
import type { ValidationIssue } from '#core/contract/validation.ts';
import { compile } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import { visitorOf } from '#core/model/audience.ts';
import { isWithin, sameName } from '#core/model/names.ts';
import type { Product, Vocabulary } from '#core/contract/shopCalls.ts';
import { sameDocument } from '#core/rulebook/changes.ts';
import { EMPTY_RULEBOOK, type Rule, type Rulebook } from '#core/rulebook/rulebook.ts';
import { allowedOutcome, type SellerAllowance } from '#core/rulebook/sellers.ts';
import { newestEdition } from '../base/rulebookQueries.ts';
import { record } from '../base/record.ts';
import { scopeOf, spellingsOf } from '../base/scope.ts';
import * as queries from '../base/sellerQueries.ts';
import type { SellerRow } from '../base/sellerQueries.ts';
import type { Services } from '../base/services.ts';
import { shopView, vocabularyView } from '../base/shopView.ts';
import { productsByKeys, productsOfSellers, toProduct } from '../catalog/catalogQueries.ts';
import type { Queryable } from '../db/database.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { invalid, notFound, ProblemError } from '../http/errors.ts';
import { sellerIdOf, whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { requestCounts } from '../requests/requestCounts.ts';
import { refuseUnfinished, staleDraft } from '../rulebook/rulebookService.ts';
import { readAudiences } from '../visitors/audiences.ts';

const MOST_PRODUCTS = 500;

/** Calls of the seller's side, none of which reads or changes anything of others. */
export function sellingRoutes(endpoints: Endpoints, services: Services): void {
  const { db, live, clock } = services;
  const now = () => new Date(clock());
  const mine = async (request: Request, client: Queryable = db): Promise<SellerRow> => {
    const seller = await queries.sellerById(client, sellerIdOf(request) ?? '');
    if (!seller) throw notFound('your seller');
    return seller;
  };
  const locked = async (request: Request, client: Queryable): Promise<SellerRow> => {
    const seller = await queries.lockSeller(client, sellerIdOf(request) ?? '');
    if (!seller) throw notFound('your seller');
    return seller;
  };
  const termsOf = async ({ allowed, publishing }: SellerRow, client: Queryable = db) => {
    const terms = await queries.sellerTerms(client);
    return { allowed: allowed ?? terms.allowed, publishing: publishing ?? terms.publishing };
  };

  route(endpoints, getSelling, async ({}, { request }) => {
    const seller = await mine(request);
    const [terms, editions, waits] = await Promise.all([
      termsOf(seller),
      queries.sellerEditions(db, seller.id),
      scopeOf(services, request).then((scope) => requestCounts(db, scope)),
    ]);
    const { id, name, asked, askedAt, askedBy, refusal } = seller;
    return reply(200, {
      id,
      name,
      ...terms,
      isRead: live.current().isSellersRead,
      rules: [...seller.live],
      asked: asked && {
        at: askedAt?.toISOString() ?? '',
        by: askedBy ?? '',
        isDraft: sameDocument(asked, seller.draft),
      },
      refusal,
      waits,
      editions: editions.map(({ publishedAt, rules, ...edition }) => ({
        ...edition,
        publishedAt: publishedAt.toISOString(),
        rules: rules.length,
      })),
    });
  });

  route(endpoints, getSellerRulebook, async ({}, { request }) => {
    const seller = await mine(request);
    const headers = {
      ETag: etagOf(seller),
      'Cache-Control': 'no-cache',
      'Last-Modified': seller.savedAt.toUTCString(),
    };
    return reply(200, bookOf(seller.draft), headers);
  });

  route(endpoints, putSellerRulebook, async ({ body }, { request, ifMatch }) => {
    refuseEntry(body);
    const seller = await mine(request);
    const saved = { rules: rulesIn(body), at: now(), by: whoIs(request), revision: revisionOf(seller, ifMatch ?? '') };
    const revision = await queries.writeSellerDraft(db, seller.id, saved);
    if (revision === null) throw staleDraft();
    return reply(204, undefined, { ETag: etagOf({ id: seller.id, revision }) });
  });

  route(endpoints, postSellerEdition, async ({}, { request }) => {
    const by = whoIs(request);
    const published = await db.transaction(async (client) => {
      const seller = await locked(request, client);
      const { allowed, publishing } = await termsOf(seller, client);
      refuseUnfinished(bookOf(seller.draft));
      refuseForbidden(seller.draft, allowed);
      const asked = { rules: seller.draft, at: now(), by };
      await record(client, now(), by, publishing === 'atOnce' ? 'published a seller’s rules' : 'asked to publish', {
        seller: seller.name,
      });
      if (publishing === 'asked') {
        await queries.writeAsked(client, seller.id, asked);
        return null;
      }
      const number = await queries.publishRules(client, seller.id, { ...asked, allowedBy: null });
      await live.announce(client);
      return number;
    });
    if (published === null) return reply(202, { askedAt: now().toISOString() });
    await live.refresh();
    return reply(201, { number: published });
  });

  route(endpoints, deleteSellerAsked, async ({}, { request }) => {
    await db.transaction(async (client) => {
      const seller = await locked(request, client);
      await queries.writeAsked(client, seller.id, null);
      await record(client, now(), whoIs(request), 'withdrew a request for approval', { seller: seller.name });
    });
    return reply(204, undefined);
  });

  route(endpoints, getSellerGoods, async ({}, { request }) => {
    const { names } = await mine(request);
    const spelt = await spellingsOf(db, names);
    const [shop, { rows, total }, vocabulary, audiences] = await Promise.all([
      shopView(db),
      productsOfSellers(db, spelt, MOST_PRODUCTS),
      vocabularyView(services),
      readAudiences(db),
    ]);
    const products = rows.map(toProduct);
    return reply(200, {
      shop,
      products,
      total,
      vocabulary: vocabularyOf(products, vocabulary),
      audiences: shownTo(audiences),
    });
  });

  route(endpoints, postSellerProof, async ({ body: { products: ids, surface, at } }, { request }) => {
    const seller = await mine(request);
    const [products, audiences, edition] = await Promise.all([
      productsByKeys(db, { ids, paths: [] }),
      readAudiences(db),
      newestEdition(db),
    ]);
    const keys = new Set(seller.names.map(sameName));
    const theirs = products.filter((product) => product.seller !== null && keys.has(sameName(product.seller)));
    const { rulebook, sellers } = live.current();
    const drafted = sellers.map((one) => (one.id === seller.id ? { ...one, rules: seller.draft } : one));
    const draft = compile(edition?.document ?? EMPTY_RULEBOOK, rulebook.shop, drafted);
    const moment = at === undefined ? clock() : Date.parse(at);
    const rows = theirs.flatMap((product) =>
      product.variants.map((variant) => ({
        product: product.id,
        variant: variant.id,
        cells: shownTo(audiences).map((audience) => {
          const subject = { visitor: visitorOf(audience), product, variant, moment, surface, page: null };
          return {
            draft: ofTheirs(decide(draft, subject), seller.id),
            live: ofTheirs(decide(rulebook, subject), seller.id),
          };
        }),
      })),
    );
    return reply(200, { rows });
  });
}

const bookOf = (rules: readonly Rule[]): Rulebook => ({ ...EMPTY_RULEBOOK, rules: [...rules] });

const etagOf = ({ id, revision }: Pick<SellerRow, 'id' | 'revision'>) => `"seller-${id}-${revision}"`;

/** Revision named by If-Match; null for any, -1 for a tag that is not of this seller's draft. */
function revisionOf({ id }: SellerRow, ifMatch: string): number | null {
  if (ifMatch.trim() === '*') return null;
  const revision = ifMatch.trim().startsWith(`"seller-${id}-`) ? /-(\d{1,15})"$/.exec(ifMatch.trim())?.[1] : undefined;
  return revision === undefined ? -1 : Number(revision);
}

/** Reduces a decision's reasons for a seller: their own rules by id, the shop's only as such. */
function ofTheirs<D extends { readonly reasons: Readonly<Record<string, string[]>> }>(decision: D, seller: string): D {
  const reasons = Object.fromEntries(
    Object.entries(decision.reasons).map(([aspect, ids]) => [
      aspect,
      [...new Set(ids.map((id) => (sellerOfRule(id)?.seller === seller ? (sellerOfRule(id)?.rule ?? '') : SHOP)))],
    ]),
  );
  return { ...decision, reasons };
}
/** Stands for whichever of the shop's own rules decided. */
const SHOP = 'shop';

/** Audiences that a seller may use: none of one customer. */
const shownTo = <A extends { readonly customer: string | null }>(audiences: readonly A[]): A[] =>
  audiences.filter(({ customer }) => customer === null);

function refuseEntry({ rules }: Rulebook): void {
  const faults = rules.flatMap((entry, index): ValidationIssue[] =>
    isSellers(entry)
      ? [{ pointer: `/rules/${index}/sellers`, found: 'true', allowed: 'only in the shop’s own running order' }]
      : [],
  );
  if (faults.length > 0) throw invalid('The draft', faults);
}

/** @throws {ProblemError} 422 naming everything beyond the allowance */
function refuseForbidden(rules: readonly Rule[], allowed: SellerAllowance): void {
  const faults = rules.flatMap(({ then }, index): ValidationIssue[] => {
    const left = allowedOutcome(then, allowed) as Record<string, unknown>;
    return Object.entries(then).flatMap(([aspect, said]) =>
      JSON.stringify(left[aspect]) === JSON.stringify(said) || aspect in left
        ? []
        : [
            {
              pointer: `/rules/${index}/then/${aspect}`,
              found: JSON.stringify(said).slice(0, 200),
              allowed: 'what the shop lets you decide',
            },
          ],
    );
  });
  if (faults.length > 0)
    throw new ProblemError(
      'not-allowed-to-sellers',
      'Some of these rules say what the shop does not let you decide. Change them, or ask the shop.',
      { errors: faults },
    );
}

/** Names that rules can refer to: those of the seller's own products; of people, without counts. */
function vocabularyOf(products: readonly Product[], all: Vocabulary): Vocabulary {
  const known = (names: readonly (string | null)[]) => {
    const keys = new Set(names.flatMap((name) => (name === null ? [] : [sameName(name)])));
    return ({ name }: { readonly name: string }) => keys.has(sameName(name));
  };
  const variants = products.flatMap((product) => product.variants);
  const inTree = (id: string) =>
    products.some(({ categories }) => categories.some((category) => isWithin(category, id)));
  return {
    tags: all.tags.filter(known(products.flatMap(({ tags }) => tags))),
    categories: all.categories.filter(({ id }) => inTree(id)),
    roles: all.roles.map((role) => ({ ...role, count: 0 })),
    dates: all.dates.filter(known(products.flatMap(({ dates }) => Object.keys(dates)))),
    brands: all.brands.filter(known(products.map(({ brand }) => brand))),
    kinds: all.kinds.filter(known(products.map(({ kind }) => kind))),
    sellers: all.sellers.filter(known(products.map(({ seller }) => seller))),
    attributes: valuesOf(products.map(({ attributes }) => attributes)),
    options: valuesOf(variants.map(({ options }) => options)),
    paymentMethods: [],
  };
}

/** Each name with the values that it has anywhere. */
function valuesOf(all: readonly Readonly<Record<string, string>>[]): Vocabulary['attributes'] {
  const values = new Map<string, Set<string>>();
  for (const [name, value] of all.flatMap(Object.entries<string>)) {
    const known = values.get(name) ?? new Set();
    values.set(name, known.add(value));
  }
  return [...values].map(([name, found]) => ({ name, values: [...found].sort() }));
}
