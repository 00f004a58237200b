import { machine } from './machine.ts';

export const ENQUIRY_STATES = ['open', 'answered', 'closed'] as const;
export type EnquiryState = (typeof ENQUIRY_STATES)[number];

/** A question about a product, asked by a form. */
export const enquiry = machine(ENQUIRY_STATES, {
  ask: {
    by: ['customer'],
    from: [null],
    to: ['open'],
    effects: [{ count: 'finished' }, { letter: 'enquiry.asked' }, { letter: 'enquiry.new' }],
    otherwise: 'This was asked already.',
  },
  answer: {
    by: ['owner', 'seller'],
    from: ENQUIRY_STATES,
    to: ['answered'],
    effects: [{ conversation: 'shop' }, { letter: 'enquiry.answered' }],
    otherwise: 'This cannot be answered.',
  },
  close: {
    by: ['owner', 'seller'],
    from: ['open', 'answered'],
    to: ['closed'],
    effects: [],
    otherwise: 'This is closed already.',
  },
  reopen: {
    by: ['owner', 'seller'],
    from: ['answered', 'closed'],
    to: ['open'],
    effects: [],
    otherwise: 'This is open already.',
  },
});
