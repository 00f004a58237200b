import { cpSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { expect, it } from 'vitest';
import { migrate } from '../../server/db/migrate.ts';
import { cloneDatabase } from '../support/databases.ts';

const MIGRATIONS = 'server/db/migrations';

/** A database as an earlier version left it, brought to the newest schema once `fill` has put something into it. */
async function upgraded(last: string, fill: string): Promise<pg.Client> {
  const folder = mkdtempSync(join(tmpdir(), 'understudy-migrations-'));
  for (const file of readdirSync(MIGRATIONS).filter((file) => file <= `${last}~`))
    cpSync(join(MIGRATIONS, file), join(folder, file));
  const url = await cloneDatabase('template1');
  await migrate(url, folder);
  rmSync(folder, { recursive: true });
  const db = new pg.Client({ connectionString: url });
  await db.connect();
  await db.query(fill);
  await migrate(url);
  return db;
}

it('a database from before 0012 keeps its threads, and when a page map was last reported broken', async () => {
  const db = await upgraded(
    '0011',
    `INSERT INTO enquiries (form, email, state, answers, created_at, changed_at)
       VALUES ('contact', 'wren@quillfern.example', 'open', '[]', now(), now());
     INSERT INTO said (enquiry_id, by_owner, words, at) SELECT id, true, 'On Friday.', now() FROM enquiries;
     INSERT INTO page_maps (saved_at, saved_by, map, told_at) VALUES (now(), 'Olive', '{}', '2026-11-01T10:00:00Z')`,
  );
  expect((await db.query('SELECT words, by_owner FROM thread_messages')).rows).toEqual([
    { words: 'On Friday.', by_owner: true },
  ]);
  expect((await db.query('SELECT notified_at FROM page_maps')).rows).toEqual([
    { notified_at: new Date('2026-11-01T10:00:00Z') },
  ]);
  await db.end();
});

it('a database from before 0013 keeps the owner’s label of the link to a product’s page', async () => {
  const shop = (label: string) => `
    INSERT INTO shop (name, zone, locales, currency, exponent, choose_label, visitor_secrets)
    VALUES ('Quillfern', 'Europe/Lisbon', ARRAY['en', 'fr'], 'EUR', 2, '${label}', ARRAY['secret'])`;
  const kept = async (label: string) => {
    const db = await upgraded('0012', shop(label));
    const { rows } = await db.query<object>('SELECT key, locale, text FROM shop_texts ORDER BY locale');
    await db.end();
    return rows;
  };
  expect(await kept('"Look closer"')).toEqual([{ key: 'label.choose', locale: 'en', text: 'Look closer' }]);
  expect(await kept('{"en": "Look closer", "fr": "Voir les tailles et les prix"}')).toHaveLength(1);
});

it('a database from before 0030 keeps what was counted, by hour, day and product', async () => {
  const row = (event: string, hour: string, count: number) =>
    `('2026-11-24T${hour}:00:00Z', '${event}', 3, 'reserve', 'preorder', 'Guest', 'product', ${count})`;
  const goods = (event: string, hour: string, count: number) =>
    `('2026-11-24T${hour}:00:00Z', '${event}', 'reserve', 'preorder', 7, 0, ${count})`;
  const db = await upgraded(
    '0029',
    `INSERT INTO shop (name, zone, locales, currency, exponent, visitor_secrets)
     VALUES ('Quillfern', 'Pacific/Auckland', ARRAY['en'], 'EUR', 2, ARRAY['secret']);
     SELECT make_count_months('2026-11-01', '2026-12-01');
     INSERT INTO rule_counts (hour, event, edition, rule, control, audience, surface, count)
     VALUES ${row('seen', '09', 4)}, ${row('pressed', '09', 1)}, ${row('seen', '12', 2)};
     INSERT INTO product_counts (hour, event, rule, control, product_id, variant_id, count)
     VALUES ${goods('seen', '09', 4)}, ${goods('pressed', '09', 1)}, ${goods('seen', '12', 2)}`,
  );
  const counts = async (sql: string) => (await db.query<unknown[]>({ text: sql, rowMode: 'array' })).rows;
  expect(await counts('SELECT seen::int, pressed::int, edition FROM rule_counts ORDER BY hour')).toEqual([
    [4, 1, 3],
    [2, 0, 3],
  ]);
  // In New Zealand it was the next day at noon of UTC.
  const days = [
    ['2026-11-24', 4, 1],
    ['2026-11-25', 2, 0],
  ];
  expect(await counts('SELECT day::text, seen::int, pressed::int FROM rule_days ORDER BY day')).toEqual(days);
  expect(await counts('SELECT day::text, seen::int, pressed::int FROM product_days ORDER BY day')).toEqual(days);
  await db.query("SELECT make_count_months('2026-11-01', '2026-12-01')");
  await db.end();
});
