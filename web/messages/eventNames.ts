import type { ToldEvent } from '#core/texts/messageEvents.ts';

/** Names of message events. */
export const EVENT_NAMES: Readonly<Record<ToldEvent, string>> = {
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
  'enquiry.asked': 'Enquiry: received',
  'enquiry.answered': 'Enquiry: answered',
  'enquiry.new': 'Enquiry: somebody asks',
  'quote.asked': 'Quote: request received',
  'quote.priced': 'Quote: priced',
  'quote.turnedDown': 'Quote: declined by you',
  'quote.lapsed': 'Quote: lapsed',
  'quote.new': 'Quote: somebody asks for a price',
  'quote.answered': 'Quote: the customer answered',
  'sellerRules.asked': 'Rules: a seller asks to publish',
  'sellerRules.answered': 'Rules: your answer to a seller',
  'preorder.new': 'Pre-order: somebody reserved',
  'insights.week': 'Insights: the week, every Monday',
  'insights.hour': 'Insights: counts of every hour',
};

/** Names of the channels. */
export const CHANNEL_NAMES = { email: 'e-mail', text: 'text message', chat: 'chat', hook: 'web hook' } as const;
