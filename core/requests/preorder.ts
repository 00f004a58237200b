import { machine } from './machine.ts';

export const PREORDER_STATES = ['reserved', 'allocated', 'fulfilled', 'cancelled'] as const;
export type PreorderState = (typeof PREORDER_STATES)[number];

/** States in which a reservation takes up units of a cap. */
export const TAKING_UNITS = ['reserved', 'allocated'] as const satisfies readonly PreorderState[];

/** A reservation of units by one order. Orders are counted whole, with lines that reserve nothing. */
export const preorder = machine(PREORDER_STATES, {
  reserve: {
    by: ['customer'],
    from: [null],
    to: ['reserved'],
    effects: [{ letter: 'preorder.reserved' }, { letter: 'preorder.new' }],
    otherwise: 'This order has been taken already.',
  },
  allocate: {
    by: ['owner', 'seller'],
    from: ['reserved'],
    to: ['allocated'],
    effects: [{ letter: 'preorder.allocated' }],
    otherwise: 'Only reservations that wait for stock can be allocated.',
  },
  release: {
    by: ['owner', 'seller'],
    from: ['allocated'],
    to: ['reserved'],
    effects: [],
    otherwise: 'Only allocated reservations can be released.',
  },
  redate: {
    by: ['owner', 'seller'],
    from: ['reserved'],
    to: ['same'],
    effects: [{ letter: 'preorder.moved' }],
    otherwise: 'Only reservations that wait for stock can be moved to another date.',
  },
  fulfil: {
    by: ['owner', 'seller'],
    from: TAKING_UNITS,
    to: ['fulfilled'],
    effects: [],
    otherwise: 'Only open reservations can be marked as sent.',
  },
  unfulfil: {
    by: ['owner', 'seller'],
    from: ['fulfilled'],
    to: ['allocated', 'reserved'],
    effects: [],
    otherwise: 'Only reservations that were marked as sent can be reopened.',
  },
  cancel: {
    by: ['owner', 'seller'],
    from: TAKING_UNITS,
    to: ['cancelled'],
    effects: [{ letter: 'preorder.cancelled' }],
    otherwise: 'Only open reservations can be cancelled.',
  },
  restore: {
    by: ['owner', 'seller'],
    from: ['cancelled'],
    to: ['reserved', 'allocated'],
    effects: [],
    otherwise: 'Only cancelled reservations can be restored.',
  },
});
