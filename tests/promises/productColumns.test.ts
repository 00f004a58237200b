import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PRODUCT_COLUMNS } from '#core/model/productColumns.ts';
import { cloneDatabase } from '../support/databases.ts';

/** SQL type of each declared type. */
const SQL_TYPES = { name: 'text', wholeNumber: 'integer' } as const;

/** Columns of products with code of their own: a key, lists, texts by language, edits made here, and bookkeeping. */
const OTHERS = [
  'id',
  'external_id',
  'title',
  'path',
  'path_key',
  'file_tags',
  'file_attributes',
  'file_dates',
  'image',
  'revision',
  'archived_at',
  'written',
  'own',
  'tags',
  'attributes',
  'dates',
];

let client: pg.Client;
beforeAll(async () => {
  client = new pg.Client({ connectionString: await cloneDatabase() });
  await client.connect();
});
afterAll(() => client.end());

describe('columns of products', () => {
  it('are each declared, with their type, or have code of their own', async () => {
    const { rows } = await client.query<{ name: string; type: string; nullable: string }>(
      `SELECT column_name AS name, data_type AS type, is_nullable AS nullable
       FROM information_schema.columns WHERE table_name = 'products' ORDER BY ordinal_position`,
    );
    const declared = Object.entries(PRODUCT_COLUMNS).map(([name, { type }]) => ({
      name,
      type: SQL_TYPES[type],
      nullable: 'YES',
    }));
    const others = rows.filter(({ name }) => OTHERS.includes(name));
    expect(others.map(({ name }) => name)).toEqual(OTHERS);
    const found = rows.filter((row) => !others.includes(row));
    const byName = (a: { name: string }, b: { name: string }) => (a.name < b.name ? -1 : 1);
    expect(found.sort(byName)).toEqual(declared.sort(byName));
  });
});
