import { machine } from './machine.ts';
import { QUOTE_PART_STATES } from './quoteParts.ts';

/** The part of a quote that one seller, or the shop, prices. */
export const quotePart = machine(QUOTE_PART_STATES, {
  price: {
    by: ['owner', 'seller'],
    from: QUOTE_PART_STATES,
    to: ['priced'],
    effects: [],
    otherwise: 'This part cannot be priced.',
  },
  turnDown: {
    by: ['owner', 'seller'],
    from: ['asked', 'priced'],
    to: ['turnedDown'],
    effects: [],
    otherwise: 'This part was turned down already.',
  },
  askAgain: {
    by: ['customer', 'system'],
    from: ['asked', 'priced'],
    to: ['asked'],
    effects: [],
    otherwise: 'This part was turned down.',
  },
});
