import pg from 'pg';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { Owner } from './ownerClient.ts';
import { COMING, DAYS, pastCounts, pastSearches, type Coming, type PastSpell, type ShownTo } from './pastCounts.ts';
import { asking } from './shopCalls.ts';

const DAY_MS = 86_400_000;

/** An edition of the past: since how many days it was live, and what was pressed more often from then on, by rule. */
export interface PastEdition {
  readonly number: number;
  readonly ago: number;
  readonly lifts?: Readonly<Record<string, number>>;
}

/** Past decisions are computed once per period, in days, since dates move slowly. */
const SPELL_DAYS = 14;
const ROLES: Readonly<Record<Coming, readonly string[]>> = {
  Guest: [],
  'Signed in': [],
  'Circle member': ['member'],
  Trade: ['trade'],
};

/**
 * The nursery's last ninety days. No call lets anybody write the past, so it is written where it is kept: when editions came
 * in, what was counted since, and when those who wait and ask came.
 */
export async function fillPast(
  url: string,
  owner: Owner,
  { databaseUrl, editions }: { databaseUrl: string; editions: readonly PastEdition[] },
): Promise<void> {
  const spells = await spellsOf(url, owner, editions);
  const now = new Date();
  const counts = pastCounts(spells, (now.getUTCDay() + 6) % 7).filter(
    ({ ago, hour }) => ago > 0 || hour < now.getUTCHours(),
  );
  const db = new pg.Client({ connectionString: databaseUrl });
  await db.connect();
  try {
    await db.query('BEGIN');
    await db.query('ALTER TABLE editions DISABLE TRIGGER editions_are_unchangeable');
    for (const { number, ago } of editions)
      await db.query("UPDATE editions SET published_at = now() - $2 * interval '1 day' WHERE number = $1", [
        number,
        ago,
      ]);
    await db.query('ALTER TABLE editions ENABLE TRIGGER editions_are_unchangeable');
    for (const sql of REQUESTS) await db.query(sql);
    await db.query("SELECT make_count_months(now() - $1 * interval '1 day', now())", [DAYS]);
    await db.query(TABLE);
    await db.query(GIVEN, [JSON.stringify(counts)]);
    for (const sql of COUNTED) await db.query(sql);
    await db.query(SEARCHED, [JSON.stringify(pastSearches())]);
    await db.query('COMMIT');
  } finally {
    await db.end();
  }
}

/** The past in parts, each with what its edition showed in the middle of it, as previews tell. */
async function spellsOf(url: string, owner: Owner, editions: readonly PastEdition[]): Promise<PastSpell[]> {
  const { products } = await owner.send<{ products: { path: string | null }[] }>('GET', '/api/products?limit=500');
  const asked = products.flatMap(({ path }) => (path === null ? [] : [{ path }]));
  const spells: PastSpell[] = [];
  for (const [place, { number, ago }] of editions.entries()) {
    // The last of them is live today as well.
    const over = editions[place + 1]?.ago ?? -1;
    const lifts = Object.assign(
      {},
      ...editions.slice(0, place + 1).map((one) => one.lifts ?? {}),
    ) as PastSpell['lifts'];
    for (let from = ago; from > over; from -= SPELL_DAYS) {
      const until = Math.max(over, from - SPELL_DAYS);
      const at = new Date(Date.now() - Math.max(0, (from + until) / 2) * DAY_MS).toISOString();
      const shown: Partial<Record<Coming, ShownTo[Coming]>> = {};
      for (const name of Object.keys(COMING) as Coming[]) {
        const audience = { name, signedIn: name !== 'Guest', roles: ROLES[name], customer: null, invited: false };
        const claims = JSON.stringify({ source: { edition: number }, audience, at });
        const { address } = await owner.send<{ address: string }>('POST', '/api/previews', claims);
        const visitor = new URL(address).hash.split('=')[1];
        const on = (surface: 'listing' | 'product') =>
          asking<DecisionsAnswer>(`${url}/v1/decisions`, { surface, products: asked, visitor });
        shown[name] = { listing: await on('listing'), product: await on('product') };
      }
      spells.push({ from, until, shown: shown as ShownTo, lifts });
    }
  }
  return spells;
}

/** Spreads requests over the past; invitations and prices of today stay today. */
const REQUESTS = [
  `UPDATE waitlist_entries w SET joined_at = now() - (n + 1) * interval '31 hours',
     changed_at = CASE WHEN state = 'waiting' THEN now() - (n + 1) * interval '31 hours' ELSE changed_at END
   FROM (SELECT id, row_number() OVER (ORDER BY id DESC) AS n FROM waitlist_entries) r WHERE r.id = w.id`,
  `UPDATE preorders p SET created_at = now() - n * interval '53 hours',
     changed_at = CASE WHEN state = 'reserved' THEN now() - n * interval '53 hours' ELSE changed_at END
   FROM (SELECT id, row_number() OVER (ORDER BY id DESC) AS n FROM preorders) r WHERE r.id = p.id`,
  `UPDATE quotes q SET created_at = now() - n * interval '19 hours',
     answered_at = answered_at - n * interval '19 hours' + interval '5 hours'
   FROM (SELECT id, row_number() OVER (ORDER BY id DESC) AS n FROM quotes) r WHERE r.id = q.id`,
  `UPDATE thread_messages t SET at = e.created_at - n * interval '26 hours' + interval '3 hours'
   FROM enquiries e JOIN (SELECT id, row_number() OVER (ORDER BY id DESC) AS n FROM enquiries) r USING (id)
   WHERE t.enquiry_id = e.id`,
  `UPDATE enquiries e SET created_at = now() - n * interval '26 hours', changed_at = now() - n * interval '26 hours'
   FROM (SELECT id, row_number() OVER (ORDER BY id DESC) AS n FROM enquiries) r WHERE r.id = e.id`,
];

const TABLE = `
  CREATE TEMPORARY TABLE given (product_id bigint, day date, at timestamptz, rule text, control text, audience text, surface text,
    seen bigint, pressed bigint, finished bigint, refused bigint) ON COMMIT DROP`;
const GIVEN = `
  INSERT INTO given
  SELECT p.id, (now() AT TIME ZONE zone)::date - ago,
    ((now() AT TIME ZONE zone)::date - ago + hour * interval '1 hour') AT TIME ZONE zone,
    rule, control, audience, surface, seen, pressed, finished, refused
  FROM shop, json_to_recordset($1) AS g (ago int, hour int, product text, rule text, control text, audience text, surface text,
    seen bigint, pressed bigint, finished bigint, refused bigint) JOIN products p ON p.external_id = g.product`;
const SUMS = 'sum(seen), sum(pressed), sum(finished), sum(refused)';
/** In place of what the seeding itself brought about today. */
const COUNTED = [
  'TRUNCATE rule_counts, rule_days, product_days',
  `INSERT INTO rule_counts
   SELECT at, rule, control, coalesce((SELECT max(number) FROM editions WHERE published_at <= at), 0), audience, surface, ${SUMS}, now()
   FROM given GROUP BY at, rule, control, audience, surface`,
  `INSERT INTO rule_days SELECT day, rule, control, audience, surface, ${SUMS}
   FROM given GROUP BY day, rule, control, audience, surface`,
  `INSERT INTO product_days SELECT rule, control, product_id, 0, day, ${SUMS}
   FROM given GROUP BY rule, control, product_id, day`,
];
const SEARCHED = `
  INSERT INTO searched_words
  SELECT (now() AT TIME ZONE zone)::date - ago, words, times, CASE WHEN "isFound" THEN 0 ELSE times END
  FROM shop, json_to_recordset($1) AS s (ago int, words text, times int, "isFound" boolean)`;
