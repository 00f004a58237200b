import pg from 'pg';
import { cloneDatabase } from '#tests/support/databases.ts';
import { startUnderstudy } from '#tests/support/programs.ts';
import { asOwner } from './asking.ts';
import { addSellers, fillIn, PRODUCTS, SELLERS } from './bigShop.ts';

/** Measures finding goods among 300,000 variants, at the server: each question asked for the first time, and again. Needs TEST_PG_URL. */
const ROUNDS = 9;

const databaseUrl = await cloneDatabase();
const understudy = await startUnderstudy(databaseUrl);
process.on('uncaughtException', (error) => {
  console.error(error);
  void understudy.stop('SIGKILL').finally(() => process.exit(1));
});
const db = new pg.Client({ connectionString: databaseUrl });
await db.connect();
await fillIn(understudy.url, db);

const find = async (body: object) => {
  const begun = performance.now();
  await asOwner(understudy.url, 'POST', '/api/products/find', body);
  return performance.now() - begun;
};
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
const ms = (value: number) => `${value.toFixed(0)} ms`;

const tagged = { fact: 'product.tags', op: 'hasAny', value: ['plug'] };
const priced = (value: number) => ({ fact: 'variant.price', op: 'gte', value });
/** Each is asked of other values every time, so that no answer is there already. */
const QUESTIONS: Readonly<Record<string, (round: number) => object>> = {
  'everything, a page far on': (round) => ({ skip: 40_000 + 50 * round }),
  'by a price and a tag': (round) => ({ where: { all: [tagged, priced(400 + round)] } }),
  'by stock, none of a tag': (round) => ({
    where: { all: [{ fact: 'stock.quantity', op: 'lt', value: 1500 + round }, { none: [tagged] }] },
  }),
  'by words': (round) => ({ search: `plant ${771 + round}` }),
  'put in order by price': (round) => ({ sort: 'price', skip: round }),
  'decided by a rule': (round) => ({ decidedBy: 'surplus', at: `2027-01-01T00:${String(round).padStart(2, '0')}:00Z` }),
  'shown a pre-order, to guests': (round) => ({
    shown: { kind: 'preorder', audience: 'Guest' },
    at: `2027-01-01T00:${String(round).padStart(2, '0')}:00Z`,
  }),
};
console.log(`The catalog is read, and its columns made: ${ms(await find({}))}. ${PRODUCTS} products.`);
const askAll = async (questions: typeof QUESTIONS, from: number) => {
  for (const [name, question] of Object.entries(questions)) {
    const first = await find(question(from));
    const times: number[] = [];
    for (let round = from + 1; round < from + ROUNDS; round++) times.push(await find(question(round)));
    console.log(`| ${name} | ${ms(first)} | ${ms(median(times))} |`);
  }
};
console.log('| asked, among 300,000 variants | first | then, median |\n| --- | --- | --- |');
await askAll(QUESTIONS, 0);
await asOwner(understudy.url, 'PUT', '/api/stock', [{ variantId: 'v-1-1', quantity: 7 }]);
console.log(`After one stock was changed, asked for all that counts now: ${ms(await find({ settled: true }))}.`);
const tagAll = { goods: { filter: {} }, changes: { addTags: ['spring sale'] } };
const begun = performance.now();
const { id } = (await asOwner(understudy.url, 'POST', '/api/products/fact-changes', tagAll)) as { id: number };
const written = performance.now();
const LEFT = 'SELECT count(*) AS left FROM fact_change_products WHERE change_id = $1 AND NOT is_done';
while (Number((await db.query<{ left: string }>(LEFT, [id])).rows[0]?.left) > 0);
const seconds = (ms: number) => `${(ms / 1000).toFixed(1)} s`;
console.log(
  `${PRODUCTS} products were tagged: written down in ${seconds(written - begun)}, done after ${seconds(performance.now() - begun)}.`,
);
await addSellers(understudy.url, db);
console.log(
  `With ${SELLERS} sellers of five rules each, the catalog is read again: ${ms(await find({ settled: true }))}.`,
);
await askAll(
  {
    ...QUESTIONS,
    'decided by a rule of a seller’s': (round) => ({ decidedBy: `sellers/grower-${round}/plugs`, source: 'live' }),
  },
  1 + ROUNDS,
);
await db.end();
await understudy.stop();
