import { machine } from './machine.ts';

export const WAITLIST_STATES = ['waiting', 'invited', 'bought', 'lapsed', 'left', 'removed'] as const;
export type WaitlistState = (typeof WAITLIST_STATES)[number];

/** States of a person who is on a list. */
export const ON_LIST = ['waiting', 'invited'] as const satisfies readonly WaitlistState[];

/** A person's place on a waitlist. */
export const waitlist = machine(WAITLIST_STATES, {
  join: {
    by: ['customer'],
    from: [null],
    to: ['waiting'],
    effects: [{ count: 'finished' }, { letter: 'waitlist.joined' }, { letter: 'waitlist.new' }],
    otherwise: 'They are on this list already.',
  },
  invite: {
    by: ['owner', 'seller', 'system'],
    from: ['waiting'],
    to: ['invited'],
    effects: [{ letter: 'waitlist.invited' }],
    otherwise: 'Only people who are waiting can be invited.',
  },
  buy: {
    by: ['customer'],
    from: ['invited'],
    to: ['bought'],
    effects: [],
    otherwise: 'Only people who are invited can buy their turn.',
  },
  /** Buys fewer units than the invitation is for. */
  buySome: {
    by: ['customer'],
    from: ['invited'],
    to: ['same'],
    effects: [],
    otherwise: 'Only people who are invited can buy their turn.',
  },
  lapse: {
    by: ['system'],
    from: ['invited'],
    to: ['lapsed'],
    effects: [{ letter: 'waitlist.lapsed' }, { turn: 'next' }],
    otherwise: 'Only an invitation can lapse.',
  },
  leave: {
    by: ['customer'],
    from: ON_LIST,
    to: ['left'],
    effects: [{ turn: 'next', when: ['invited'] }],
    otherwise: 'They are not on this list any more.',
  },
  remove: {
    by: ['owner', 'seller'],
    from: ON_LIST,
    to: ['removed'],
    effects: [{ turn: 'next', when: ['invited'] }],
    otherwise: 'They are not on this list any more.',
  },
  /** Two places on one list become one, when two customers are merged. */
  joinPlaces: {
    by: ['system'],
    from: ON_LIST,
    to: ['removed'],
    effects: [],
    otherwise: 'They are not on this list any more.',
  },
  restore: {
    by: ['owner', 'seller'],
    from: ['removed', 'lapsed'],
    to: ['waiting'],
    effects: [],
    otherwise: 'Only people who were removed, or whose turn has lapsed, can be put back.',
  },
});
