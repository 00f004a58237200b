import { controlOf } from '#core/controls/controls.ts';
import { isRule } from '#core/rulebook/entries.ts';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isDeepStrictEqual } from 'node:util';
import type { MapVersion } from '#core/contract/pageMapCalls.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { Connection } from '#core/contract/shopCalls.ts';
import type { Edition } from '#core/contract/rulebookCalls.ts';
import type { ImportReport } from '#core/contract/importCalls.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { ownerOf } from './ownerClient.ts';
import { laidAround } from './dates.ts';
import { fillGrowers, withGrowers } from './growers.ts';
import { generatedGoods, generatedPeople } from './generator.ts';
import { fillPast, type PastEdition } from './past.ts';
import { connectWays } from './ways.ts';
import { fillPreorders, fillQuestions, fillWaitlists, fillWholeRange } from './serving.ts';

/**
 * Fills an empty installation with the nursery, by the same calls that an owner makes, and writes what the sample shop
 * knows of itself into DEMO_DATA. Run again, it changes nothing.
 */
const {
  UNDERSTUDY_URL,
  UNDERSTUDY_SETUP_TOKEN,
  DEMO_DATA,
  SHOP_URL = '',
  SIMULATORS_URL,
  SHOP_DRESSING = 'forms',
  DEMO_RANGE,
  DATABASE_URL,
} = process.env;
if (!UNDERSTUDY_URL || !UNDERSTUDY_SETUP_TOKEN || !DEMO_DATA) {
  throw new Error('UNDERSTUDY_URL, UNDERSTUDY_SETUP_TOKEN and DEMO_DATA must be set');
}
const data = fileURLToPath(new URL('./data', import.meta.url));
const today = new Date();
const read = async (file: string) => laidAround(today, await readFile(join(data, file), 'utf8'));

const OWNER = { name: 'Olive Tarrant', email: 'olive@quillfern.example', password: 'tansy-and-thyme' };
const SHOP = { name: 'Quillfern Nursery', zone: 'Europe/Lisbon', locales: ['en', 'fr'], currency: 'EUR' };

/** Past editions; the small demo has the first and the last. */
const ALL_EDITIONS: readonly (PastEdition & { readonly note: string; readonly brings: readonly string[] })[] = [
  { number: 1, ago: 89, brings: [], note: 'The nursery’s first rules' },
  { number: 2, ago: 61, brings: ['rare-divisions'], note: 'A waitlist for rare plants' },
  { number: 3, ago: 33, brings: [], lifts: { 'spring-tubers': 1.6 }, note: 'The tubers’ button says when' },
  { number: 4, ago: 12, brings: ['surplus'], note: 'Tubers four months ahead, surplus for what you like' },
  { number: 5, ago: 2, brings: ['frost-closure'], note: 'Frost closure for the coming weeks' },
];
/** The tubers' rule as it was: with another label at first, and for longer ahead. */
const NEW_LABEL = 3;
const NEW_WINDOW = 4;
function tubersIn(number: number, rule: Rule): Rule {
  const json = JSON.stringify(rule);
  const then = number < NEW_WINDOW ? json.replace('-P120D', '-P200D') : json;
  const { control, ...others } = (JSON.parse(then) as Rule).then;
  const label = { en: 'Pre-order', fr: 'Précommander' };
  const before = number < NEW_LABEL && control && controlOf(control).reserves ? { ...control, label } : control;
  return { ...(JSON.parse(then) as Rule), then: { ...others, ...(before && { control: before }) } };
}

const GIFT_BUTTON = { kind: 'buy', label: { en: 'Give a garden', fr: 'Offrir un jardin' } } as const;

const owner = await ownerOf(UNDERSTUDY_URL, { token: UNDERSTUDY_SETUP_TOKEN, shop: SHOP, owner: OWNER });
const catalog = await read('catalog.csv');
const people = await read('people.csv');
/** Without it, only what is written by hand: that is quicker, and enough to try things on. */
const isWhole = DEMO_RANGE === 'whole';
const PAST = isWhole
  ? ALL_EDITIONS
  : [ALL_EDITIONS[0]!, ALL_EDITIONS.at(-1)!].map((edition, place) => ({ ...edition, number: NEW_WINDOW + place }));
const ids = new Set(catalog.split('\n').map((line) => line.split(',')[1] ?? ''));
const files = {
  'catalog.csv': isWhole ? catalog + laidAround(today, generatedGoods(ids)) : catalog,
  'people.csv': isWhole ? people + laidAround(today, generatedPeople()) : people,
};

// Editions come last, so a run that was cut short is made good by the next.
const { editions } = await owner.send<{ editions: Edition[] }>('GET', '/api/editions?limit=1');
const isEmpty = editions.length === 0;
if (isEmpty) {
  // The shop's pictures are at its own address.
  const goods = files['catalog.csv'].replaceAll(',/pictures/', `,${SHOP_URL}/pictures/`);
  report('products', await owner.send<ImportReport>('POST', '/api/catalog/import', goods, 'text/csv'));
  report('people', await owner.send<ImportReport>('POST', '/api/people/import', files['people.csv'], 'text/csv'));
  await owner.send('PUT', '/api/audiences', await read('audiences.json'));
  const rulebook = JSON.parse(await read('rulebook.json')) as Rulebook;
  await publishHistory(isWhole ? withGrowers(rulebook) : rulebook);
}

// The shop's pages are as its dressing has them, which may be another at every start. A map of the owner's own stays.
const mapOf = async (dressing: string): Promise<PageMap> => {
  const map = JSON.parse(await read(`pageMaps/${dressing}.json`)) as PageMap;
  return SHOP_URL === '' ? map : { site: SHOP_URL, ...map };
};
const [wanted, ...others] = await Promise.all(
  [SHOP_DRESSING, 'forms', 'script', 'elements'].map((dressing) => mapOf(dressing)),
);
const { live } = await owner.send<{ live: MapVersion | null }>('GET', '/api/page-map');
const isOurs = live === null || others.some((map) => isDeepStrictEqual(map, live.map));
if (isOurs && !isDeepStrictEqual(live?.map, wanted)) await owner.send('PUT', '/api/page-map', JSON.stringify(wanted));

const { visitorSecret: secret, embedLine } = await owner.send<Connection>('GET', '/api/connection');
// The owner's key may read the secret.
const visitorSecret = secret ?? '';
if (isEmpty) {
  if (SIMULATORS_URL) await connectWays(SIMULATORS_URL, owner);
  await fillWaitlists(UNDERSTUDY_URL, owner, visitorSecret);
  await fillPreorders(UNDERSTUDY_URL, owner, visitorSecret);
  await fillQuestions(UNDERSTUDY_URL, owner, visitorSecret);
  if (isWhole) await fillWholeRange(UNDERSTUDY_URL, owner, visitorSecret, ids);
  if (isWhole && SIMULATORS_URL)
    await fillGrowers(UNDERSTUDY_URL, owner, { simulators: SIMULATORS_URL, visitorSecret });
  if (isWhole && DATABASE_URL) await fillPast(UNDERSTUDY_URL, owner, { databaseUrl: DATABASE_URL, editions: PAST });
}
await mkdir(DEMO_DATA, { recursive: true });
await keep('connection.json', JSON.stringify({ visitorSecret, embedLine }));
for (const [name, text] of Object.entries(files)) await keep(name, text, isEmpty);

/** The nursery's editions, and a draft that is one change ahead. */
async function publishHistory(rulebook: Rulebook): Promise<void> {
  for (const { number, note } of PAST) {
    const later = new Set(PAST.filter((other) => other.number > number).flatMap(({ brings }) => brings));
    const rules = rulebook.rules
      .filter(({ id }) => !later.has(id))
      .map((rule) => (isRule(rule) && rule.id === 'spring-tubers' ? tubersIn(number, rule) : rule));
    await owner.saveDraft({ ...rulebook, rules });
    await owner.send('POST', '/api/editions', JSON.stringify({ note }));
  }
  const rules = rulebook.rules.map((rule) =>
    isRule(rule) && rule.id === 'vouchers' ? { ...rule, then: { ...rule.then, control: GIFT_BUTTON } } : rule,
  );
  await owner.saveDraft({ ...rulebook, rules });
}

/** Files of the shop's own are written when the shop is new, and kept afterwards. */
async function keep(name: string, text: string, overwrite = true): Promise<void> {
  await writeFile(join(DEMO_DATA ?? '', name), text, { mode: 0o600, flag: overwrite ? 'w' : 'wx' }).catch(
    (error: unknown) => {
      const isThere = error instanceof Error && 'code' in error && error.code === 'EEXIST';
      if (!isThere) throw error;
    },
  );
}

function report(what: string, { rows, refused }: ImportReport): void {
  if (refused.length > 0) throw new Error(`the demo's ${what} were refused: ${JSON.stringify(refused)}`);
  process.stdout.write(`Brought in ${rows} rows of ${what}.\n`);
}
