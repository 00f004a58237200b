import { migrate } from '../../server/db/migrate.ts';
import { createDatabase, databaseUrl, SHOP_TEMPLATE, TEMPLATE } from './databases.ts';
import { setUpShop, startServer } from './testServer.ts';

/** Makes the databases that API tests clone. Unit tests run without one. */
export default async function setup(): Promise<void> {
  if (process.env.TEST_PG_URL === undefined) return;
  await createDatabase(TEMPLATE);
  await migrate(databaseUrl(TEMPLATE));
  await (await startServer(databaseUrl(TEMPLATE))).stop();
  await createDatabase(SHOP_TEMPLATE, TEMPLATE);
  const shop = await startServer(databaseUrl(SHOP_TEMPLATE));
  await setUpShop(shop);
  await shop.stop();
}
