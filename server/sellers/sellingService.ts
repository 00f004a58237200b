import type { Product, Vocabulary } from '#core/contract/shopCalls.ts';
import type { ValidationIssue } from '#core/contract/validation.ts';
import { compile } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import { visitorOf } from '#core/model/audience.ts';
import { isWithin, sameName } from '#core/model/names.ts';
import { NAME_COLUMNS, type NameColumn } from '#core/model/productColumns.ts';
import type { Surface } from '#core/model/subject.ts';
import { sameDocument } from '#core/rulebook/changes.ts';
import { isSellers, rulesIn, sellerOfRule } from '#core/rulebook/entries.ts';
import { EMPTY_RULEBOOK, type Rule, type Rulebook } from '#core/rulebook/rulebook.ts';
import { beyondAllowance, type SellerAllowance } from '#core/rulebook/sellers.ts';
import { beyondWords } from '#core/rulebook/sentence.ts';
import { productsByKeys, productsOfSellers, toProduct } from '../catalog/catalogQueries.ts';
import type { Queryable } from '../db/database.ts';
import { record } from '../db/record.ts';
import { invalid, notFound, ProblemError } from '../http/errors.ts';
import { requestCounts } from '../requests/requestCounts.ts';
import { refuseUnfinished, staleDraft } from '../rulebook/rulebookService.ts';
import { newestEdition } from '../rules/rulebookQueries.ts';
import { lockSeller, sellerById, sellerTerms, type SellerRow } from '../rules/sellerQueries.ts';
import { spellingsOf, type Scope } from '../scope/scope.ts';
import { enqueueNotifications } from '../messages/outbox.ts';
import type { JobServices, Services } from '../services/services.ts';
import { shopView, vocabularyView } from '../services/shopView.ts';
import { readAudiences } from '../visitors/audiences.ts';
import { publishRules, sellerEditions, writeAsked, writeSellerDraft } from './sellerChanges.ts';

const MOST_PRODUCTS = 500;

/** @throws {ProblemError} 404 where there is no such seller (any more) */
export async function sellerNamed(db: Queryable, id: string | null): Promise<SellerRow> {
  const seller = await sellerById(db, id ?? '');
  if (!seller) throw notFound('your seller');
  return seller;
}

async function locked(client: Queryable, id: string): Promise<SellerRow> {
  const seller = await lockSeller(client, id);
  if (!seller) throw notFound('your seller');
  return seller;
}

/** A seller's own terms, or those for all. */
async function termsOf(db: Queryable, { allowed, publishing }: SellerRow) {
  const terms = await sellerTerms(db);
  return { allowed: allowed ?? terms.allowed, publishing: publishing ?? terms.publishing };
}

/** Describes a seller to themselves: terms, rules that count, requests for approval, editions, and what waits for them. */
export async function describeSelling({ db, live }: Services, seller: SellerRow, scope: Scope) {
  const [terms, { rows: editions }, waits] = await Promise.all([
    termsOf(db, seller),
    sellerEditions(db, seller.id),
    requestCounts(db, scope),
  ]);
  const { id, name, asked, askedAt, askedBy, refusal } = seller;
  return {
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
  };
}

export const draftOf = ({ draft }: Pick<SellerRow, 'draft'>): Rulebook => ({ ...EMPTY_RULEBOOK, rules: [...draft] });

export const etagOf = ({ id, revision }: Pick<SellerRow, 'id' | 'revision'>): string => `"seller-${id}-${revision}"`;

/**
 * Saves a seller's draft.
 * @param ifMatch the tag of the draft that it is based on
 * @returns the new draft's tag
 * @throws {ProblemError} 422 for the entry that only the shop has; 412 where the draft was changed meanwhile
 */
export async function saveSellerDraft(
  { db, clock }: Services,
  seller: SellerRow,
  { draft, ifMatch, by }: { readonly draft: Rulebook; readonly ifMatch: string; readonly by: string },
): Promise<string> {
  refuseEntry(draft);
  const saved = { rules: rulesIn(draft), at: new Date(clock()), by, revision: revisionOf(seller, ifMatch) };
  const revision = await writeSellerDraft(db, seller.id, saved);
  if (revision === null) throw staleDraft();
  return etagOf({ id: seller.id, revision });
}

/**
 * Publishes a seller's draft, or asks the owner to, as their terms say.
 * @returns the edition's number; null where the owner was asked
 * @throws {ProblemError} 422 while a rule is unfinished or says what the shop does not let them decide
 */
export async function publishDraft(services: JobServices, id: string, by: string): Promise<number | null> {
  const { db, live, clock, config } = services;
  const at = new Date(clock());
  const published = await db.transaction(async (client) => {
    const seller = await locked(client, id);
    const { allowed, publishing } = await termsOf(client, seller);
    refuseUnfinished(draftOf(seller));
    refuseForbidden(seller.draft, allowed);
    const asked = { rules: seller.draft, at, by };
    const act = publishing === 'atOnce' ? 'published a seller’s rules' : 'asked to publish';
    await record(client, at, by, act, { seller: seller.name });
    if (publishing === 'asked') {
      await writeAsked(client, seller.id, asked);
      const values = { who: seller.name, link: `${config.publicUrl}/sellers` };
      await enqueueNotifications(client, services, live.current().rulebook.shop, [
        { event: 'sellerRules.asked', locale: null, values },
      ]);
      return null;
    }
    const number = await publishRules(client, seller.id, { ...asked, allowedBy: null });
    await live.announce(client);
    return number;
  });
  if (published !== null) await live.refresh();
  return published;
}

/** Takes back what was submitted to the owner. */
export async function withdrawAsked({ db, clock }: Services, id: string, by: string): Promise<void> {
  await db.transaction(async (client) => {
    const seller = await locked(client, id);
    await writeAsked(client, seller.id, null);
    await record(client, new Date(clock()), by, 'withdrew a request for approval', { seller: seller.name });
  });
}

/** Lists a seller's products, at most 500, with the names and audiences that their rules can refer to. */
export async function sellersGoods(services: Services, { names }: SellerRow) {
  const { db } = services;
  const spelt = await spellingsOf(db, names);
  const [shop, { rows, total }, vocabulary, audiences] = await Promise.all([
    shopView(db),
    productsOfSellers(db, spelt, MOST_PRODUCTS),
    vocabularyView(services),
    readAudiences(db),
  ]);
  const products = rows.map(toProduct);
  return { shop, products, total, vocabulary: vocabularyOf(products, vocabulary), audiences: shownTo(audiences) };
}

/** Decides for a seller's own products, by their draft and by what is live, for each audience. */
export async function proveDraft(
  { db, live }: Services,
  seller: SellerRow,
  { ids, surface, moment }: { readonly ids: readonly string[]; readonly surface: Surface; readonly moment: number },
) {
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
  return theirs.flatMap((product) =>
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
}

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
/** Replaces the ids of the shop's own rules, which a seller does not see. */
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
  const beyond = beyondAllowance(rules, allowed);
  if (beyond.length === 0) return;
  throw new ProblemError(
    'not-allowed-to-sellers',
    `The shop does not let you decide this. ${beyondWords(beyond).join('; ')}. Change or switch off these rules, or ask the shop.`,
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
    ...(Object.fromEntries(
      NAME_COLUMNS.map((column) => [
        `${column}s`,
        all[`${column}s`].filter(known(products.map((product) => product[column]))),
      ]),
    ) as Pick<Vocabulary, `${NameColumn}s`>),
    attributes: valuesOf(products.map(({ attributes }) => attributes)),
    options: valuesOf(variants.map(({ options }) => options)),
    paymentMethods: [],
  };
}

/** Lists each name with its values among all products. */
function valuesOf(all: readonly Readonly<Record<string, string>>[]): Vocabulary['attributes'] {
  const values = new Map<string, Set<string>>();
  for (const [name, value] of all.flatMap(Object.entries<string>)) {
    const known = values.get(name) ?? new Set();
    values.set(name, known.add(value));
  }
  return [...values].map(([name, found]) => ({ name, values: [...found].sort() }));
}
