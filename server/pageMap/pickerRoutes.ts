import { readFileSync } from 'node:fs';
import type { IRouter } from 'express';
import { getPickerStart, postMisses, putPickedMap } from '#core/contract/pageMapCalls.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { ProblemError } from '../errors.ts';
import { limitTo } from '../http/limit.ts';
import { reply, route } from '../http/route.ts';
import type { Services } from '../services.ts';
import { checkAfterMiss } from './checkService.ts';
import { pickerOf } from './pickerToken.ts';
import { countMisses, draftMap, liveMap, someProducts, writeDraftMap } from './pageMapQueries.ts';

/** What the shop's address carries, after #, for the storefront script to open the picker. */
export const PICKER_HASH = 'understudy-picker';

const PRODUCTS = 500;
const MISSES_A_MINUTE = 30;

/** What is asked from the shop's own pages: the picker, by its token, and reports of what the map has missed. */
export function pickerRoutes(router: IRouter, services: Services): void {
  const { db, clock, live, config, files, sessionSecret, jobs } = services;
  const script = readFileSync(files.picker, 'utf8');

  router.get('/picker.js', async (request, response) => {
    const { token } = request.query;
    const by = typeof token === 'string' ? await pickerOf(sessionSecret, token, clock()) : null;
    response.set({ 'Cache-Control': 'no-store', 'Cross-Origin-Resource-Policy': 'cross-origin' });
    if (by === null) response.status(403).type('text').send('The picker was open for its half hour. Open it again.');
    else response.type('text/javascript').send(script);
  });

  // Who has no token learns nothing of what would be taken.
  router.use(getPickerStart.path, async (request, response, next) => {
    const token = /^Bearer +(\S+)$/i.exec(request.get('Authorization') ?? '')?.[1] ?? '';
    const by = await pickerOf(sessionSecret, token, clock());
    if (by === null) {
      const detail =
        'The picker was open for its half hour. Open it again from Connection; what was kept is in the draft.';
      throw new ProblemError(401, 'picker-over', 'The picker is over', detail);
    }
    response.locals.picker = by;
    next();
  });

  route(router, getPickerStart, async () => {
    const [draft, published, products] = await Promise.all([draftMap(db), liveMap(db), someProducts(db, PRODUCTS)]);
    const { locales, exponent } = live.current().rulebook.shop;
    return reply(
      200,
      {
        map: draft?.map ?? published?.map ?? null,
        products: products.map(({ title, ...product }) => ({ ...product, title: wordsIn(title, null, locales) })),
        exponent,
        owner: `${config.publicUrl}/connection`,
      },
      { 'Cache-Control': 'no-store' },
    );
  });

  route(router, putPickedMap, async ({ body }, { response }) => {
    await writeDraftMap(db, body, { at: new Date(clock()), by: response.locals.picker as string });
    return reply(204, undefined);
  });

  router.post(postMisses.path, limitTo(MISSES_A_MINUTE, db, 'misses:'));
  route(router, postMisses, async ({ body: { path, missing } }) => {
    const map = live.current().pageMap;
    // Only what the map speaks of; anything else is not about it.
    if (map && new RegExp(map.productPage.path).test(path)) {
      await countMisses(db, { path, missing, at: new Date(clock()) });
      await checkAfterMiss({ db, jobs });
    }
    return reply(204, undefined);
  });
}
