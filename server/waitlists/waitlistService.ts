import type { z } from 'zod';
import type { joinWaitlist } from '#core/contract/waitlistCalls.ts';
import { rulesAbout } from '#core/engine/compile.ts';
import type { VisitorFacts } from '#core/model/subject.ts';
import { instantWords } from '#core/texts/messages.ts';
import { visitorStatusText } from '#core/texts/defaultTexts.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import type { JWTPayload } from 'jose';
import type { Queryable } from '../db/database.ts';
import { useLink } from '../services/linkKeys.ts';
import { sellerNamed, WHOLE_SHOP } from '../scope/scope.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { productAt, productsByKeys } from '../catalog/catalogQueries.ts';
import { countOutcomes } from '../insights/countService.ts';
import { holdReasonFor } from '../messages/letterLimits.ts';
import { enqueueNotifications, type Notification } from '../messages/outbox.ts';
import type { JobServices } from '../services/services.ts';
import { titleOf } from '../catalog/titles.ts';
import { offersOf } from '../requests/offered.ts';
import { INVITATION, visitorOf } from '../visitors/visitor.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import {
  entriesByIds,
  entriesDue,
  findList,
  insertEntry,
  listsDue,
  listsThatInvite,
  lockList,
  moveEntry,
  openEntryOf,
  openTurnOf,
  placeOf,
  inviteNext,
  type EntryInList,
  type Joining,
  type ListRow,
  type Turn,
} from './waitlistQueries.ts';

export const CONFIRM = 'waitlist-confirm';
export const LEAVE = 'waitlist-leave';
const DAY_MS = 86_400_000;
/** Validity of the link that confirms an address. */
const CONFIRM_MS = 3 * DAY_MS;
/** Validity of links that leave a list, and of invitations without expiry. */
const LONG_MS = 400 * DAY_MS;

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
      await countOutcomes(client, services, decision ? [{ ...outcome, visitor, decision }] : []);
      const [entry] = await entriesByIds(client, [id], WHOLE_SHOP);
      const product = titleOf(list, who.locale, shop.locales);
      const name = entry?.name ?? '';
      const toOwner = `${config.publicUrl}/waitlists?${listQuery(list)}`;
      await enqueueNotifications(client, services, shop, [
        {
          event: 'waitlist.joined',
          to: entry?.email ?? null,
          locale: who.locale,
          values: { name, product, ...place, leave },
          seller: sellerOf(services, list),
        },
        {
          event: 'waitlist.new',
          about: entry?.email ?? null,
          locale: null,
          values: {
            who: entry?.name ?? entry?.email ?? entry?.customer ?? '',
            product: titleOf(list, null, shop.locales),
            length: place.length,
            link: toOwner,
          },
          seller: sellerOf(services, list),
        },
      ]);
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
export async function invite(
  services: JobServices,
  list: ListRow,
  how: { most: number; only: readonly number[] | null } & Turn,
): Promise<number> {
  const { db, clock } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    await lockList(client, list);
    const ids = await inviteNext(client, list, { ...how, at });
    await notifyInvited(client, services, ids);
    return ids.length;
  });
}

async function notifyInvited(client: Queryable, services: JobServices, ids: readonly number[]): Promise<void> {
  const { live, clock, links, config } = services;
  const { rulebook, pageMap } = live.current();
  const { shop } = rulebook;
  const notifications = (await entriesByIds(client, ids, WHOLE_SHOP)).map(async (entry): Promise<Notification> => {
    const until = entry.until?.getTime() ?? clock() + LONG_MS;
    const token = await links.sign(INVITATION, until, { entry: entry.id });
    const page = new URL(entry.path ?? '/', pageMap?.site ?? config.publicUrl);
    page.searchParams.set('invitation', token);
    return {
      event: 'waitlist.invited',
      to: entry.email,
      locale: entry.locale,
      values: {
        name: entry.name ?? '',
        product: titleOf(entry, entry.locale, shop.locales),
        until: entry.until
          ? instantWords(until, shop, entry.locale)
          : shopText('waitlist.untilGone', entry.locale, shop),
        link: page.href,
        leave: await leaveLink(services, entry.id),
      },
      seller: sellerOf(services, entry),
    };
  });
  await enqueueNotifications(client, services, shop, await Promise.all(notifications));
}

/** Leaves a list, waiting or invited; an invitation passes to the next person. @returns whether the entry was on it */
export async function leaveList(services: JobServices, id: number, as: 'left' | 'removed'): Promise<boolean> {
  const { db, clock } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    const [entry] = await entriesByIds(client, [id], WHOLE_SHOP);
    if (!entry) return false;
    await lockList(client, entry);
    const turn = await openTurnOf(client, id);
    const hasLeft = await moveEntry(client, id, { to: as, from: ['waiting', 'invited'], at });
    if (hasLeft && turn) {
      const next = await inviteNext(client, entry, { most: 1, only: null, at, ...turn });
      await notifyInvited(client, services, next);
    }
    return hasLeft;
  });
}

/** Lets turns that are over lapse to the next person of their list, who has as long. @returns how many lapsed */
export async function expireInvitations(services: JobServices): Promise<number> {
  const { db, clock, live } = services;
  const at = new Date(clock());
  const { shop } = live.current().rulebook;
  let lapsed = 0;
  for (const list of await listsDue(db, at))
    lapsed += await db.transaction(async (client) => {
      // Locks the list before its people, as all other operations do.
      await lockList(client, list);
      const due = await entriesDue(client, list, at);
      for (const { id, ...turn } of due) {
        await moveEntry(client, id, { to: 'lapsed', from: ['invited'], at });
        const [entry] = await entriesByIds(client, [id], WHOLE_SHOP);
        if (!entry) continue;
        const { email: to, locale, name } = entry;
        const values = { name: name ?? '', product: titleOf(entry, locale, shop.locales) };
        await enqueueNotifications(client, services, shop, [
          { event: 'waitlist.lapsed', to, locale, values, seller: sellerOf(services, entry) },
        ]);
        await notifyInvited(client, services, await inviteNext(client, list, { most: 1, only: null, at, ...turn }));
      }
      return due.length;
    });
  return lapsed;
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
      await notifyInvited(
        client,
        services,
        await inviteNext(client, now, { most, only: null, at, hours: now.hours, units: 1 }),
      );
    });
}

export async function leaveLink(
  { links, clock, config }: Pick<JobServices, 'links' | 'clock' | 'config'>,
  id: number,
): Promise<string> {
  const token = await links.sign(LEAVE, clock() + LONG_MS, { entry: id });
  return `${config.publicUrl}/waitlist/leave?token=${token}`;
}

const sellerOf = ({ live }: JobServices, { soldBy }: Pick<ListRow, 'soldBy'>) => sellerNamed(live.current(), soldBy);

const listQuery = ({ product, variant }: Pick<EntryInList, 'product' | 'variant'>) =>
  new URLSearchParams({ product, ...(variant === null ? {} : { variant }) }).toString();

const noList = () => new ProblemError('no-waitlist', 'No waitlist stands for these goods now. Look at the page again.');
const signInFirst = () =>
  new ProblemError('sign-in-first', 'Only those with an account can join this list. Sign in first.');
const noLetters = (detail: string) => new ProblemError('no-letters', detail);
const noAddress = () => new ProblemError('no-address', 'There is no address to write to. Give an e-mail address.');
