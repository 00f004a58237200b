import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { CALLS } from '#core/contract/calls.ts';
import { MOST_INT } from '#core/contract/scalars.ts';
import { startShop, type TestServer } from '../support/testServer.ts';

/**
 * Every number that a call takes beyond what an `integer` column holds, and where it goes: a bigint column, or nowhere. A
 * new one that is in neither list is a number that the database may refuse.
 */
const KEPT_IN: Readonly<Record<string, string>> = {
  after: 'audit.id',
  id: 'staff.id',
  opening: 'openings.id',
  reading: 'import_readings.id',
};
const NOT_KEPT: Readonly<Record<string, string>> = {
  found: 'only whether it is none is counted',
  value: 'compared in memory, by rules',
  quantity: 'refused by the guard unless it is a quantity',
  unitPrice: 'compared by the guard, and replaced by the price it names',
  version: 'a literal',
  amount: 'kept in rules, as JSON',
  fixed: 'kept in rules, as JSON',
  min: 'kept in rules, as JSON',
  suggested: 'kept in rules, as JSON',
  units: 'a cap, kept in rules, as JSON; units of orders are `Units`',
  '': 'a cell of a file, read by the import',
};

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
});
afterAll(() => server.stop());

interface Schema {
  readonly $ref?: string;
  readonly type?: string;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly prefixItems?: readonly Schema[];
  readonly items?: Schema | boolean;
  readonly additionalProperties?: Schema | boolean;
  readonly $defs?: Readonly<Record<string, Schema>>;
}

/** The names of numbers that may be larger or smaller than an `integer` column holds. */
function* large(
  schema: Schema,
  defs: Readonly<Record<string, Schema>>,
  name: string,
  inside: readonly string[],
): Generator<string> {
  const { $ref, type, minimum = -Infinity, maximum = Infinity } = schema;
  if ($ref !== undefined) {
    const target = $ref.replace('#/$defs/', '');
    if (!inside.includes(target)) yield* large(defs[target] ?? {}, defs, name, [...inside, target]);
    return;
  }
  if ((type === 'integer' || type === 'number') && (maximum > MOST_INT || minimum < -MOST_INT)) yield name;
  for (const [key, value] of Object.entries(schema.properties ?? {})) yield* large(value, defs, key, inside);
  for (const some of [schema.anyOf, schema.oneOf, schema.allOf, schema.prefixItems])
    for (const value of some ?? []) yield* large(value, defs, name, inside);
  for (const value of [schema.items, schema.additionalProperties])
    if (typeof value === 'object') yield* large(value, defs, name, inside);
}

it('every number that a call takes fits the column that keeps it', async () => {
  const names = new Set<string>();
  for (const call of CALLS)
    for (const part of ['body', 'query', 'params'] as const) {
      const schema = part in call ? (call as unknown as Readonly<Record<string, unknown>>)[part] : undefined;
      if (!(schema instanceof z.ZodType)) continue;
      const json = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any', reused: 'ref' }) as Schema;
      for (const name of large(json, json.$defs ?? {}, '', [])) names.add(name);
    }
  expect([...names].sort()).toEqual([...Object.keys(KEPT_IN), ...Object.keys(NOT_KEPT)].sort());
  const columns = `SELECT table_name || '.' || column_name AS column FROM information_schema.columns
    WHERE table_schema = 'public' AND data_type = 'bigint'`;
  const { rows } = await server.db.query<{ column: string }>(columns);
  expect(rows.map(({ column }) => column)).toEqual(expect.arrayContaining(Object.values(KEPT_IN)));
});
