/**
 * Statements that fill every list that grows with a shop. Lists that colleagues fill by hand, and sellers, have at most
 * 2,000 rows; products and variants are `p-1` and `v-1` to `p-1000` and `v-1000`.
 */
export function manyRows(rows: number): readonly string[] {
  const many = `generate_series(1, ${rows}) AS n`;
  const product = `(n % 1000) + (SELECT min(id) FROM products)`;
  const variant = `(n % 1000) + (SELECT min(id) FROM variants)`;
  const day = 'current_date - 1 - n / 2000';
  const people = `generate_series(1, ${Math.min(rows, 2000)}) AS n`;
  const person = `'person-' || n || '@quillfern.example', 'Person ' || n`;
  return [
    `INSERT INTO products (external_id, title, path, path_key)
     SELECT 'p-' || n, to_json('Plant ' || n), '/plants/' || n, '/plants/' || n FROM generate_series(1, 1000) AS n`,
    `INSERT INTO variants (external_id, product_id, price) SELECT 'v-' || p.id, p.id, 450 FROM products p ORDER BY p.id`,
    `INSERT INTO customers (external_id, email, name) SELECT 'person-' || n, ${person} FROM ${many}`,
    `INSERT INTO waitlist_entries (product_id, email, name, state, joined_at)
     SELECT ${product}, ${person}, (ARRAY['waiting','left','bought'])[1 + n % 3], now() - n * interval '1 minute' FROM ${many}`,
    `INSERT INTO preorders (variant_id, email, name, units, state, created_at, order_number)
     SELECT ${variant}, ${person}, 1 + n % 5, (ARRAY['reserved','fulfilled'])[1 + n % 2], now() - n * interval '1 minute', 'N-' || n FROM ${many}`,
    `INSERT INTO quotes (email, name, answers, state, created_at, changed_at)
     SELECT ${person}, '[]', (ARRAY['asked','declined'])[1 + n % 2], now(), now() FROM ${many}`,
    `INSERT INTO quote_parts (quote_id) SELECT id FROM quotes WHERE email LIKE 'person-%'`,
    `INSERT INTO quote_lines (quote_id, part_id, variant_id, units)
     SELECT k.quote_id, k.id, (k.quote_id % 1000) + (SELECT min(id) FROM variants), 10
     FROM quote_parts k JOIN quotes q ON q.id = k.quote_id WHERE q.email LIKE 'person-%'`,
    `INSERT INTO enquiries (form, product_id, email, name, answers, state, created_at, changed_at)
     SELECT 'contact', ${product}, ${person}, '[{"label":"Your question","value":"When?"}]', (ARRAY['open','closed'])[1 + n % 2], now(), now() FROM ${many}`,
    `INSERT INTO messages (event, audience, channel, recipient, subject, text_body, html_body, state, created_at, sent_at)
     SELECT 'waitlist.joined', 'customer', 'email', 'person-' || n || '@quillfern.example', 'You are on the waitlist for Plant ' || n, 'Words', '<p>Words</p>', 'sent', now(), now() FROM ${many}`,
    `INSERT INTO audit (at, who, did, email) SELECT now(), 'Person ' || n % 1000, 'published', 'person-' || n % 1000 || '@quillfern.example' FROM ${many}`,
    `INSERT INTO searched_words (day, words, times, found_none) SELECT '2026-11-25', 'plant ' || n, 2, 1 FROM ${many}`,
    `INSERT INTO imports (target, mode, bad_rows, state, row_count, created_at)
     SELECT 'catalog', 'merge', 'skip', 'cancelled', 10, now() - n * interval '1 minute' FROM ${many}`,
    `INSERT INTO fact_changes (made_at, made_by, changes) SELECT now(), 'Person ' || n % 1000, '[]' FROM ${many}`,
    `INSERT INTO page_map_misses (path, part, browser, last_at) SELECT '/plants/' || n, 'price', 'Firefox', now() FROM ${many}`,
    `INSERT INTO product_days (rule, control, product_id, variant_id, day, seen, pressed, finished, refused)
     SELECT 'rule-' || n % 2000, 'waitlist', ${product}, 0, ${day}, 9, 5, 2, 1 FROM ${many} ON CONFLICT DO NOTHING`,
    `INSERT INTO rule_days (day, rule, control, audience, surface, seen, pressed, finished, refused)
     SELECT ${day}, 'rule-' || n % 2000, 'waitlist', 'guest', 'product', 9, 5, 2, 1 FROM ${many} ON CONFLICT DO NOTHING`,
    `INSERT INTO staff (name, email, role) SELECT 'Person ' || n, 'person-' || n || '@quillfern.example', 'viewer' FROM ${people}`,
    `INSERT INTO program_keys (name, scopes, key_hash, ending, made_by, made_at)
     SELECT 'Key ' || n, '{}', decode(md5(n::text), 'hex'), 'abcd', 'Person 1', now() FROM ${people}`,
    `INSERT INTO sellers (id, name, saved_at) SELECT 'seller-' || n, 'Seller ' || n, now() FROM ${people}`,
    `INSERT INTO seller_names (key, name, seller_id) SELECT 'seller ' || n, 'Seller ' || n, 'seller-' || n FROM ${people}`,
    `INSERT INTO editions (number, document, published_at, published_by)
     SELECT e.number + n, e.document, now(), 'Person 1'
     FROM (SELECT number, document FROM editions ORDER BY number DESC LIMIT 1) e, ${people}`,
    'ANALYZE',
  ];
}
