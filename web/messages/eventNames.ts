import type { MessageEvent } from '#core/texts/messages.ts';

/** What each message is about, for the owner. */
export const EVENT_NAMES: Readonly<Record<MessageEvent, string>> = {
  'pageMap.broken': 'Page map broken',
  'waitlist.confirm': 'Waitlist: confirm the address',
  'waitlist.joined': 'Waitlist: joined',
  'waitlist.invited': 'Waitlist: invited',
  'waitlist.lapsed': 'Waitlist: turn has passed',
  'waitlist.new': 'Waitlist: somebody joined',
  'preorder.reserved': 'Pre-order: reserved',
  'preorder.moved': 'Pre-order: date moved',
  'preorder.allocated': 'Pre-order: has come in',
  'preorder.cancelled': 'Pre-order: cancelled',
  'preorder.new': 'Pre-order: somebody reserved',
};
