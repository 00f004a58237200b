import type { Publishing, SellerTerms } from '#core/contract/sellerCalls.ts';
import { CONTROLS } from '#core/controls/controls.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { SELLER_ASPECTS, type SellerAllowance, type SellerRules } from '#core/rulebook/sellers.ts';
import type { Queryable } from '../db/database.ts';

export interface SellerRow {
  readonly id: string;
  readonly name: string;
  readonly names: readonly string[];
  readonly allowed: SellerAllowance | null;
  readonly publishing: Publishing | null;
  readonly live: readonly Rule[];
  readonly draft: readonly Rule[];
  readonly revision: number;
  readonly savedAt: Date;
  readonly savedBy: string | null;
  readonly asked: readonly Rule[] | null;
  readonly askedAt: Date | null;
  readonly askedBy: string | null;
  readonly refusal: string | null;
}

const COLUMNS = `
  s.id, s.name, coalesce((SELECT jsonb_agg(n.name ORDER BY n.name) FROM seller_names n WHERE n.seller_id = s.id), '[]') AS names,
  s.allowed, s.publishing, s.live, s.draft, s.revision, s.saved_at AS "savedAt", s.saved_by AS "savedBy", s.asked,
  s.asked_at AS "askedAt", s.asked_by AS "askedBy", s.refusal`;

/** All sellers, by name. */
export const allSellers = async (db: Queryable): Promise<SellerRow[]> =>
  (await db.query<SellerRow>(`SELECT ${COLUMNS} FROM sellers s ORDER BY lower(s.name), s.id`)).rows;

export async function sellerById(db: Queryable, id: string): Promise<SellerRow | null> {
  return (await db.query<SellerRow>(`SELECT ${COLUMNS} FROM sellers s WHERE s.id = $1`, [id])).rows[0] ?? null;
}

/** The same, locked until the transaction ends. */
export async function lockSeller(db: Queryable, id: string): Promise<SellerRow | null> {
  await db.query('SELECT 1 FROM sellers WHERE id = $1 FOR UPDATE', [id]);
  return sellerById(db, id);
}

/** Before the owner says anything, sellers may take pre-orders, lists and questions, and are asked about. */
const DEFAULT_TERMS: SellerTerms = {
  allowed: {
    kinds: CONTROLS.filter(({ isShopOnly }) => !isShopOnly).map(({ kind }) => kind),
    aspects: SELLER_ASPECTS.filter((aspect) => aspect === 'notes' || aspect === 'limits' || aspect === 'afterOrder'),
    hidesPrices: false,
    ownWords: true,
    mostUnits: null,
  },
  publishing: 'asked',
  copies: true,
  quotes: 'together',
};

/** Terms for all sellers. */
export async function sellerTerms(db: Queryable): Promise<SellerTerms> {
  return (
    (await db.query<SellerTerms>('SELECT allowed, publishing, copies, quotes FROM seller_defaults')).rows[0] ??
    DEFAULT_TERMS
  );
}

const WITH_PEOPLE = `
  SELECT DISTINCT seller_id AS id FROM staff WHERE password_hash IS NOT NULL AND seller_id = ANY($1)`;

/** Finds which of these sellers have people who signed in. */
export const sellersWithPeople = async (db: Queryable, ids: readonly string[]): Promise<string[]> =>
  (await db.query<{ id: string }>(WITH_PEOPLE, [ids])).rows.map(({ id }) => id);

/** A seller with their live rules and name. */
export type NamedSeller = SellerRules & { readonly name: string };

/** The rules of all sellers that count, as `compile` takes them. */
export async function liveSellers(db: Queryable): Promise<NamedSeller[]> {
  const [sellers, { allowed: all }] = await Promise.all([allSellers(db), sellerTerms(db)]);
  return sellers.map(({ id, name, names, allowed, live }) => ({
    id,
    name,
    names,
    allowed: allowed ?? all,
    rules: live,
  }));
}
