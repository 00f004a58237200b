import type { Vocabulary } from '#core/contract/shopCalls.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import { NAME_COLUMNS, type NameColumn } from '#core/model/productColumns.ts';
import type { ShopTexts } from '#core/model/subject.ts';
import type { Queryable } from '../db/database.ts';

export interface ShopRow {
  name: string;
  zone: string;
  locales: string[];
  currency: string;
  exponent: number;
  visitorSecrets: string[];
  pageMap: PageMap | null;
  /** The owner's own, by locale and key. */
  texts: ShopTexts;
  /** Details as stored; see `detailsOf`. */
  details: unknown;
}

const SHOP = `
  SELECT name, zone, locales, currency, exponent, details,
    visitor_secrets AS "visitorSecrets",
    (SELECT coalesce(json_object_agg(locale, texts), '{}')
     FROM (SELECT locale, json_object_agg(key, text) AS texts FROM shop_texts GROUP BY locale) t) AS texts,
    (SELECT map FROM page_maps WHERE published_at IS NOT NULL ORDER BY published_at DESC, id DESC LIMIT 1) AS "pageMap"
  FROM shop`;

export async function readShop(db: Queryable): Promise<ShopRow | null> {
  const { rows } = await db.query<ShopRow>(SHOP);
  return rows[0] ?? null;
}

const CREATE_SHOP = `
  INSERT INTO shop (name, zone, locales, currency, exponent, visitor_secrets)
  VALUES ($1, $2, $3, $4, $5, ARRAY[$6]) ON CONFLICT DO NOTHING`;

/** @returns false if the shop exists already */
export async function createShop(
  db: Queryable,
  shop: Omit<ShopRow, 'visitorSecrets' | 'pageMap' | 'texts' | 'details'> & { visitorSecret: string },
): Promise<boolean> {
  const { name, zone, locales, currency, exponent, visitorSecret } = shop;
  const values = [name, zone, locales, currency, exponent, visitorSecret];
  const { rowCount } = await db.query(CREATE_SHOP, values);
  return rowCount === 1;
}

/** Changes the shop's settings. */
export async function writeSettings(
  db: Queryable,
  { name, zone, locales, currency, exponent }: Pick<ShopRow, 'name' | 'zone' | 'locales' | 'currency' | 'exponent'>,
): Promise<void> {
  const write = 'UPDATE shop SET name = $1, zone = $2, locales = $3, currency = $4, exponent = $5';
  await db.query(write, [name, zone, locales, currency, exponent]);
}

const WRITE_TEXT = `
  INSERT INTO shop_texts (key, locale, text) VALUES ($1, $2, $3)
  ON CONFLICT (key, locale) DO UPDATE SET text = excluded.text`;

/** Writes one of the owner's texts in a locale; null takes it away, so that ours stands again. */
export async function writeText(db: Queryable, key: string, locale: string, text: string | null): Promise<void> {
  if (text === null) await db.query('DELETE FROM shop_texts WHERE key = $1 AND locale = $2', [key, locale]);
  else await db.query(WRITE_TEXT, [key, locale, text]);
}

/** The codes of all roles that anybody has. */
export async function rolesThereAre(db: Queryable): Promise<string[]> {
  const { rows } = await db.query<{ role: string }>('SELECT DISTINCT role FROM customer_roles');
  return rows.map(({ role }) => role);
}

/** Counts products by the values of a column. */
const counted = (column: NameColumn) => `
    (SELECT coalesce(json_agg(json_build_object('name', v.name, 'count', v.count) ORDER BY v.count DESC, v.name), '[]')
     FROM (SELECT ${column} AS name, count(*)::int FROM products
           WHERE archived_at IS NULL AND ${column} IS NOT NULL GROUP BY ${column}) v) AS ${column}s`;

/** The names in a column of name=value pairs, with the values that each has. */
const valued = (table: 'products' | 'variants', column: 'attributes' | 'options') => `
    (SELECT coalesce(json_agg(json_build_object('name', n.name, 'values', n.values) ORDER BY n.name), '[]')
     FROM (SELECT key AS name, json_agg(value ORDER BY value) AS values
           FROM (SELECT DISTINCT key, value
                 FROM (SELECT DISTINCT ${column} AS pairs FROM ${table} WHERE archived_at IS NULL) d,
                   jsonb_each_text(pairs)) v
           GROUP BY key) n) AS ${column}`;

const VOCABULARY = `
  SELECT ${NAME_COLUMNS.map(counted).join(',')},
    ${valued('products', 'attributes')}, ${valued('variants', 'options')},
    (SELECT coalesce(json_agg(json_build_object('name', t.name, 'count', t.count) ORDER BY t.count DESC, t.name), '[]')
     FROM (SELECT tag AS name, count(*)::int FROM products, unnest(tags) AS tag
           WHERE archived_at IS NULL GROUP BY tag) t) AS tags,
    (SELECT coalesce(json_agg(json_build_object('name', r.role, 'count', r.count) ORDER BY r.count DESC, r.role), '[]')
     FROM (SELECT role, count(DISTINCT customer_id)::int FROM customer_roles
           JOIN customers c ON c.id = customer_id AND c.archived_at IS NULL GROUP BY role) r) AS roles,
    (SELECT coalesce(json_agg(json_build_object('name', d.name, 'count', d.count) ORDER BY d.count DESC, d.name), '[]')
     FROM (SELECT key AS name, count(*)::int FROM products, jsonb_object_keys(dates) AS key
           WHERE archived_at IS NULL GROUP BY key) d) AS dates,
    (WITH RECURSIVE tree AS (
       SELECT id, external_id, ARRAY[name] AS names, ARRAY[id] AS line FROM categories WHERE parent_id IS NULL
       UNION ALL
       SELECT c.id, c.external_id, tree.names || c.name, tree.line || c.id
       FROM categories c JOIN tree ON tree.id = c.parent_id),
     counted AS (
       SELECT above AS id, count(DISTINCT pc.product_id)::int AS count
       FROM tree JOIN product_categories pc ON pc.category_id = tree.id
         JOIN products p ON p.id = pc.product_id AND p.archived_at IS NULL
         CROSS JOIN unnest(tree.line) AS above
       GROUP BY above)
     SELECT coalesce(json_agg(json_build_object(
       'id', external_id, 'names', names, 'count', coalesce(counted.count, 0)) ORDER BY names), '[]')
     FROM tree LEFT JOIN counted USING (id)) AS categories`;

export interface Counted {
  readonly name: string;
  readonly count: number;
}
type VocabularyRow = Omit<Vocabulary, 'roles' | 'dates' | 'paymentMethods'> & {
  readonly roles: readonly Counted[];
  readonly dates: readonly Counted[];
};

/** The names that rules can speak of, with how many products or people have them. */
export async function readVocabulary(db: Queryable): Promise<VocabularyRow> {
  const { rows } = await db.query<VocabularyRow>(VOCABULARY);
  const [row] = rows;
  if (!row) throw new Error('the vocabulary did not come back');
  return row;
}
