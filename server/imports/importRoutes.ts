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
import { whoIs } from '../http/identity.ts';
import { reply, route, type RequestContext } from '../http/route.ts';
import type { ImportServices } from './importService.ts';
import type { Services } from '../base/services.ts';
import type { TargetName } from './importQueries.ts';
import { cancel, jobById, receiveImport, recentImports, undo, type Sent } from './importService.ts';

export function importRoutes(endpoints: Endpoints, services: Services & ImportServices): void {
  const { db } = services;
  const receive = async (target: TargetName, query: Pick<Sent, 'mode' | 'badRows'>, { request }: RequestContext) => {
    const answer = await receiveImport(services, { target, ...query, by: whoIs(request) }, request);
    return isJob(answer) ? reply(202, answer, { Location: `/api/jobs/${answer.id}` }) : reply(200, answer);
  };

  route(endpoints, importCatalog, ({ query }, context) => receive('catalog', query, context));
  route(endpoints, importPeople, ({ query }, context) => receive('people', query, context));
  route(endpoints, getJob, async ({ params }) => reply(200, await jobById(db, params.id)));
  route(endpoints, listImports, async ({ query }) =>
    reply(200, { imports: await recentImports(db, query.target) }, { 'Cache-Control': 'no-store' }),
  );
  route(endpoints, cancelImport, async ({ params }) => {
    await cancel(services, params.id);
    return reply(202, undefined);
  });
  route(endpoints, undoImport, async ({ params }) => {
    await undo(services, params.id);
    return reply(202, undefined);
  });
}

const isJob = (answer: ImportReport | Job): answer is Job => 'id' in answer;
