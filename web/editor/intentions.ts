import { controlOf } from '#core/controls/controls.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { allowedOutcome, type SellerAllowance } from '#core/rulebook/sellers.ts';

/** Purpose of a new rule, which fills the sentence with sensible phrases. */
export interface Intention {
  readonly label: string;
  /** Its result, in one line. */
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
    // Lasts while people wait; otherwise new stock would go to the first visitor.
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

/** Facts of the shop to which an intention is adapted. */
export interface Home {
  readonly locales: readonly string[];
  /** The names of its products' dates, the most frequent first. */
  readonly dates: readonly string[];
}

/** A date's name that can stand in a text as a placeholder. */
const CAN_BE_NAMED = /^[\p{L}\p{N}_-]+$/u;

/**
 * An intention in a shop's own terms: by a date that its products have, without one where they have none; and where the
 * shop does not speak English, in our words for its languages, or in the first of them until the owner writes others.
 */
export function fitted(intention: Intention, { locales: [locale = 'en'], dates }: Home): Intention {
  const isEnglish = locale.split('-')[0] === 'en';
  const { control, notes, ...others } = intention.then;
  const { all } = intention.when as { readonly all: readonly Condition[] };
  const meant = all.flatMap((condition) => dateOf(condition) ?? [])[0];
  const date = meant === undefined || dates.includes(meant) ? meant : dates[0];
  const isSaid =
    isEnglish && (date === undefined || CAN_BE_NAMED.test(date)) && (meant === undefined || date !== undefined);
  const { label: _ours, ...unlabelled } = (control ?? {}) as { readonly label?: unknown };
  const then = {
    ...(control ? { control: isEnglish || controlOf(control).defaultLabel === null ? control : unlabelled } : {}),
    ...others,
    ...(notes && isSaid ? { notes } : {}),
  };
  return {
    ...intention,
    when: { all: all.flatMap((condition) => (dateOf(condition) === null ? [condition] : withDate(condition, date))) },
    then: rewritten(then, (text) => ({
      [locale]: meant === undefined ? text : text.replace(`{product.date.${meant}}`, `{product.date.${date ?? meant}}`),
    })) as Rule['then'],
  };
}

const dateOf = (condition: Condition): string | null =>
  'op' in condition && condition.op === 'around' ? (condition.value as { readonly date: string }).date : null;

const withDate = (condition: Condition, date: string | undefined): Condition[] =>
  date === undefined || !('value' in condition)
    ? []
    : [{ ...condition, value: { ...(condition.value as object), date } } as Condition];

/** Translates each English text by `say`. */
function rewritten(value: unknown, say: (text: string) => object): unknown {
  if (Array.isArray(value)) return value.map((part) => rewritten(part, say));
  if (typeof value !== 'object' || value === null) return value;
  const parts = Object.entries(value);
  const [[name, text] = []] = parts;
  if (parts.length === 1 && name === 'en' && typeof text === 'string') return say(text);
  return Object.fromEntries(parts.map(([part, inner]) => [part, rewritten(inner, say)]));
}

/** Intentions that somebody may use. @param allowed a seller's allowance; null for all */
export const intentionsFor = (allowed: SellerAllowance | null): readonly Intention[] =>
  allowed === null
    ? INTENTIONS
    : INTENTIONS.filter(({ then }) => {
        const left = allowedOutcome(then, { ...allowed, mostUnits: null });
        return Object.keys(then).every((aspect) => aspect in left);
      });
