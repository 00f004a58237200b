import { migrate } from '../../server/db/migrate.ts';
import { createDatabase, databaseUrl } from './databases.ts';
import { keepCopy } from './demoCopy.ts';
import { seed, startUnderstudy } from './programs.ts';

export const SEEDED = 'understudy_seeded';
/** Data of the sample shop, written by the seed. */
export const SHOP_DATA = `${process.env.TEST_RESULTS ?? '.data'}/shop`;

/** Makes the database with the whole demo that every browser test clones. */
export default async function setup(): Promise<void> {
  await createDatabase(SEEDED);
  await migrate(databaseUrl(SEEDED));
  const understudy = await startUnderstudy(databaseUrl(SEEDED));
  await seed(understudy.url, SHOP_DATA);
  await understudy.stop();
  await keepCopy(databaseUrl(SEEDED));
}
