import type { Request } from 'express';
import {
  cancelImport,
  getJob,
  importCatalog,
  importPeople,
  listImports,
  undoImport,
  type ImportReport,
  type Job,
} from '#core/contract/importCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { demandAlso, mayAlso, whoIs } from '../http/identity.ts';
import { reply, route, type RequestContext } from '../http/route.ts';
import type { ImportServices } from './importService.ts';
import type { Services } from '../base/services.ts';
import type { TargetName } from './importQueries.ts';
import { cancel, jobById, receiveImport, recentImports, targetOf, undo, type Sent } from './importService.ts';

export function importRoutes(endpoints: Endpoints, services: Services & ImportServices): void {
  const { db } = services;
  const receive = async (target: TargetName, query: Pick<Sent, 'mode' | 'badRows'>, { request }: RequestContext) => {
    const answer = await receiveImport(services, { target, ...query, by: whoIs(request) }, request);
    return isJob(answer) ? reply(202, answer, { Location: `/api/jobs/${answer.id}` }) : reply(200, answer);
  };

  route(endpoints, importCatalog, ({ query }, context) => receive('catalog', query, context));
  route(endpoints, importPeople, ({ query }, context) => receive('people', query, context));
  /** Who brings one kind of file in and reads nothing else follows those alone. */
  const maySee = (request: Request, target: TargetName) => mayAlso(request, 'read') || mayAlso(request, target);
  route(endpoints, getJob, async ({ params: { id } }, { request }) => {
    const target = await targetOf(db, id);
    if (!maySee(request, target)) demandAlso(request, target);
    return reply(200, await jobById(db, id));
  });
  route(endpoints, listImports, async ({ query }, { request }) => {
    const imports = (await recentImports(db, query.target)).filter(({ target }) => maySee(request, target));
    return reply(200, { imports }, { 'Cache-Control': 'no-store' });
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
