import type { z } from 'zod';
import type { joinWaitlist } from '#core/contract/waitlistCalls.ts';
import { rulesAbout } from '#core/engine/compile.ts';
import type { VisitorFacts } from '#core/model/subject.ts';
import type { Actor } from '#core/requests/machine.ts';
import { waitlist } from '#core/requests/waitlist.ts';
import { visitorStatusText } from '#core/texts/defaultTexts.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import type { JWTPayload } from 'jose';
import type { Queryable } from '../db/database.ts';
import { useLink } from '../services/linkKeys.ts';
import { WHOLE_SHOP } from '../scope/scope.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { productAt, productsByKeys } from '../catalog/catalogQueries.ts';
import { countOutcomes } from '../insights/countService.ts';
import { holdReasonFor } from '../messages/letterLimits.ts';
import { enqueueNotifications } from '../messages/outbox.ts';
import { carryOut, effectsOfBeginning, giveCommand, moveRequests, type Given } from '../requests/command.ts';
import type { JobServices } from '../services/services.ts';
import { titleOf } from '../catalog/titles.ts';
import { offersOf } from '../requests/offered.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import {
  entriesByIds,
  entriesDue,
  findList,
  insertEntry,
  listsDue,
  listsThatInvite,
  lockList,
  openEntryOf,
  placeOf,
  insertInvitations,
  lastTurnOf,
  nextInLine,
  type EntryInList,
  type Joining,
  type ListRow,
  type Turn,
} from './waitlistQueries.ts';
import { invitationLetter, lapsedLetter, leaveLink, sellerOf } from './waitlistLetters.ts';

export const CONFIRM = 'waitlist-confirm';
const DAY_MS = 86_400_000;
/** Validity of the link that confirms an address. */
const CONFIRM_MS = 3 * DAY_MS;

type Join = z.infer<(typeof joinWaitlist)['body']>;

type Joined =
  | { readonly state: 'waiting'; readonly position: number; readonly length: number; readonly html: string }
  | { readonly state: 'confirm'; readonly html: string };

/**
 * Joins the list that is offered for a product now. Signed-in visitors are on it at once; other addresses are first sent a link.
 * No answer reveals whether an address is on a list.
 * @throws {ProblemError} where no list is offered, or an account is needed
 */
export async function join(services: JobServices, request: Join, network: string): Promise<Joined> {
  const { db, live, clock, links, config } = services;
  const { rulebook, visitorSecrets: secrets } = live.current();
  const { shop } = rulebook;
  const moment = clock();
  const locale = request.locale ?? null;
  const [product, visitor] = await Promise.all([
    productAt(db, request.path),
    visitorOf({ ...services, visitors: visitorReader(db) }, { token: request.visitor, locale, secrets, moment }),
  ]);
  if (!product) throw notFound('product with that address');
  const [found] = offersOf(rulebook, product, { visitor, moment }, { kind: 'waitlist', variant: request.variantId });
  if (!found) throw noList();
  const { control, decision } = found;
  if (control.account === 'required' && !visitor.signedIn) throw signInFirst();
  const variant = control.per === 'product' ? null : decision.variantId;
  const list = await findList(db, { product: product.id, variant }, WHOLE_SHOP);
  if (!list) throw noList();

  if (visitor.customerId !== null) {
    const who = {
      customer: visitor.customerId,
      email: null,
      name: request.name ?? null,
      locale,
      at: new Date(moment),
      accountOnly: control.account === 'required',
    };
    return (await joinList(services, list, who, visitor, null))!;
  }
  if (request.email === undefined) throw noAddress();
  // No answer reveals that an e-mail cannot be sent.
  if (config.smtpUrl === null) throw noLetters(shopText('waitlist.noLetters', locale, shop));
  const claims = {
    product: list.product,
    variant: list.variant,
    email: request.email,
    name: request.name ?? null,
    locale,
  };
  const token = await links.sign(CONFIRM, moment + CONFIRM_MS, claims);
  const link = `${config.publicUrl}/waitlist/confirm?token=${token}`;
  const values = { product: titleOf(list, locale, shop.locales), link };
  const { email: to } = request;
  const holdReason = await holdReasonFor(db, to, { network, customer: null });
  await db.transaction((client) =>
    enqueueNotifications(client, services, shop, [
      { event: 'waitlist.confirm', to, locale, values, held: holdReason, seller: sellerOf(services, list) },
    ]),
  );
  return { state: 'confirm', html: shopText('waitlist.confirm', locale, shop) };
}

/** Text that a list's rule shows after joining, as safe HTML (empty without one), and the decision. */
async function textAfterJoining({ db, live, clock }: JobServices, list: ListRow, visitor: VisitorFacts) {
  const { rulebook } = live.current();
  const [product] = await productsByKeys(db, { ids: [list.product], paths: [] });
  const seen = { visitor, moment: clock(), page: null };
  const [offer] = product ? offersOf(rulebook, product, seen, { kind: 'waitlist', variant: list.variant }) : [];
  const decision = offer?.decision ?? null;
  const render = rulesAbout(rulebook, product ?? null).find(({ rule }) => rule.id === decision?.reasons.control[0])
    ?.prepared.control?.joinedText;
  const variant = product?.variants.find(({ id }) => id === decision?.variantId);
  return {
    html: product && variant && render ? render({ ...seen, product, variant, surface: 'product' }) : '',
    decision,
  };
}

/**
 * Puts a person whose address or account is known to be theirs on a list; once, however often it is asked.
 * @param link is used up by it; null without one
 * @returns null when the link was used before, and the person is not on the list any more
 */
export async function joinList(
  services: JobServices,
  list: ListRow,
  who: Joining,
  visitor: VisitorFacts,
  link: JWTPayload | null,
): Promise<Extract<Joined, { state: 'waiting' }> | null> {
  const { db, live, config } = services;
  const { shop } = live.current().rulebook;
  const { html: text, decision } = await textAfterJoining(services, list, visitor);
  const found = await db.transaction(async (client) => {
    await lockList(client, list);
    // Repeated, it answers as before; people who left since are not added again.
    const isGood = link === null || (await useLink(client, link));
    const entered = isGood ? await insertEntry(client, list, who) : null;
    const id = entered ?? (await openEntryOf(client, list, who));
    if (id === null && !isGood) return null;
    if (id === null) throw noAddress();
    const place = await placeOf(client, list, id);
    const leave = await leaveLink(services, id);
    if (entered !== null) {
      const { product: productId, variant } = list;
      const outcome = { event: 'finished', product: productId, variant, surface: 'product' } as const;
      const [entry] = await entriesByIds(client, [id], WHOLE_SHOP);
      const product = titleOf(list, who.locale, shop.locales);
      const seller = sellerOf(services, list);
      await carryOut(client, services, effectsOfBeginning(waitlist, 'join'), {
        count: () => countOutcomes(client, services, decision ? [{ ...outcome, visitor, decision }] : []),
        letters: {
          'waitlist.joined': () => [
            {
              event: 'waitlist.joined',
              to: entry?.email ?? null,
              locale: who.locale,
              values: { name: entry?.name ?? '', product, ...place, leave },
              seller,
            },
          ],
          'waitlist.new': () => [
            {
              event: 'waitlist.new',
              about: entry?.email ?? null,
              locale: null,
              values: {
                who: entry?.name ?? entry?.email ?? entry?.customer ?? '',
                product: titleOf(list, null, shop.locales),
                length: place.length,
                link: `${config.publicUrl}/waitlists?${listQuery(list)}`,
              },
              seller,
            },
          ],
        },
      });
    }
    return { ...place, leave };
  });
  if (!found) return null;
  const { leave, ...place } = found;
  const statusHtml = visitorStatusText({ state: 'waiting', position: place.position, leave }, shop, who.locale);
  const html = [text, statusHtml].filter(Boolean).join(' ');
  return { state: 'waiting', ...place, html };
}

/** Invites the next people, or those chosen, to buy. @returns the number invited */
export async function invite(services: JobServices, list: ListRow, how: Omit<Inviting, 'at'>): Promise<number> {
  const at = new Date(services.clock());
  return services.db.transaction(async (client) => {
    await lockList(client, list);
    return inviteNext(client, services, list, { ...how, at });
  });
}

interface Inviting extends Turn {
  readonly most: number;
  readonly only: readonly number[] | null;
  readonly at: Date;
  readonly actor: Actor;
}

/** Gives turns to the next people of a list. The caller locks the list. @returns the number of people */
async function inviteNext(
  client: Queryable,
  services: JobServices,
  list: ListRow,
  { actor, at, hours, units, ...whom }: Inviting,
): Promise<number> {
  const next = await nextInLine(client, list, whom);
  const given = { kind: 'waitlist', command: 'invite', actor, at, scope: WHOLE_SHOP } as const;
  const invited = await giveCommand(client, services, given, next, async (ids) => {
    await insertInvitations(client, ids, { at, hours, units });
    const entries = await entriesOf(client, ids);
    return (id) => ({
      letters: { 'waitlist.invited': async () => [await invitationLetter(services, entries.get(id)!)] },
    });
  });
  return invited.length;
}

const entriesOf = async (client: Queryable, ids: readonly number[]) =>
  new Map((await entriesByIds(client, ids, WHOLE_SHOP)).map((entry) => [entry.id, entry]));

/** Takes people off their list, whose turn, if they had one, passes to the next person. The caller locks the list. */
async function endPlaces(
  client: Queryable,
  services: JobServices,
  list: ListRow,
  given: Pick<Given<'waitlist'>, 'command' | 'actor' | 'at'>,
  ids: readonly number[],
): Promise<number> {
  const ended = await giveCommand(
    client,
    services,
    { kind: 'waitlist', scope: WHOLE_SHOP, ...given },
    ids,
    async (moved) => {
      const entries = await entriesOf(client, moved);
      return (id) => ({
        letters: { 'waitlist.lapsed': () => [lapsedLetter(services, entries.get(id)!)] },
        turn: async () => {
          const turn = await lastTurnOf(client, id);
          const next = { most: 1, only: null, at: given.at, actor: 'system' } as const;
          if (turn) await inviteNext(client, services, list, { ...next, ...turn });
        },
      });
    },
  );
  return ended.length;
}

/** Leaves a list, waiting or invited; an invitation passes to the next person. @returns whether the entry was on it */
export async function leaveList(
  services: JobServices,
  id: number,
  given: Pick<Given<'waitlist'>, 'command' | 'actor'>,
): Promise<boolean> {
  const at = new Date(services.clock());
  return services.db.transaction(async (client) => {
    const [entry] = await entriesByIds(client, [id], WHOLE_SHOP);
    if (!entry) return false;
    await lockList(client, entry);
    return (await endPlaces(client, services, entry, { ...given, at }, [id])) > 0;
  });
}

/** Puts somebody back who was removed or whose turn has lapsed. @returns whether they were put back */
export async function restorePlace(services: JobServices, id: number, actor: Actor): Promise<boolean> {
  const given = { kind: 'waitlist', command: 'restore', actor, scope: WHOLE_SHOP } as const;
  const restored = services.db.transaction((client) =>
    moveRequests(client, { ...given, at: new Date(services.clock()) }, [id]),
  );
  return restored.then(
    (moved) => moved.length > 0,
    (error: unknown) => {
      // Joined again meanwhile.
      if (error instanceof Error && 'code' in error && error.code === '23505') return false;
      throw error;
    },
  );
}

/** Lets turns that are over lapse to the next person of their list, who has as long. @returns how many lapsed */
export async function expireInvitations(services: JobServices): Promise<number> {
  const { db, clock } = services;
  const at = new Date(clock());
  let count = 0;
  for (const list of await listsDue(db, at))
    count += await db.transaction(async (client) => {
      // Locks the list before its people, as all other operations do.
      await lockList(client, list);
      const due = await entriesDue(client, list, at);
      return endPlaces(client, services, list, { command: 'lapse', actor: 'system', at }, due);
    });
  return count;
}

/** Invites from lists with automatic invitations, as many people as there are unpromised units. */
export async function inviteAsStockLands(services: JobServices, variants: readonly string[]): Promise<void> {
  const at = new Date(services.clock());
  for (const list of await listsThatInvite(services.db, variants))
    await services.db.transaction(async (client) => {
      await lockList(client, list);
      // Counted under the lock: another copy may have invited meanwhile.
      const now = (await listsThatInvite(client, variants)).find(
        ({ productKey, variantKey }) => productKey === list.productKey && variantKey === list.variantKey,
      );
      const most = now ? Math.min(1000, now.stock - now.promised) : 0;
      if (!now || most <= 0) return;
      await inviteNext(client, services, now, { most, only: null, at, actor: 'system', hours: now.hours, units: 1 });
    });
}

const listQuery = ({ product, variant }: Pick<EntryInList, 'product' | 'variant'>) =>
  new URLSearchParams({ product, ...(variant === null ? {} : { variant }) }).toString();

const noList = () => new ProblemError('no-waitlist', 'No waitlist stands for these goods now. Look at the page again.');
const signInFirst = () =>
  new ProblemError('sign-in-first', 'Only those with an account can join this list. Sign in first.');
const noLetters = (detail: string) => new ProblemError('no-letters', detail);
const noAddress = () => new ProblemError('no-address', 'There is no address to write to. Give an e-mail address.');
