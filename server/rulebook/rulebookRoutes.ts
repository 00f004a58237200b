import type { Request } from 'express';
import {
  deleteOpening,
  getEdition,
  getOpening,
  getRulebook,
  listEditions,
  listOpenings,
  postEdition,
  postOpening,
  putOpening,
  putRulebook,
  restoreEdition,
  type Edition,
  type Opening,
} from '#core/contract/rulebookCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { RulebookServices } from './rulebookService.ts';
import type { Services } from '../services/services.ts';
import { notFound } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import {
  editionByNumber,
  newestEdition,
  pageOfEditions,
  readDraft,
  type EditionRow,
} from '../rules/rulebookQueries.ts';
import { openingById, openingsToCome, type OpeningRow } from '../rules/openingQueries.ts';
import { callOff, etagOf, publish, restore, saveDraft, setOpening, type Acting } from './rulebookService.ts';

export function rulebookRoutes(endpoints: Endpoints, services: Services & RulebookServices): void {
  const { db, clock } = services;
  const acting = (request: Request): Acting => ({ who: whoIs(request), at: new Date(clock()) });
  const liveNumber = async () => (await newestEdition(db))?.number ?? 0;

  route(endpoints, getRulebook, async () => {
    const { document, revision, savedAt, savedBy } = await readDraft(db);
    const headers = {
      ETag: etagOf(revision),
      'Cache-Control': 'no-cache',
      'Last-Modified': savedAt.toUTCString(),
      ...(savedBy === null ? {} : { 'X-Saved-By': encodeURIComponent(savedBy) }),
    };
    return reply(200, document, headers);
  });

  route(endpoints, putRulebook, async ({ body }, { request, ifMatch }) => {
    const revision = await saveDraft(services, body, ifMatch ?? '', acting(request));
    return reply(204, undefined, { ETag: etagOf(revision) });
  });

  route(endpoints, listEditions, async ({ query }) => {
    const [{ rows, more }, live] = await Promise.all([pageOfEditions(db, query.before, query.limit), liveNumber()]);
    return reply(200, { editions: rows.map((row) => toEdition(row, live)), more });
  });

  route(endpoints, getEdition, async ({ params: { number } }) => {
    const row = await editionByNumber(db, number);
    if (!row) throw notFound(`edition ${number}`);
    return reply(200, { ...toEdition(row, await liveNumber()), rulebook: row.document });
  });

  route(endpoints, postEdition, async ({ body }, { request, ifMatch }) => {
    const edition = await publish(services, body?.note?.trim() || null, ifMatch, acting(request));
    const headers = { Location: `/api/editions/${edition.number}` };
    return reply(201, toEdition(edition, edition.number), headers);
  });

  route(endpoints, restoreEdition, async ({ params, body }, { request }) => {
    const edition = await restore(services, params.number, body?.to ?? 'live', acting(request));
    return reply(200, toEdition(edition, await liveNumber()));
  });

  const toOpening = async ({ document, opensAt, setAt, ...row }: OpeningRow): Promise<Opening> => ({
    ...row,
    at: opensAt.toISOString(),
    setAt: setAt.toISOString(),
    rules: document.rules.length,
    isDraft: JSON.stringify((await readDraft(db)).document) === JSON.stringify(document),
  });

  route(endpoints, listOpenings, async () => {
    const openings = await Promise.all((await openingsToCome(db)).map(toOpening));
    return reply(200, { openings });
  });

  route(endpoints, getOpening, async ({ params: { id } }) => {
    const row = await openingById(db, id);
    if (!row) throw notFound(`opening ${id}`);
    return reply(200, { ...(await toOpening(row)), rulebook: row.document });
  });

  route(endpoints, postOpening, async ({ body: { at, note } }, { request, ifMatch }) => {
    const wanted = { opensAt: new Date(at), note: note?.trim() || null, changes: null };
    const row = await setOpening(services, wanted, ifMatch, acting(request));
    return reply(201, await toOpening(row), { Location: `/api/openings/${row.id}` });
  });

  route(endpoints, putOpening, async ({ params: { id }, body: { at, note, rules } }, { request, ifMatch }) => {
    const changes = { id, keepsRules: rules === 'kept' };
    const wanted = { opensAt: new Date(at), note: note?.trim() || null, changes };
    return reply(200, await toOpening(await setOpening(services, wanted, ifMatch, acting(request))));
  });

  route(endpoints, deleteOpening, async ({ params: { id } }, { request }) => {
    await callOff(services, id, acting(request));
    return reply(204, undefined);
  });
}

function toEdition({ document, publishedAt, ...row }: EditionRow, live: number): Edition {
  return {
    ...row,
    publishedAt: publishedAt.toISOString(),
    rules: document.rules.length,
    live: row.number === live,
  };
}
