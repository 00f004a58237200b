import type { Rule } from '#core/rulebook/rulebook.ts';

/** What somebody wants who makes a rule; it lands in the sentence with sensible phrases filled in. */
export interface Intention {
  readonly label: string;
  readonly name: string;
  readonly then: Rule['then'];
  readonly when: Rule['when'];
}

const NOTHING_ASKED = { all: [] };

export const INTENTIONS: readonly Intention[] = [
  {
    label: 'Other words on the button',
    name: 'Other words',
    when: NOTHING_ASKED,
    then: { control: { kind: 'buy', label: { en: 'Order for collection' } } },
  },
  {
    label: 'Show without selling',
    name: 'Not for sale here',
    when: NOTHING_ASKED,
    then: { control: { kind: 'notice', text: { en: 'Not sold here' } } },
  },
  {
    label: 'Sell to those who are signed in',
    name: 'Customers only',
    when: { all: [{ fact: 'visitor.signedIn', op: 'is', value: false }] },
    then: { control: { kind: 'signIn', href: '/sign-in' } },
  },
  {
    label: 'A line of text when sold out',
    name: 'Sold out',
    when: { all: [{ fact: 'stock.status', op: 'in', value: ['outOfStock'] }] },
    then: { control: { kind: 'notice', text: { en: 'Sold out for now' } } },
  },
  {
    label: 'Pause the shop',
    name: 'Pause',
    when: { all: [{ fact: 'product', op: 'every', value: true }] },
    then: { control: { kind: 'notice', text: { en: 'We are away. Back soon.' } } },
  },
  { label: 'Start from nothing', name: 'New rule', when: NOTHING_ASKED, then: {} },
];
