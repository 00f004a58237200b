import { reservationOf } from '#core/controls/controls.ts';
import type { z } from 'zod';
import { commandBetween, statesBefore, type CommandOf } from '#core/requests/machine.ts';
import { preorder, type PreorderState } from '#core/requests/preorder.ts';
import type { postPreorders } from '#core/contract/preorderCalls.ts';
import { allocate } from '#core/fulfilment/allocation.ts';
import { shipDates, type ShipDates } from '#core/fulfilment/shipping.ts';
import { shipsText } from '#core/texts/defaultTexts.ts';
import type { MessageEvent } from '#core/texts/messageEvents.ts';
import type { ProductVariant } from '#core/engine/visit.ts';
import { productVariants, lockProducts } from '../catalog/catalogQueries.ts';
import { productReader, type ProductReader } from '../catalog/productCache.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import { sellerNamed, type Scope } from '../scope/scope.ts';
import type { Queryable } from '../db/database.ts';
import { inTurn } from '../db/inTurn.ts';
import { invalid, notFound } from '../http/errors.ts';
import { answerTo, contentOf, keepAnswer, lockKey } from '../idempotency/idempotencyQueries.ts';
import { enqueueNotifications, type Notification } from '../messages/outbox.ts';
import { actorOf, effectsOfBeginning, giveCommand, perform, type Given } from '../requests/command.ts';
import { countOutcomes, type VisitorOutcome } from '../insights/countService.ts';
import { judge } from '../storefront/guardService.ts';
import { invitedEntries } from '../visitors/visitor.ts';
import { useQuote } from '../visitors/acceptedQuote.ts';
import { titleOf } from '../catalog/titles.ts';
import type { JobServices } from '../services/services.ts';
import {
  insertPreorder,
  isVariant,
  preordersByIds,
  redate,
  useInvitations,
  waitingUnits,
  type PreorderOfVariant,
} from './preorderQueries.ts';

type Order = z.infer<(typeof postPreorders)['body']>;
type Taken = z.infer<(typeof postPreorders)['replies'][200]>;

/**
 * Takes orders of the shop's in one transaction, under locks of their products, so that no cap and no invitation is used
 * twice. Each is taken whole or not at all, independently of the others. A repeated order gets the same answer again.
 * @returns the outcome of each, in their order; a reason is a {ProblemError}, 422 when something would be reserved for nobody
 */
export async function takeOrders(
  services: JobServices,
  orders: readonly Order[],
): Promise<PromiseSettledResult<Taken>[]> {
  return services.db.transaction(async (connection) => {
    // Queries of a failed order may still be queued, so all of them go through one queue.
    const client = inTurn(connection);
    const keys = orders.map(({ order }) => keyOf(order));
    for (const key of [...new Set(keys)].sort()) await lockKey(client, key);
    const variants = orders.flatMap(({ lines }) => lines.map(({ variantId }) => variantId));
    await lockProducts(client, [...new Set(variants)]);
    // The locks protect these products, so they are read again only after our own orders.
    const read = productReader(client);
    const known = new Map<string, ReturnType<typeof read.byVariants>>();
    const products: ProductReader = {
      ...read,
      byVariants: (lines) => {
        const names = lines.map(({ variantId }) => variantId).join('\n');
        const found = known.get(names) ?? read.byVariants(lines);
        known.set(names, found);
        return found;
      },
    };
    const reading = { ...services, db: client, products, visitors: visitorReader(client) };
    const counted: VisitorOutcome[] = [];
    const taken: PromiseSettledResult<Taken>[] = [];
    for (const order of orders) {
      await client.query('SAVEPOINT an_order');
      try {
        const { answer, outcomes, isChange } = await takeOrder(client, reading, order);
        if (isChange) known.clear();
        counted.push(...outcomes);
        taken.push({ status: 'fulfilled', value: answer });
      } catch (reason) {
        await client.query('ROLLBACK TO SAVEPOINT an_order');
        taken.push({ status: 'rejected', reason });
      }
    }
    await countOutcomes(client, services, counted);
    return taken;
  });
}

const keyOf = (order: string) => `order ${order}`;

interface OneTaken {
  readonly answer: Taken;
  readonly outcomes: readonly VisitorOutcome[];
  /** Whether anything was reserved or used up. */
  readonly isChange: boolean;
}

async function takeOrder(
  client: Queryable,
  services: Omit<JobServices, 'db'> & Parameters<typeof judge>[0],
  order: Order,
): Promise<OneTaken> {
  const { clock, live, links, config } = services;
  const at = new Date(clock());
  const locale = order.locale ?? null;
  const key = keyOf(order.order);
  const content = contentOf({ email: order.email, lines: merged(order.lines) });
  const before = await answerTo(client, key, content);
  if (before !== undefined) return { answer: before as Taken, outcomes: [], isChange: false };
  const judged = await judge(services, { via: 'order', ...order });
  const { ok, refusal, delivery } = judged.answer;
  const lines = judged.answer.lines.map((line) => ({ ...line, reserved: ok && line.preorder ? line.quantity : 0 }));
  const answer = { ok, refusal, delivery, lines };
  if (!ok) return { answer, outcomes: outcomesOf(judged, 'refused'), isChange: false };

  const { shop } = live.current().rulebook;
  const moment = at.getTime();
  const customer = judged.visitor.customerId;
  const person = await personOf(client, customer, order);
  if (person.email === null && customer === null && lines.some(({ reserved }) => reserved > 0)) throw nobody();
  const notifications: Notification[] = [];
  for (const { variantId, reserved, unitPrice, index } of reservations(lines)) {
    const bought = judged.goods.get(variantId);
    const decision = judged.verdicts[index]?.decision;
    const reservation = decision && reservationOf(decision.control);
    if (!bought || !reservation) continue;
    const ships = shipDates(reservation.ships, bought.product, { moment, shop });
    await insertPreorder(client, {
      variant: variantId,
      customer,
      email: order.email ?? null,
      name: order.name ?? null,
      locale,
      units: reserved,
      unitPrice,
      order: order.order,
      rule: decision.reasons.control[0] ?? null,
      ships,
      at,
    });
    const values = { units: reserved, order: order.order };
    const title = (language: string | null) =>
      titleOf({ title: bought.product.title, variantTitle: bought.variant.title }, language, shop.locales);
    const link = `${config.publicUrl}/preorders?${new URLSearchParams({ variant: variantId }).toString()}`;
    const name = person.name ?? '';
    const who = person.name ?? person.email ?? customer ?? '';
    const dates = shipsText(ships, locale, shop);
    const seller = sellerNamed(live.current(), bought.product.seller);
    const letters = await perform(effectsOfBeginning(preorder, 'reserve'), {
      letters: {
        'preorder.reserved': () => [
          {
            event: 'preorder.reserved',
            to: person.email,
            locale,
            values: { ...values, name, product: title(locale), ships: dates },
            seller,
          },
        ],
        'preorder.new': () => [
          {
            event: 'preorder.new',
            about: person.email,
            locale: null,
            values: { ...values, who, product: title(null), link },
            seller,
          },
        ],
      },
    });
    notifications.push(...letters);
  }
  await enqueueNotifications(client, services, shop, notifications);
  const entries = await invitedEntries(order.invitations ?? [], links);
  if (entries.length > 0 || customer !== null) await useInvitations(client, { lines, entries, customer, at });
  await useQuote({ ...services, db: client }, order.quote, order.order);
  await keepAnswer(client, { key, content, answer, at });
  return { answer, outcomes: outcomesOf(judged, 'finished'), isChange: true };
}

/** Outcomes of an order for the counts: for a refused order, the lines that caused it. */
function outcomesOf(
  { answer, verdicts, goods, visitor }: Awaited<ReturnType<typeof judge>>,
  event: VisitorOutcome['event'],
): VisitorOutcome[] {
  return answer.lines.flatMap(({ variantId, ok }, index) => {
    const [bought, decision] = [goods.get(variantId), verdicts[index]?.decision];
    if (!bought || !decision || (event === 'refused' && ok)) return [];
    return { event, visitor, product: bought.product.id, variant: variantId, surface: 'cart', decision };
  });
}

/** The lines of an order without the order they came in, those of one variant at one price together. */
function merged(lines: Order['lines']): [string, number][] {
  const units = new Map<string, number>();
  for (const { variantId, quantity, unitPrice } of lines) {
    const key = `${variantId} ${unitPrice ?? ''}`;
    units.set(key, (units.get(key) ?? 0) + quantity);
  }
  return [...units].sort(([a], [b]) => (a < b ? -1 : 1));
}

/** Groups reserved lines by variant. `index` is the first line's. */
function reservations(lines: Taken['lines']) {
  const byVariant = new Map<string, { variantId: string; reserved: number; unitPrice: number | null; index: number }>();
  for (const [index, { variantId, reserved, unitPrice }] of lines.entries()) {
    const before = byVariant.get(variantId);
    if (before) before.reserved += reserved;
    else if (reserved > 0) byVariant.set(variantId, { variantId, reserved, unitPrice, index });
  }
  return byVariant.values();
}

const nobody = () =>
  invalid('The order', [
    { pointer: '/email', found: 'nothing', allowed: 'an e-mail address, since something is reserved for a guest' },
  ]);

async function personOf(client: Queryable, customer: string | null, order: Pick<Order, 'email' | 'name'>) {
  const { rows } = await client.query<{ name: string | null; email: string | null }>(
    'SELECT name, email FROM customers WHERE external_id = $1',
    [customer],
  );
  return { name: order.name ?? rows[0]?.name ?? null, email: order.email ?? rows[0]?.email ?? null };
}

/** Sets units aside for those who wait, first come, first served; a preview changes nothing. */
export async function setAside(
  services: JobServices,
  request: { variant: string; units: number; first: readonly string[]; preview: boolean },
  scope: Scope,
): Promise<{ served: string[]; left: number }> {
  return services.db.transaction(async (client) => {
    await lockProducts(client, [request.variant]);
    const waiting = await waitingUnits(client, request.variant);
    const { served, left } = allocate(request.units, waiting, new Set(request.first));
    if (!request.preview) await giveToReservations(client, services, { command: 'allocate', scope }, served);
    return { served: [...served], left };
  });
}

/**
 * Brings reservations to a state by the command that leads there from the state of each.
 * @returns how many were moved: those of the scope alone
 */
export async function moveTo(
  services: JobServices,
  ids: readonly string[],
  { to, notify: isTold }: { to: PreorderState; notify: boolean },
  scope: Scope,
): Promise<number> {
  return services.db.transaction(async (client) => {
    const byCommand = new Map<PreorderCommand, number[]>();
    for (const { id, state } of await preordersByIds(client, ids.map(Number))) {
      const command = commandBetween(preorder, state, to, actorOf(scope));
      if (command) byCommand.set(command, [...(byCommand.get(command) ?? []), id]);
    }
    let moved = 0;
    for (const [command, some] of byCommand)
      moved += await giveToReservations(client, services, { command, scope, to, isTold }, some);
    return moved;
  });
}

/** Moves the ship date of all open reservations of a variant, and notifies the customers. @returns the number notified */
export async function moveDates(
  services: JobServices,
  { variant, words, ...dates }: ShipDates & { variant: string; words: string },
  scope: Scope,
): Promise<number> {
  return services.db.transaction(async (client) => {
    const ids = await redate(client, variant, { ...dates, states: statesBefore(preorder, 'redate') });
    return giveToReservations(client, services, { command: 'redate', scope, words }, ids);
  });
}

type PreorderCommand = CommandOf<typeof preorder>;

/** Gives a command to reservations. @returns how many it moved */
async function giveToReservations(
  client: Queryable,
  services: JobServices,
  given: Pick<Given<'preorder'>, 'command' | 'scope'> & {
    readonly to?: PreorderState;
    /** Whether customers are notified; they are if it is missing. */
    readonly isTold?: boolean;
    /** Words of the owner for the letter. */
    readonly words?: string;
  },
  ids: readonly (number | string)[],
): Promise<number> {
  const { isTold = true, words = '', ...command } = given;
  const at = new Date(services.clock());
  const full = { kind: 'preorder', actor: actorOf(given.scope), at, ...command } as const;
  const moved = await giveCommand(client, services, full, ids.map(Number), async (movedIds) => {
    const rows = new Map((await preordersByIds(client, movedIds)).map((row) => [row.id, row]));
    const goods = await productVariants(
      client,
      [...rows.values()].map(({ variant }) => ({ variantId: variant })),
    );
    return (id) => {
      const row = rows.get(id)!;
      const letter = (event: MessageEvent) => () =>
        isTold ? [letterAbout(services, event, row, goods.get(row.variant), { words })] : [];
      return {
        letters: {
          'preorder.allocated': letter('preorder.allocated'),
          'preorder.cancelled': letter('preorder.cancelled'),
          'preorder.moved': letter('preorder.moved'),
        },
      };
    };
  });
  return moved.length;
}

function letterAbout(
  services: JobServices,
  event: MessageEvent,
  { variant, email, name, locale, units, order, from, until }: PreorderOfVariant,
  found: ProductVariant | undefined,
  more: Readonly<Record<string, string>>,
): Notification {
  const live = services.live.current();
  const { shop } = live.rulebook;
  const title = found && { title: found.product.title, variantTitle: found.variant.title };
  const values = {
    ...more,
    name: name ?? '',
    product: title ? titleOf(title, locale, shop.locales) : variant,
    units,
    order: order ?? '',
    ships: shipsText({ from, until }, locale, shop),
  };
  return { event, to: email, locale, values, seller: sellerNamed(live, found?.product.seller ?? null) };
}

/** @throws {ProblemError} 404 when the variant does not exist within the scope */
export async function knownVariant(db: Queryable, variant: string, scope: Scope): Promise<void> {
  if (!(await isVariant(db, variant, scope))) throw notFound(`variant ${variant}`);
}
