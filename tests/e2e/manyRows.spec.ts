import pg from 'pg';
import { manyRows } from '../support/manyRows.ts';
import { sampled } from '../support/sampling.ts';
import { onEachScreen, SCREENS } from '../support/screens.ts';
import { expect, test } from '../support/stage.ts';

/** Screens must stay light however much a shop has: with 200,000 rows in every list, none has more than 2,000 elements. */
const ROWS = sampled(200_000, 20);
const MOST_ELEMENTS = 2000;

test.use({ opensAt: null });

test(`no screen grows with ${ROWS} rows in each list, and links to the oldest open it`, async ({ owner, stage }) => {
  const db = new pg.Client({ connectionString: stage.databaseUrl });
  await db.connect();
  const { rows } = await db.query<{ address: string; title: string }>(`
    SELECT '/quotes?quote=' || min(id) AS address, 'Quotes' AS title FROM quotes
    UNION SELECT '/enquiries?enquiry=' || min(id), 'Enquiries' FROM enquiries
    UNION SELECT '/messages?message=' || min(id), 'Messages' FROM messages`);
  const oldest = rows.map(({ address, title }) => [address, title] as const);
  const shown = () => owner.getByRole('main').getByRole('heading', { level: 2 }).first().innerText();
  const shownBefore = new Map<string, string>();
  await owner.goto(`${stage.understudy.url}/today`);
  await onEachScreen(owner, oldest, async (address) => {
    shownBefore.set(address, await shown());
  });
  for (const sql of manyRows(ROWS)) await db.query(sql);
  await db.end();
  await owner.goto(`${stage.understudy.url}/today`);
  await onEachScreen(owner, oldest, async (address) => {
    expect(await shown(), address).toBe(shownBefore.get(address));
  });
  const heavy: string[] = [];
  await onEachScreen(owner, SCREENS, async (address) => {
    const elements = await owner.locator('*').count();
    if (elements > MOST_ELEMENTS) heavy.push(`${address}: ${elements}`);
  });
  expect(heavy).toEqual([]);
});
