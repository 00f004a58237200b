import { createHmac } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { VisitorFacts } from '#core/model/subject.ts';
import type { Request, Response } from 'express';

import { getPickerStart, postMisses, putPickedMap, type PickerStart } from '#core/contract/pageMapCalls.ts';
import type { CompiledRulebook } from '#core/engine/compile.ts';
import { decideVariants } from '#core/engine/decide.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { addressWith, parametersIn, samePath } from '#core/model/names.ts';
import { productAt, productsByKeys, type ProductRow } from '../catalog/catalogQueries.ts';
import { limitTo } from '../limits/limit.ts';
import { networkOf } from '../http/network.ts';
import { reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { checkAfterMiss } from './checkService.ts';
import { pathMatches, refuseEndless } from './pathPatterns.ts';
import { pickerOf } from './pickerToken.ts';
import { useLink } from '../services/linkKeys.ts';
import { countMisses, draftMap, liveMap, someProducts, writeDraftMap } from './pageMapQueries.ts';
import { guestSpeaking } from '../visitors/visitor.ts';

/** Fragment of the shop's address that makes the storefront script open the picker. */
export const PICKER_HASH = 'understudy-picker';

const PRODUCTS = 500;
const DAY_MS = 86_400_000;
const MISSES_A_MINUTE = 30;

/** Product data that a guest may see; null if it is hidden. The picker runs on a page that others wrote. */
function seenBy(
  visitor: VisitorFacts,
  product: ProductRow,
  { rulebook, moment, locales }: { rulebook: CompiledRulebook; moment: number; locales: readonly string[] },
): PickerStart['products'] {
  const decisions = decideVariants(rulebook, product, { visitor, moment, surface: 'product', page: null });
  if (product.path === null || decisions.every(({ visibility }) => visibility.state === 'blocked')) return [];
  const prices = decisions.flatMap(({ price }) => price.amount ?? []);
  const { id, path, variants } = product;
  const title = wordsIn(product.title, null, locales);
  return [{ id, path, title, prices: [...new Set(prices)], variants: variants.map((variant) => variant.id) }];
}

const pickerIn = ({ locals }: Response) => locals.picker as NonNullable<Awaited<ReturnType<typeof pickerOf>>>;

/** Calls from the shop's own pages: the picker's, with its token, and reports of missing parts. */
export function pickerRoutes(endpoints: Endpoints, services: Services): void {
  const { db, clock, live, config, files, links, jobs, sessionSecret } = services;
  const script = readFileSync(files.picker, 'utf8');

  endpoints.mount('get', '/picker.js', 'public', async (request, response) => {
    const picker = await pickerOf(links, request.query.token);
    response.set({ 'Cache-Control': 'no-store', 'Cross-Origin-Resource-Policy': 'cross-origin' });
    if (picker === null)
      response.status(403).type('text').send('The picker was open for its half hour. Open it again.');
    else response.type('text/javascript').send(script);
  });

  route(endpoints, getPickerStart, async ({ query: { path } }, { response }) => {
    // Using the token once shows that the picker has started.
    await useLink(db, pickerIn(response).claims);
    const [draft, published, ids] = await Promise.all([draftMap(db), liveMap(db), someProducts(db, PRODUCTS)]);
    const { rulebook } = live.current();
    const { locales, exponent } = rulebook.shop;
    const some = await productsByKeys(db, { ids, paths: [] });
    const parameters = parametersIn(some.flatMap((product) => product.path ?? []));
    const own = path === undefined ? undefined : await productAt(db, addressWith(path, parameters));
    const goods = [...some.filter(({ id }) => id !== own?.id), ...(own ? [own] : [])];
    return reply(
      200,
      {
        map: draft?.map ?? published?.map ?? null,
        products: goods.flatMap((product) =>
          seenBy(guestSpeaking(null), product, { rulebook, moment: clock(), locales }),
        ),
        exponent,
        owner: `${config.publicUrl}/connection`,
      },
      { 'Cache-Control': 'no-store' },
    );
  });

  route(endpoints, putPickedMap, async ({ body }, { response }) => {
    refuseEndless(body);
    await writeDraftMap(db, body, { at: new Date(clock()), by: pickerIn(response).by });
    return reply(204, undefined);
  });

  route(
    endpoints,
    postMisses,
    async ({ body: { path, missing } }, { request }) => {
      const map = live.current().pageMap;
      // Only parts of the map; the rest is not about it.
      if (map && pathMatches(map.productPage.path, samePath(path))) {
        await countMisses(db, { path, missing, browser: browserOf(request), at: new Date(clock()) });
        await checkAfterMiss({ db, jobs });
      }
      return reply(204, undefined);
    },
    [limitTo(MISSES_A_MINUTE, db, 'misses:')],
  );

  /** Tells browsers apart for a day, and says nothing of whose they are. */
  const browserOf = (request: Request): string =>
    createHmac('sha256', sessionSecret)
      .update([Math.floor(clock() / DAY_MS), networkOf(request), request.get('User-Agent')].join(' '))
      .digest('base64url')
      .slice(0, 22);
}
