import type { Input } from '#core/contract/call.ts';
import type { Request } from 'express';
import {
  cancelImport,
  getJob,
  importCatalog,
  importPeople,
  listImportExamples,
  listImports,
  listReadings,
  putReading,
  startImport,
  undoImport,
  type ImportReport,
  type Job,
} from '#core/contract/importCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { unrecorded } from '../db/record.ts';
import { demandAlso, mayAlso, whoIs } from '../http/identity.ts';
import { reply, route, type RequestContext } from '../http/route.ts';
import type { ImportServices } from './importService.ts';
import type { Services } from '../services/services.ts';
import type { TargetName } from '#core/imports/fileReading.ts';
import { isColumn } from '#core/imports/columns.ts';
import { invalid } from '../http/errors.ts';
import { allReadings, writeReading } from './importQueries.ts';
import { cancel, examplesOf, jobById, receiveImport, recentImports, start, targetOf, undo } from './importService.ts';

type Query = Input<typeof importCatalog>['query'];

export function importRoutes(endpoints: Endpoints, services: Services & ImportServices): void {
  const { db } = services;
  const receive = async (target: TargetName, { preview, archive, ...query }: Query, { request }: RequestContext) => {
    // A preview changes nothing yet.
    if (preview === 'true') unrecorded();
    const sent = {
      target,
      ...query,
      isPreview: preview === 'true',
      mayArchive: archive === 'true',
      by: whoIs(request),
    };
    const answer = await receiveImport(services, sent, request);
    if (isJob(answer) && answer.state === 'previewed') unrecorded();
    return isJob(answer) ? reply(202, answer, { Location: `/api/jobs/${answer.id}` }) : reply(200, answer);
  };

  route(endpoints, importCatalog, ({ query }, context) => receive('catalog', query, context));
  route(endpoints, importPeople, ({ query }, context) => receive('people', query, context));
  /** A key that only imports one kind of file sees only those imports. */
  const maySee = (request: Request, target: TargetName) => mayAlso(request, 'read') || mayAlso(request, target);
  route(endpoints, getJob, async ({ params: { id } }, { request }) => {
    const target = await targetOf(db, id);
    if (!maySee(request, target)) demandAlso(request, target);
    return reply(200, await jobById(db, id));
  });
  route(endpoints, listImportExamples, async ({ params: { id }, query }, { request }) => {
    const target = await targetOf(db, id);
    if (!maySee(request, target)) demandAlso(request, target);
    return reply(200, await examplesOf(db, id, query), { 'Cache-Control': 'no-store' });
  });
  route(endpoints, listImports, async ({ query }, { request }) => {
    const imports = (await recentImports(db, query.target)).filter(({ target }) => maySee(request, target));
    return reply(200, { imports }, { 'Cache-Control': 'no-store' });
  });
  route(endpoints, listReadings, async ({}, { request }) =>
    reply(
      200,
      (await allReadings(db)).filter(({ target }) => maySee(request, target)),
    ),
  );
  route(endpoints, putReading, async ({ body }, { request }) => {
    const { target, reading } = body;
    demandAlso(request, target);
    const faults = reading.columns.flatMap((column, index) =>
      column === null || isColumn(target, column)
        ? []
        : [{ pointer: `/reading/columns/${index}`, found: column, allowed: `a column of ${target}` }],
    );
    if (faults.length > 0) throw invalid('What was sent', faults);
    return reply(200, { id: await writeReading(db, body) });
  });
  route(endpoints, startImport, async ({ params: { id }, query: { archive } }, { request }) => {
    demandAlso(request, await targetOf(db, id));
    return reply(202, await start(services, id, { mayArchive: archive === 'true' }));
  });
  route(endpoints, cancelImport, async ({ params: { id } }, { request }) => {
    demandAlso(request, await targetOf(db, id));
    await cancel(services, id);
    return reply(202, undefined);
  });
  route(endpoints, undoImport, async ({ params: { id } }, { request }) => {
    demandAlso(request, await targetOf(db, id));
    await undo(services, id);
    return reply(202, undefined);
  });
}

const isJob = (answer: ImportReport | Job): answer is Job => 'id' in answer;
