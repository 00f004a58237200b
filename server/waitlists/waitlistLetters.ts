import { instantWords } from '#core/texts/messages.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { titleOf } from '../catalog/titles.ts';
import type { Notification } from '../messages/outbox.ts';
import { sellerNamed } from '../scope/scope.ts';
import type { JobServices } from '../services/services.ts';
import { INVITATION } from '../visitors/visitor.ts';
import type { EntryInList, ListRow } from './waitlistQueries.ts';

export const LEAVE = 'waitlist-leave';
/** Validity of links that leave a list, and of invitations without expiry. */
const LONG_MS = 400 * 86_400_000;

/** The letter that invites somebody to buy. */
export async function invitationLetter(services: JobServices, entry: EntryInList): Promise<Notification> {
  const { live, clock, links, config } = services;
  const { rulebook, pageMap } = live.current();
  const { shop } = rulebook;
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
      until: entry.until ? instantWords(until, shop, entry.locale) : shopText('waitlist.untilGone', entry.locale, shop),
      link: page.href,
      leave: await leaveLink(services, entry.id),
    },
    seller: sellerOf(services, entry),
  };
}

/** The letter about an invitation that has lapsed. */
export function lapsedLetter(services: JobServices, entry: EntryInList): Notification {
  const { email: to, locale, name } = entry;
  const { locales } = services.live.current().rulebook.shop;
  const values = { name: name ?? '', product: titleOf(entry, locale, locales) };
  return { event: 'waitlist.lapsed', to, locale, values, seller: sellerOf(services, entry) };
}

export async function leaveLink(
  { links, clock, config }: Pick<JobServices, 'links' | 'clock' | 'config'>,
  id: number,
): Promise<string> {
  const token = await links.sign(LEAVE, clock() + LONG_MS, { entry: id });
  return `${config.publicUrl}/waitlist/leave?token=${token}`;
}

/** The seller of a list's product. */
export const sellerOf = ({ live }: JobServices, { soldBy }: Pick<ListRow, 'soldBy'>) =>
  sellerNamed(live.current(), soldBy);
