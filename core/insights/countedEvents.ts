import { CONTROL_NAMES, type DecidedControl } from '../controls/controls.ts';

/** Events from shoppers' browsers: a control was in view, or was pressed. */
export const SHOPPER_EVENTS = ['seen', 'pressed'] as const;

/**
 * All that is counted. What a stand-in led to is counted where it is certain, by the server: an order, a place on a
 * waitlist, a request for a price, an enquiry; and what the guard refused.
 */
export const COUNTED_EVENTS = [...SHOPPER_EVENTS, 'finished', 'refused'] as const;
export type CountedEvent = (typeof COUNTED_EVENTS)[number];

type Kind = DecidedControl['kind'];
/** Every kind of control that a page can show. */
export const DECIDED_KINDS = Object.keys(CONTROL_NAMES) as [Kind, ...Kind[]];
