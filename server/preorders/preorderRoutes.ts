import { shipDates } from '#core/fulfilment/shipping.ts';
import { reservationOf } from '#core/controls/controls.ts';
import type { z } from 'zod';
import {
  allocatePreorders,
  exportPreorders,
  listPreorderGoods,
  listPreorders,
  movePreorders,
  postPreorders,
  putShipDate,
  type Preorder,
  type PreorderGoods,
} from '#core/contract/preorderCalls.ts';
import { decide } from '#core/engine/decide.ts';
import type { ProductVariant } from '#core/engine/visit.ts';
import { productVariants } from '../catalog/catalogQueries.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import { BatchQueue } from './batchQueue.ts';
import { ProblemError } from '../http/errors.ts';
import { csvFile } from '../http/csvFile.ts';
import { attachment, reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { scopeOf } from '../scope/scope.ts';
import type { Services } from '../services/services.ts';
import { titleOf } from '../catalog/titles.ts';
import { pageOfGoods, pageOfPreorders, type PreorderRow } from './preorderQueries.ts';
import { knownVariant, moveDates, moveTo, setAside, takeOrders } from './preorderService.ts';
import { guestSpeaking } from '../visitors/visitor.ts';

type Order = z.infer<(typeof postPreorders)['body']>;

/** Orders that may wait for those before them, at some 10 ms each, and orders of one transaction. */
const ORDER_LIMITS = { waiting: 1000, batch: 25 };
const tooManyOrders = () =>
  new ProblemError('busy', 'Too many orders are waiting. Send it again in a moment.', {
    headers: { 'Retry-After': '2' },
  });

const MOST_IN_A_FILE = 200_000;

/** Calls of the shop's server for orders. */
export function orderRoutes(endpoints: Endpoints, services: Services & CatalogServices): void {
  // Orders of one product need its lock in turn. Waiting here, they take no database connection from others, and those
  // that wait share a transaction.
  const queue = new BatchQueue(ORDER_LIMITS, (orders: readonly Order[]) => takeOrders(services, orders));
  route(endpoints, postPreorders, async ({ body }) => {
    const bought = await services.products.byVariants(body.lines);
    const products = new Set([...bought.values()].map(({ product }) => product.id));
    const taken = queue.add([...products].sort().join('\n'), body);
    if (!taken) throw tooManyOrders();
    return reply(200, await taken, { 'Cache-Control': 'no-store' });
  });
}

/** Calls of the owner's list of reservations. */
export function preorderRoutes(endpoints: Endpoints, services: Services): void {
  const { db, live, clock } = services;

  /** The pre-order that a guest is offered now: its cap, and its dates with the rule that names them. */
  const offerOf = ({ product, variant }: ProductVariant): Pick<PreorderGoods, 'cap' | 'promise'> => {
    const moment = clock();
    const { rulebook } = live.current();
    const subject = { product, variant, visitor: guestSpeaking(null), moment, surface: 'product', page: null } as const;
    const { control, reasons } = decide(rulebook, subject);
    const reservation = reservationOf(control);
    if (!reservation) return { cap: null, promise: null };
    const counted = reservation.per === 'product' ? product.variants : [variant];
    const taken = counted.reduce((sum, { reserved }) => sum + reserved, 0);
    const rule = reservation.ships === null ? null : (reasons.control[0] ?? null);
    return {
      cap: reservation.left === null ? null : reservation.left + taken,
      promise: { rule, ...shipDates(reservation.ships, product, { moment, shop: rulebook.shop }) },
    };
  };

  route(endpoints, listPreorderGoods, async ({ query }, { request }) => {
    const { rows, total, more } = await pageOfGoods(db, query, await scopeOf(services, request));
    const { locales } = live.current().rulebook.shop;
    const known = await productVariants(
      db,
      rows.map(({ variant }) => ({ variantId: variant })),
    );
    const goods = rows.map(({ title, variantTitle, from, until, allReserved: _all, ...row }) => {
      const subject = known.get(row.variant);
      return {
        ...row,
        title: titleOf({ title, variantTitle }, null, locales),
        ...(subject ? offerOf(subject) : { cap: null, promise: null }),
        free: Math.max(0, (row.stock ?? 0) - row.allocated),
        ships: { from, until },
      };
    });
    return reply(200, { goods, total, reserved: rows[0]?.allReserved ?? 0, more });
  });

  route(endpoints, exportPreorders, async ({ query }, { request }) => {
    await knownVariant(db, query.variant, await scopeOf(services, request));
    const { rows } = await pageOfPreorders(db, { ...query, limit: MOST_IN_A_FILE });
    const lines = rows.map((row) => ({ ...toPreorder(row), shipsFrom: row.from, shipsUntil: row.until }));
    const csv = csvFile(lines, CSV_COLUMNS);
    return reply(200, csv, attachment(`pre-orders-${query.variant}.csv`));
  });

  route(endpoints, listPreorders, async ({ query }, { request }) => {
    await knownVariant(db, query.variant, await scopeOf(services, request));
    const { rows, ...page } = await pageOfPreorders(db, query);
    return reply(200, { preorders: rows.map(toPreorder), ...page });
  });

  route(endpoints, allocatePreorders, async ({ body }, { request }) => {
    const scope = await scopeOf(services, request);
    await knownVariant(db, body.variant, scope);
    return reply(200, await setAside(services, body, scope));
  });

  route(endpoints, movePreorders, async ({ body: { preorders, to, notify } }, { request }) => {
    const scope = await scopeOf(services, request);
    return reply(200, { moved: await moveTo(services, preorders, { to, notify }, scope) });
  });

  route(endpoints, putShipDate, async ({ body }, { request }) => {
    const scope = await scopeOf(services, request);
    await knownVariant(db, body.variant, scope);
    return reply(200, { notified: await moveDates(services, body, scope) });
  });
}

const CSV_COLUMNS = [
  'order',
  'state',
  'name',
  'email',
  'customer',
  'units',
  'unitPrice',
  'shipsFrom',
  'shipsUntil',
  'createdAt',
  'changedAt',
];

const toPreorder = ({ id, from, until, locale: _locale, createdAt, changedAt, ...row }: PreorderRow): Preorder => ({
  ...row,
  id: String(id),
  ships: { from, until },
  createdAt: createdAt.toISOString(),
  changedAt: changedAt.toISOString(),
});
