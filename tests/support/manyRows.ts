/**
 * Statements that fill every list of the owner's with so many rows, of a thousand products and variants, `p-1` and `v-1` to
 * `p-1000` and `v-1000`.
 */
export function manyRows(rows: number): readonly string[] {
  const many = `generate_series(1, ${rows}) AS n`;
  const product = `(n % 1000) + (SELECT min(id) FROM products)`;
  const variant = `(n % 1000) + (SELECT min(id) FROM variants)`;
  const person = `'person-' || n || '@quillfern.example', 'Person ' || n`;
  return [
    `INSERT INTO products (external_id, title, path)
     SELECT 'p-' || n, to_json('Plant ' || n), '/plants/' || n FROM generate_series(1, 1000) AS n`,
    `INSERT INTO variants (external_id, product_id, price) SELECT 'v-' || p.id, p.id, 450 FROM products p ORDER BY p.id`,
    `INSERT INTO customers (external_id, email, name) SELECT 'c-' || n, ${person} FROM ${many}`,
    `INSERT INTO waitlist_entries (product_id, email, name, state, joined_at)
     SELECT ${product}, ${person}, (ARRAY['waiting','left','bought'])[1 + n % 3], now() - n * interval '1 minute' FROM ${many}`,
    `INSERT INTO preorders (variant_id, email, name, units, state, created_at, order_number)
     SELECT ${variant}, ${person}, 1 + n % 5, (ARRAY['reserved','fulfilled'])[1 + n % 2], now() - n * interval '1 minute', 'N-' || n FROM ${many}`,
    `INSERT INTO quotes (email, name, answers, state, created_at, changed_at)
     SELECT ${person}, '[]', (ARRAY['asked','declined'])[1 + n % 2], now(), now() FROM ${many}`,
    `INSERT INTO quote_parts (quote_id) SELECT id FROM quotes`,
    `INSERT INTO quote_lines (quote_id, part_id, variant_id, units)
     SELECT k.quote_id, k.id, (k.quote_id % 1000) + (SELECT min(id) FROM variants), 10 FROM quote_parts k`,
    `INSERT INTO enquiries (form, product_id, email, name, answers, state, created_at, changed_at)
     SELECT 'contact', ${product}, ${person}, '[{"label":"Your question","value":"When?"}]', (ARRAY['open','closed'])[1 + n % 2], now(), now() FROM ${many}`,
    `INSERT INTO messages (event, audience, channel, recipient, subject, text_body, html_body, state, created_at, sent_at)
     SELECT 'waitlist.joined', 'customer', 'email', 'person-' || n || '@quillfern.example', 'You are on the waitlist for Plant ' || n, 'Words', '<p>Words</p>', 'sent', now(), now() FROM ${many}`,
    `INSERT INTO audit (at, who, did, email) SELECT now(), 'Person ' || n % 1000, 'published', 'person-' || n % 1000 || '@quillfern.example' FROM ${many}`,
    `INSERT INTO searched_words (day, words, times, found_none) SELECT '2026-11-25', 'plant ' || n, 2, 1 FROM ${many}`,
    'ANALYZE',
  ];
}
