import type { Request } from 'express';
import {
  deleteSellerAsked,
  getSellerGoods,
  getSellerRulebook,
  getSelling,
  postSellerEdition,
  postSellerProof,
  putSellerRulebook,
} from '#core/contract/sellingCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { sellerIdOf, whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { scopeOf } from '../scope/scope.ts';
import type { JobServices, Services } from '../services/services.ts';
import {
  describeSelling,
  draftOf,
  etagOf,
  proveDraft,
  publishDraft,
  saveSellerDraft,
  sellerNamed,
  sellersGoods,
  withdrawAsked,
} from './sellingService.ts';

/** Calls of the seller's side, none of which reads or changes anything of others. */
export function sellingRoutes(endpoints: Endpoints, services: Services & JobServices): void {
  const { db, clock } = services;
  const mine = (request: Request) => sellerNamed(db, sellerIdOf(request));

  route(endpoints, getSelling, async ({}, { request }) =>
    reply(200, await describeSelling(services, await mine(request), await scopeOf(services, request))),
  );

  route(endpoints, getSellerRulebook, async ({}, { request }) => {
    const seller = await mine(request);
    const headers = {
      ETag: etagOf(seller),
      'Cache-Control': 'no-cache',
      'Last-Modified': seller.savedAt.toUTCString(),
    };
    return reply(200, draftOf(seller), headers);
  });

  route(endpoints, putSellerRulebook, async ({ body: draft }, { request, ifMatch }) => {
    const saving = { draft, ifMatch: ifMatch ?? '', by: whoIs(request) };
    const tag = await saveSellerDraft(services, await mine(request), saving);
    return reply(204, undefined, { ETag: tag });
  });

  route(endpoints, postSellerEdition, async ({}, { request }) => {
    const number = await publishDraft(services, sellerIdOf(request) ?? '', whoIs(request));
    return number === null ? reply(202, { askedAt: new Date(clock()).toISOString() }) : reply(201, { number });
  });

  route(endpoints, deleteSellerAsked, async ({}, { request }) => {
    await withdrawAsked(services, sellerIdOf(request) ?? '', whoIs(request));
    return reply(204, undefined);
  });

  route(endpoints, getSellerGoods, async ({}, { request }) =>
    reply(200, await sellersGoods(services, await mine(request))),
  );

  route(endpoints, postSellerProof, async ({ body: { products: ids, surface, at } }, { request }) => {
    const moment = at === undefined ? clock() : Date.parse(at);
    return reply(200, { rows: await proveDraft(services, await mine(request), { ids, surface, moment }) });
  });
}
