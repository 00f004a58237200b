import type pg from 'pg';
import { demoRulebook } from '#tests/support/demo.ts';
import { asOwner, setUp } from './asking.ts';

export const PRODUCTS = 100_000;

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
