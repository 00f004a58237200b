import { enquiry } from './enquiry.ts';
import { preorder } from './preorder.ts';
import { quote } from './quote.ts';
import { quotePart } from './quotePart.ts';
import { waitlist } from './waitlist.ts';

/** The lifecycle of every kind of request. */
export const REQUESTS = { waitlist, preorder, enquiry, quote, quotePart } as const;
export type RequestKind = keyof typeof REQUESTS;
