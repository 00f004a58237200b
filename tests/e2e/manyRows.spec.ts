import pg from 'pg';
import { manyRows } from '../support/manyRows.ts';
import { sampled } from '../support/sampling.ts';
import { onEachScreen, SCREENS } from '../support/screens.ts';
import { expect, test } from '../support/stage.ts';

/** Screens must stay light however much a shop has: with 200,000 rows in every list, none has more than 2,000 elements. */
const ROWS = sampled(200_000, 20);
const MOST_ELEMENTS = 2000;

test.use({ opensAt: null });

test(`no screen grows with ${ROWS} rows in each list`, async ({ owner, stage }) => {
  const db = new pg.Client({ connectionString: stage.databaseUrl });
  await db.connect();
  for (const sql of manyRows(ROWS)) await db.query(sql);
  await db.end();
  await owner.goto(`${stage.understudy.url}/today`);
  const heavy: string[] = [];
  await onEachScreen(owner, SCREENS, async (address) => {
    const elements = await owner.locator('*').count();
    if (elements > MOST_ELEMENTS) heavy.push(`${address}: ${elements}`);
  });
  expect(heavy).toEqual([]);
});
