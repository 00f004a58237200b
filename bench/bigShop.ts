import type pg from 'pg';
import { demoRulebook } from '#tests/support/demo.ts';
import { asOwner, setUp } from './asking.ts';

export const PRODUCTS = 100_000;

export const SELLERS = 2000;

/** Five rules of a seller's, some about a number and a day that no other names. */
const WISHES = `jsonb_build_array(
  jsonb_build_object('id', 'plugs', 'on', true, 'when', jsonb_build_object('fact', 'product.tags', 'op', 'hasAny', 'value', jsonb_build_array('plug')),
    'then', jsonb_build_object('control', jsonb_build_object('kind', 'waitlist', 'per', 'variant'))),
  jsonb_build_object('id', 'few', 'on', true, 'when', jsonb_build_object('fact', 'stock.quantity', 'op', 'lt', 'value', 500 + n),
    'then', jsonb_build_object('control', jsonb_build_object('kind', 'quote'))),
  jsonb_build_object('id', 'until', 'on', true, 'when', jsonb_build_object('all', jsonb_build_array(
      jsonb_build_object('fact', 'product', 'op', 'every', 'value', true),
      jsonb_build_object('fact', 'moment', 'op', 'between', 'value', jsonb_build_object('until', (date '2027-01-01' + (n % 400)::int)::text)))),
    'then', jsonb_build_object('notes', jsonb_build_array(jsonb_build_object('place', 'badge', 'text', 'Ours')))),
  jsonb_build_object('id', 'members', 'on', true, 'when', jsonb_build_object('all', jsonb_build_array(
      jsonb_build_object('fact', 'product.tags', 'op', 'hasAny', 'value', jsonb_build_array('surplus')),
      jsonb_build_object('fact', 'visitor.roles', 'op', 'hasAny', 'value', jsonb_build_array('member')))),
    'then', jsonb_build_object('limits', jsonb_build_object('max', 1 + n % 9))),
  jsonb_build_object('id', 'dear', 'on', true, 'when', jsonb_build_object('fact', 'variant.price', 'op', 'gte', 'value', 452),
    'then', jsonb_build_object('afterOrder', jsonb_build_object('text', 'Thank you'))))`;

/** Has everything sold by one of many sellers, who decide about it below the owner's first rules. */
export async function addSellers(url: string, db: pg.Client): Promise<void> {
  for (const sql of [
    `UPDATE products SET seller = 'Grower ' || id % ${SELLERS}`,
    `INSERT INTO sellers (id, name, saved_at, live) SELECT 'grower-' || n, 'Grower ' || n, now(), ${WISHES} FROM generate_series(0, ${SELLERS - 1}) AS n`,
    `INSERT INTO seller_names (key, name, seller_id) SELECT lower(name), name, id FROM sellers`,
    'ANALYZE',
  ])
    await db.query(sql);
  const rulebook = demoRulebook(new Date());
  const rules = rulebook.rules.toSpliced(8, 0, { id: 'growers', sellers: true, on: true });
  await asOwner(url, 'PUT', '/api/rulebook', { ...rulebook, rules });
  await asOwner(url, 'POST', '/api/editions', {});
}

export async function fillIn(url: string, db: pg.Client): Promise<void> {
  await setUp(url);
  for (const sql of [
    `INSERT INTO products (external_id, title, path, path_key, file_tags)
     SELECT 'p-' || n, to_json('Plant ' || n), '/plants/' || n, '/plants/' || n,
       ARRAY[(ARRAY['ships-spring','plug','surplus','bare root','cut flower'])[1 + n % 5]]
     FROM generate_series(1, ${PRODUCTS}) AS n`,
    `INSERT INTO variants (external_id, product_id, price, stock_tracked, stock_quantity)
     SELECT 'v-' || p.id || '-' || n, p.id, 450 + n, true, 1000 * n FROM products p, generate_series(1, 3) AS n`,
    `INSERT INTO customers (external_id) SELECT 'c-' || n FROM generate_series(1, 10000) AS n`,
    `INSERT INTO customer_roles (customer_id, role) SELECT id, 'Trade' FROM customers WHERE id % 3 = 0`,
    'ANALYZE',
  ])
    await db.query(sql);
  await asOwner(url, 'PUT', '/api/rulebook', demoRulebook(new Date()));
  await asOwner(url, 'POST', '/api/editions', {});
}
