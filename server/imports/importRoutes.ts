import type { IRouter } from 'express';
import { getJob, importCatalog, importPeople, type ImportReport, type Job } from '#core/contract/importCalls.ts';
import type { Services } from '../services.ts';
import { reply, route } from '../http/route.ts';
import { jobById, startImport, type Target } from './importService.ts';
import { readCsv, readJson } from './rows.ts';

export function importRoutes(router: IRouter, services: Services): void {
  const importing = async (
    target: Target,
    query: { mode: 'merge' | 'replace'; badRows: 'skip' | 'refuseAll' },
    // Express hands CSV over as text, JSON as rows.
    body: string | Parameters<typeof readJson>[0],
  ) => {
    const read = typeof body === 'string' ? readCsv(body) : { ...readJson(body), refused: [] };
    const answer = await startImport(services, { target, ...query, ...read });
    return isJob(answer) ? reply(202, answer, { Location: `/api/jobs/${answer.id}` }) : reply(200, answer);
  };

  route(router, importCatalog, ({ query, body }) => importing('catalog', query, body));
  route(router, importPeople, ({ query, body }) => importing('people', query, body));
  route(router, getJob, async ({ params }) => reply(200, await jobById(services, params.id)));
}

const isJob = (answer: ImportReport | Job): answer is Job => 'id' in answer;
