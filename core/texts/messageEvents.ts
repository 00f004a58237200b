/** What a message is about, whom it goes to, and the placeholders that its words may have. */
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
  'quote.priced': { audience: 'customer', placeholders: ['name', 'total', 'until', 'words', 'link'] },
  'quote.turnedDown': { audience: 'customer', placeholders: ['name', 'words'] },
  'quote.lapsed': { audience: 'customer', placeholders: ['name', 'total'] },
  'quote.new': { audience: 'owner', placeholders: ['who', 'email', 'lines', 'link'] },
  'quote.answered': { audience: 'owner', placeholders: ['who', 'total', 'answer', 'words', 'link'] },
  'preorder.new': { audience: 'owner', placeholders: ['who', 'product', 'units', 'order', 'link'] },
} as const satisfies Readonly<
  Record<string, { readonly audience: 'customer' | 'owner'; readonly placeholders: readonly string[] }>
>;
export type MessageEvent = keyof typeof EVENTS;
export const EVENT_CODES = Object.keys(EVENTS) as [MessageEvent, ...MessageEvent[]];
