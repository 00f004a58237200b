import type { Condition } from '#core/rulebook/condition.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';

/** What somebody wants who makes a rule; it lands in the sentence with sensible phrases filled in. */
export interface Intention {
  readonly label: string;
  /** What comes of it, in a line. */
  readonly means: string;
  readonly name: string;
  readonly then: Rule['then'];
  readonly when: Rule['when'];
}

const NO_CONDITIONS = { all: [] };
const SOLD_OUT: Condition = { fact: 'stock.status', op: 'in', value: ['outOfStock'] };
const AWAITED: Condition = { fact: 'waitlist.length', op: 'gt', value: 0 };
const NOT_INVITED: Condition = { fact: 'visitor.invited', op: 'is', value: false };
const EVERYTHING: Condition = { fact: 'product', op: 'every', value: true };
const GUESTS: Condition = { fact: 'visitor.signedIn', op: 'is', value: false };
const NOT_MEMBERS: Condition = { fact: 'visitor.roles', op: 'hasNone', value: ['member'] };

export const INTENTIONS: readonly Intention[] = [
  {
    label: 'Take pre-orders by tag',
    means: 'shoppers reserve what has not come in yet',
    name: 'Pre-orders',
    when: {
      all: [{ fact: 'moment', op: 'around', value: { date: 'ships', until: 'P0D' } }],
    },
    then: {
      control: { kind: 'preorder', label: { en: 'Pre-order' } },
      notes: [{ place: 'belowControl', text: { en: 'Ships from **{product.date.ships}**.' } }],
    },
  },
  {
    label: 'Take pre-orders when a variant runs out',
    means: 'the button turns into a pre-order by itself',
    name: 'Pre-order what ran out',
    when: { all: [{ fact: 'stock.status', op: 'in', value: ['backorder'] }] },
    then: { control: { kind: 'preorder', label: { en: 'Pre-order' }, ships: { within: 'P21D' } } },
  },
  {
    label: 'Keep a waitlist for sold-out products',
    means: 'shoppers leave their names, and you invite them',
    name: 'Waitlist',
    // It stands while people wait, or what has come in would go to whoever looks first.
    when: { all: [{ any: [SOLD_OUT, AWAITED] }, NOT_INVITED] },
    then: { control: { kind: 'waitlist', per: 'variant' } },
  },
  {
    label: 'Show without selling',
    means: 'a page to read, with no button and no price',
    name: 'Shown, not sold',
    when: NO_CONDITIONS,
    then: { control: { kind: 'notice', text: { en: 'Not sold here' } }, price: { show: false } },
  },
  {
    label: 'Sell to members only',
    means: 'everybody else is asked to sign in',
    name: 'Members only',
    when: { all: [NOT_MEMBERS] },
    then: { control: { kind: 'signIn', href: '/sign-in', label: { en: 'Sign in to buy' } } },
  },
  {
    label: 'Sell to members first',
    means: 'members buy from a date, and everyone a week later',
    name: 'Members first',
    when: {
      all: [NOT_MEMBERS, { fact: 'moment', op: 'around', value: { date: 'releases', until: 'P7D' } }],
    },
    then: { control: { kind: 'signIn', href: '/sign-in', label: { en: 'Members buy first' } } },
  },
  {
    label: 'Ask for a price',
    means: 'shoppers gather what they want, and you answer',
    name: 'Price on request',
    when: NO_CONDITIONS,
    then: { control: { kind: 'quote' }, price: { show: false, text: { en: 'Price on request' } } },
  },
  {
    label: 'A contact form when sold out',
    means: 'shoppers write to you about the product',
    name: 'Ask when sold out',
    when: { all: [SOLD_OUT] },
    then: { control: { kind: 'enquiry', form: 'contact', open: 'inline' } },
  },
  {
    label: 'Pause the shop',
    means: 'nothing can be bought for a while',
    name: 'Pause',
    when: { all: [EVERYTHING] },
    then: {
      control: { kind: 'notice', text: { en: 'We are away. Back soon.' } },
      cart: { open: false },
      checkout: { open: false },
    },
  },
  {
    label: 'Let buyers pay what they like',
    means: 'they name a price, from a minimum',
    name: 'Pay what you like',
    when: NO_CONDITIONS,
    then: { control: { kind: 'ownPrice', min: 500 } },
  },
  {
    label: 'Ask guests to sign in',
    means: 'customers buy, guests sign in first',
    name: 'Customers only',
    when: { all: [GUESTS] },
    then: { control: { kind: 'signIn', href: '/sign-in' } },
  },
  {
    label: 'Another label on the button',
    means: 'the shop’s own button, relabelled',
    name: 'Another label',
    when: NO_CONDITIONS,
    then: { control: { kind: 'buy', label: { en: 'Order for collection' } } },
  },
  {
    label: 'Start from scratch',
    means: 'an empty sentence',
    name: 'New rule',
    when: NO_CONDITIONS,
    then: {},
  },
];
