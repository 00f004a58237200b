/**
 * Event of a message, its recipients and the placeholders of its text, and whether it is sent only to recipients who chose
 * it.
 */
export const EVENTS = {
  'pageMap.broken': { audience: 'owner', placeholders: ['parts', 'link'] },
  'waitlist.confirm': { audience: 'customer', placeholders: ['product', 'link'] },
  'waitlist.joined': { audience: 'customer', placeholders: ['name', 'product', 'position', 'length', 'leave'] },
  'waitlist.invited': { audience: 'customer', placeholders: ['name', 'product', 'until', 'link', 'leave'] },
  'waitlist.lapsed': { audience: 'customer', placeholders: ['name', 'product'] },
  'waitlist.new': { audience: 'owner', placeholders: ['who', 'product', 'length', 'link'] },
  'preorder.reserved': { audience: 'customer', placeholders: ['name', 'product', 'units', 'ships', 'order'] },
  'preorder.moved': { audience: 'customer', placeholders: ['name', 'product', 'units', 'ships', 'order', 'words'] },
  'preorder.allocated': { audience: 'customer', placeholders: ['name', 'product', 'units', 'order'] },
  'preorder.cancelled': { audience: 'customer', placeholders: ['name', 'product', 'units', 'order'] },
  'enquiry.asked': { audience: 'customer', placeholders: ['name', 'product', 'words'] },
  'enquiry.answered': { audience: 'customer', placeholders: ['name', 'product', 'words'] },
  'enquiry.new': { audience: 'owner', placeholders: ['who', 'email', 'product', 'page', 'words', 'link'] },
  'quote.asked': { audience: 'customer', placeholders: ['name', 'lines', 'link'] },
  'quote.priced': { audience: 'customer', placeholders: ['name', 'total', 'until', 'products', 'words', 'link'] },
  'quote.turnedDown': { audience: 'customer', placeholders: ['name', 'words'] },
  'quote.lapsed': { audience: 'customer', placeholders: ['name', 'total'] },
  'quote.new': { audience: 'owner', placeholders: ['who', 'email', 'lines', 'products', 'link'] },
  'quote.answered': { audience: 'owner', placeholders: ['who', 'total', 'answer', 'words', 'link'] },
  'sellerRules.asked': { audience: 'owner', placeholders: ['who', 'link'] },
  'sellerRules.answered': { audience: 'owner', placeholders: ['answer', 'words', 'link'] },
  'preorder.new': { audience: 'owner', placeholders: ['who', 'product', 'units', 'order', 'link'] },
  'insights.week': {
    audience: 'owner',
    isOptional: true,
    placeholders: [
      'seen',
      'pressed',
      'pressedBefore',
      'finished',
      'finishedBefore',
      'shown',
      'waiting',
      'reserved',
      'quotes',
      'enquiries',
      'changes',
      'link',
    ],
  },
} as const satisfies Readonly<
  Record<
    string,
    { readonly audience: 'customer' | 'owner'; readonly placeholders: readonly string[]; readonly isOptional?: true }
  >
>;
export type MessageEvent = keyof typeof EVENTS;
export const EVENT_CODES = Object.keys(EVENTS) as [MessageEvent, ...MessageEvent[]];

/** Events sent to programs only, as JSON. */
const FOR_PROGRAMS = ['insights.hour'] as const;
/** Events that send messages, with their subjects. */
export type ToldEvent = MessageEvent | (typeof FOR_PROGRAMS)[number];
export const TOLD_CODES: readonly [ToldEvent, ...ToldEvent[]] = [...EVENT_CODES, ...FOR_PROGRAMS];
/** Events that programs can receive: they are not asked to confirm an address. */
export const HOOK_CODES = TOLD_CODES.filter((event) => event !== 'waitlist.confirm') as [HookEvent, ...HookEvent[]];
export type HookEvent = Exclude<ToldEvent, 'waitlist.confirm'>;

export const audienceOf = (event: ToldEvent): 'customer' | 'owner' =>
  event === 'insights.hour' ? 'owner' : EVENTS[event].audience;
