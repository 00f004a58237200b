import type { RequestHandler } from 'express';
import { getFirstSteps, putPeopleSkipped, type FirstSteps } from '#core/contract/firstStepsCalls.ts';
import { readDraft } from '../rules/rulebookQueries.ts';
import type { Services } from '../services/services.ts';
import type { Queryable } from '../db/database.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { reply, route } from '../http/route.ts';
import { liveMap } from '../pageMap/pageMapQueries.ts';

const STEPS = `
  SELECT (SELECT count(*) FROM products WHERE archived_at IS NULL) AS products,
    (SELECT count(*) FROM customers WHERE archived_at IS NULL) AS people,
    people_skipped AS "isPeopleSkipped", line_seen_on AS "lineSeenOn",
    EXISTS (SELECT FROM editions) AS "isPublished"
  FROM shop`;
type Found = Omit<FirstSteps, 'isControlFound' | 'rules'>;
const NONE: Found = { products: 0, people: 0, isPeopleSkipped: false, lineSeenOn: null, isPublished: false };

/** Progress of a new shop's first steps. */
export function firstStepsRoutes(endpoints: Endpoints, { db }: Pick<Services, 'db'>): void {
  route(endpoints, getFirstSteps, async () => {
    const { rows } = await db.query<Found>(STEPS);
    const [map, draft] = await Promise.all([liveMap(db), readDraft(db)]);
    return reply(200, {
      ...(rows[0] ?? NONE),
      isControlFound: map !== null,
      rules: draft.document.rules.length,
    });
  });

  route(endpoints, putPeopleSkipped, async ({ body: { isSkipped } }) => {
    await db.query('UPDATE shop SET people_skipped = $1', [isSkipped]);
    return reply(204, undefined);
  });
}

/** Notes the first shop whose page asks for our script: its line is in place. */
export function noteLine({ db, config }: Pick<Services, 'db' | 'config'>): RequestHandler {
  let isNoted = false;
  return (request, _response, next) => {
    next();
    const page = request.get('Referer') ?? '';
    if (isNoted || !URL.canParse(page)) return;
    const { origin } = new URL(page);
    if (origin === new URL(config.publicUrl).origin || origin === 'null') return;
    isNoted = true;
    note(db, origin).catch(() => {
      isNoted = false;
    });
  };
}

/** Before the shop is set up, nothing is there to note it in. */
async function note(db: Queryable, origin: string): Promise<void> {
  const write = 'UPDATE shop SET line_seen_on = coalesce(line_seen_on, $1)';
  const { rowCount } = await db.query(write, [origin.slice(0, 300)]);
  if (rowCount === 0) throw new Error('there is no shop yet');
}
