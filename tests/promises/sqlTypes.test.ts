import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cloneDatabase } from '../support/databases.ts';
import { statementsOf, type ColumnType, type Statement } from '../support/statements.ts';

/** JavaScript type that the driver returns, by the OID of the column's type. */
const DRIVER_TYPES: Readonly<Record<number, ColumnType>> = {
  16: 'boolean',
  18: 'string',
  19: 'string',
  20: 'number',
  21: 'number',
  23: 'number',
  25: 'string',
  114: 'unknown',
  700: 'number',
  701: 'number',
  1043: 'string',
  1082: 'Date',
  1114: 'Date',
  1184: 'Date',
  1700: 'string',
  2950: 'string',
  3220: 'string',
  3802: 'unknown',
};
const ARRAYS = new Set([1000, 1005, 1007, 1009, 1015, 1016, 1022, 1185, 2951]);

/** Statements whose text only a running server knows. */
const MADE_WHEN_RUN: Readonly<Record<string, string>> = {
  'server/db/database.ts': 'passes on what transactions send',
  'server/db/jobs.ts': 'passes on what the job library sends',
  'server/db/page.ts': 'its callers’ statements are read instead',
  'server/people/personData.ts': 'one text for each table that holds data of people',
  'server/insights/demandQueries.ts': 'put together from the kinds of demand',
};

let client: pg.Client;
beforeAll(async () => {
  client = new pg.Client({ connectionString: await cloneDatabase() });
  await client.connect();
});
afterAll(() => client.end());

interface Described {
  readonly columns: Readonly<Record<string, ColumnType>>;
  readonly error: string | null;
}

/** Parses a statement and describes its result, without running it (PostgreSQL's extended query protocol). */
const described = (text: string): Promise<Described> =>
  new Promise((resolve) => {
    const result = { columns: {} as Record<string, ColumnType>, error: null };
    const describing = {
      name: '',
      submit: (connection: pg.Connection) => {
        connection.parse({ text, name: '', types: [] }, true);
        connection.describe({ type: 'S', name: '' }, true);
        connection.sync();
      },
      handleRowDescription: ({ fields }: { fields: readonly pg.FieldDef[] }) => {
        for (const { name, dataTypeID: oid } of fields)
          result.columns[name] = ARRAYS.has(oid) ? 'array' : (DRIVER_TYPES[oid] ?? 'object');
      },
      // The driver gives a failed query no other news.
      handleError: ({ message }: Error) => {
        resolve({ ...result, error: message });
      },
      handleReadyForQuery: () => {
        resolve(result);
      },
    };
    client.query(describing);
  });

/** Says how a statement's columns differ from its declared row. */
function faultsOf({ place, row }: Statement, { columns, error }: Described): string[] {
  if (error !== null) return [`${place}: ${error}`];
  const names = new Set([...Object.keys(row), ...Object.keys(columns)]);
  return [...names].flatMap((name) => {
    const found = columns[name];
    const declared = row[name];
    if (!declared) return name === 'total' ? [] : [`${place}: “${name}” is not declared`];
    if (found === undefined) return declared.isOptional ? [] : [`${place}: “${name}” is not selected`];
    const isAlike = [declared.type, found].includes('unknown') || declared.type === found;
    return isAlike ? [] : [`${place}: “${name}” is ${found}, declared as ${declared.type}`];
  });
}

describe('rows of statements', () => {
  it('have the columns and types that they are declared with', async () => {
    const statements = statementsOf('server/tsconfig.json');
    // Proves that the search still finds them, wherever they are.
    expect(statements.length).toBeGreaterThan(150);
    const unread = statements.filter(({ texts }) => texts === null).map(({ place }) => place.replace(/:\d+$/, ''));
    expect(unread.sort()).toEqual(Object.keys(MADE_WHEN_RUN).sort());
    const faults: string[] = [];
    for (const statement of statements)
      for (const text of statement.texts ?? []) faults.push(...faultsOf(statement, await described(text)));
    expect(faults).toEqual([]);
  });
});
