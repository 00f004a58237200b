import { readFileSync } from 'node:fs';
import type { AudienceFacts } from '#core/model/audience.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { laidAround } from '../../demo/dates.ts';
import { importCsv, startShop, type TestServer } from './testServer.ts';

/** A file of the demo's, its dates laid around a day. */
const read = (file: string, day: Date) => laidAround(day, readFileSync(`demo/data/${file}`, 'utf8'));

export const demoRulebook = (day: Date) => JSON.parse(read('rulebook.json', day)) as Rulebook;
export const demoAudiences = () =>
  JSON.parse(readFileSync('demo/data/audiences.json', 'utf8')) as (AudienceFacts & { name: string })[];

/** A server with the nursery's goods, people and audiences, and no rules. */
export async function startNursery(): Promise<TestServer> {
  const server = await startShop();
  const day = new Date(server.now);
  await importCsv(server, 'catalog', read('catalog.csv', day));
  await importCsv(server, 'people', read('people.csv', day));
  await server.send('PUT', '/api/audiences', { body: demoAudiences() });
  return server;
}
