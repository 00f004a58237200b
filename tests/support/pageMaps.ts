import pg from 'pg';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { Stage } from './stage.ts';

/** Takes every map away, as in a shop that was just connected; answers with the one that was live. */
export async function forgetMaps({ databaseUrl }: Stage): Promise<PageMap | undefined> {
  const database = new pg.Client({ connectionString: databaseUrl });
  await database.connect();
  const { rows } = await database.query<{ map: PageMap }>('SELECT map FROM page_maps ORDER BY id DESC LIMIT 1');
  await database.query('DELETE FROM page_maps');
  await database.end();
  return rows[0]?.map;
}
