import { parseDuration } from '../model/calendar.ts';
import { DEFAULT_LABELS, JOIN_LABEL } from '../texts/defaultTexts.ts';
import type { Control, ListingControl, Outcome, Place, Price } from './outcome.ts';
import { bounds, dateWords, durationWords, joined, quoted, speech, type Names } from '../facts/wording.ts';
import { textWords } from './textWords.ts';
import { words, type Segment } from './segment.ts';

/** What a rule says, aspect by aspect. */
export function outcomeSegments(then: Outcome, names: Names): Segment[] {
  const { notes, afterOrder } = then;
  const aspects = [
    then.control && controlSegments(then.control, names),
    then.price && priceSegments(then.price, names),
    then.express && [outcome(`${then.express} express pay`, '/then/express')],
    ...(notes ?? []).map(({ place, text }, index) => [
      outcome(`${PLACE[place]}, say ${textWords(text, names)}`, `/then/notes/${index}`),
    ]),
    then.limits && [outcome(limitWords(then.limits), '/then/limits')],
    then.visibility && [outcome(visibilityWords(then.visibility), '/then/visibility')],
    afterOrder && [outcome(`after the order, say ${textWords(afterOrder.text, names)}`, '/then/afterOrder')],
    then.style && [
      outcome(
        `add the CSS class${then.style.length > 1 ? 'es' : ''} ${joined(then.style.map(quoted), 'and')}`,
        '/then/style',
      ),
    ],
    then.cart && [
      outcome((then.cart.open ? 'keep the cart open' : 'close the cart') + sending(then.cart.redirectTo), '/then/cart'),
    ],
    then.checkout && [outcome(checkoutWords(then.checkout, names), '/then/checkout')],
  ].filter((segments): segments is Segment[] => segments !== undefined);
  if (aspects.length === 0) {
    return [{ kind: 'phrase', about: 'outcome', text: 'choose what happens', pointer: '/then', lacking: true }];
  }
  return aspects.flatMap((segments, index) => (index === 0 ? segments : [words('; '), ...segments]));
}

/** Where a note stands. */
export const PLACE: Record<Place, string> = {
  aboveControl: 'above the control',
  belowControl: 'below the control',
  belowPrice: 'below the price',
  belowStock: 'below the stock line',
  inDescription: 'in the description',
  endOfBuyArea: 'at the end of the buying area',
  badge: 'as a badge',
};

const outcome = (text: string, pointer: string): Segment => ({ kind: 'phrase', about: 'outcome', text, pointer });
const sending = (href: string | undefined) => (href === undefined ? '' : `, sending shoppers to ${speech(href)}`);

function controlSegments(control: Control, names: Names): Segment[] {
  const pointer = '/then/control';
  const head = headOf(control, pointer, names);
  const tail = tailOf(control, pointer, names);
  const { onListing } = control;
  if (!onListing) return [...head, ...tail];
  const at = `${pointer}/onListing`;
  if ('kind' in onListing) {
    return [
      ...head,
      ...tail,
      words(', and on listings '),
      ...headOf(onListing, at, names),
      ...tailOf(onListing, at, names),
    ];
  }
  const shownText = 'text' in onListing ? onListing.text : onListing.label;
  return [...head, words(' ('), outcome(`${textWords(shownText, names)} on listings`, at), words(')'), ...tail];
}

/** What a stand-in is, and its label. */
function headOf(control: ListingControl, pointer: string, names: Names): Segment[] {
  const beside =
    'beside' in control && control.beside ? [outcome('beside the button', `${pointer}/beside`), words(', ')] : [];
  return [...beside, ...verbOf(control, pointer), ...labelled(control, pointer, names)];
}

const verbOf = (control: ListingControl, pointer: string): Segment[] =>
  control.kind === 'waitlist'
    ? [
        outcome('keep a waitlist', pointer),
        words(' '),
        outcome(control.per === 'variant' ? 'for each variant' : 'for the product as a whole', `${pointer}/per`),
      ]
    : [outcome(VERBS[control.kind], pointer)];

const VERBS: Record<Exclude<ListingControl['kind'], 'waitlist'>, string> = {
  buy: 'keep the button',
  preorder: 'take pre-orders',
  quote: 'take requests for a price',
  enquiry: 'take enquiries',
  link: 'show a link',
  signIn: 'ask to sign in',
  notice: 'show',
  nothing: 'remove the button',
  ownPrice: 'let the buyer name the price',
  severalAtOnce: 'let several variants be added at once',
};

function labelled(control: ListingControl, pointer: string, names: Names): Segment[] {
  switch (control.kind) {
    case 'nothing':
      return [];
    case 'notice':
      return [words(' '), outcome(textWords(control.text, names), `${pointer}/text`)];
    default: {
      const label = control.label ?? (control.kind === 'buy' ? undefined : DEFAULT_LABELS[control.kind]);
      if (label === undefined) return [];
      return [
        words(NOUNS.has(control.kind) ? ' labelled ' : ', labelled '),
        outcome(textWords(label, names), `${pointer}/label`),
      ];
    }
  }
}

/** Stand-ins whose words end in what is labelled. */
const NOUNS = new Set<ListingControl['kind']>(['link']);

/** Where a stand-in leads, on what terms, and how it looks. */
function tailOf(control: ListingControl, pointer: string, names: Names): Segment[] {
  const more = (text: string | false | undefined, part: string): Segment[] =>
    text ? [words(', '), outcome(text, `${pointer}/${part}`)] : [];
  const look = 'look' in control ? more(lookWords(control.look), 'look') : [];
  const phrase = (before: string, text: Parameters<typeof textWords>[0] | undefined, after = '') =>
    text !== undefined && `${before} ${textWords(text, names)}${after}`;
  const price = (minor: number) => (names.price ? names.price(minor) : `${minor} in minor units`);
  switch (control.kind) {
    case 'link':
      return [...more(`leading to ${speech(control.href)}${control.newTab ? ' in a new tab' : ''}`, 'href'), ...look];
    case 'signIn':
      return [
        ...more(`leading to ${speech(control.href)}`, 'href'),
        ...more(control.join && joinWords(control.join, names), 'join'),
        ...look,
      ];
    case 'notice':
      return control.beside ? [] : [words(' instead of the button')];
    case 'preorder': {
      const { cap, ships, atCap, closedText } = control;
      return [
        ...more(cap && `at most ${cap.units} unit${cap.units === 1 ? '' : 's'} of a ${cap.per}`, 'cap'),
        ...more(
          cap && (atCap === 'close' ? phrase('then show', closedText) : 'then let the rules below decide'),
          'atCap',
        ),
        ...more(ships && shippingWords(ships), 'ships'),
        ...look,
      ];
    }
    case 'waitlist':
      return [
        ...more(phrase('with the text', control.text), 'text'),
        ...more(phrase('showing', control.joinedText, ' after joining'), 'joinedText'),
        ...more(control.account === 'required' && 'only with an account', 'account'),
        ...more(control.signInAt !== undefined && `created at ${speech(control.signInAt)}`, 'signInAt'),
        ...look,
      ];
    case 'quote':
      return [...more(phrase('showing', control.addedText, ' after adding'), 'addedText'), ...look];
    case 'enquiry': {
      const { form, open, place } = control;
      const what = typeof form === 'string' ? `with the form ${quoted(form)}` : `with the page ${speech(form.page)}`;
      const where = open === 'inline' ? 'on the page' : 'in a dialog';
      return [...more(`${what} ${where}${place ? ` ${PLACE[place]}` : ''}`, 'form'), ...look];
    }
    case 'ownPrice':
      return [
        ...more(control.min !== undefined && `at least ${price(control.min)}`, 'min'),
        ...more(control.suggested !== undefined && `suggesting ${price(control.suggested)}`, 'suggested'),
        ...look,
      ];
    default:
      return look;
  }
}

const joinWords = ({ href, label }: NonNullable<Extract<ListingControl, { kind: 'signIn' }>['join']>, names: Names) =>
  `for signed-in customers labelled ${textWords(label ?? JOIN_LABEL, names)}, leading to ${speech(href)}`;

function lookWords(look: { fill?: string | undefined; ink?: string | undefined } | undefined): string | undefined {
  if (!look) return undefined;
  const colour = (name: string, value: string | undefined) =>
    value === undefined ? [] : [`${name} ${value.toLowerCase()}`];
  return `with ${joined([...colour('fill', look.fill), ...colour('ink', look.ink)], 'and')}`;
}

function shippingWords(ships: NonNullable<Extract<ListingControl, { kind: 'preorder' }>['ships']>): string {
  if (!('within' in ships)) return `shipping ${bounds(ships, dateWords)}`;
  const duration = parseDuration(ships.within);
  const size = duration ? durationWords(duration) : ships.within;
  return size === '' ? 'shipping at once' : `shipping within ${size}`;
}

function priceSegments(price: Price, names: Names): Segment[] {
  return [outcome(priceWords(price, names), '/then/price')];
}

function priceWords(price: Price, names: Names): string {
  if ('adjust' in price) return adjustmentWords(price.adjust, names);
  if (!price.show) {
    return price.text === undefined ? 'hide the price' : `show ${textWords(price.text, names)} instead of the price`;
  }
  const { showWas, suffix, onListing } = price;
  const parts = [
    suffix !== undefined && ` followed by ${textWords(suffix, names)}`,
    onListing !== undefined && ` (${textWords(onListing.suffix, names)} on listings)`,
    showWas === false && ', without the former price',
  ];
  return `show the price${parts.filter((part) => part !== false).join('')}`;
}

function adjustmentWords(adjust: Extract<Price, { adjust: unknown }>['adjust'], { price }: Names): string {
  const formatAmount = price ?? ((minor: number) => `${minor} in minor units`);
  if ('fixed' in adjust) return `set the price to ${formatAmount(adjust.fixed)}`;
  const [by, text] =
    'percent' in adjust
      ? [adjust.percent, `${Math.abs(adjust.percent)} %`]
      : [adjust.amount, formatAmount(Math.abs(adjust.amount))];
  return by > 0 ? `increase the price by ${text}` : `reduce the price by ${text}`;
}

function limitWords({ min, max, step }: NonNullable<Outcome['limits']>): string {
  const ends = [min !== undefined && `at least ${min}`, max !== undefined && `at most ${max}`].filter(
    (end) => end !== false,
  );
  const steps = step === undefined ? [] : [`in steps of ${step}`];
  return `sell ${[...(ends.length > 0 ? [`${joined(ends, 'and')} at a time`] : []), ...steps].join(', ')}`;
}

function visibilityWords({ state, redirectTo }: NonNullable<Outcome['visibility']>): string {
  const what = {
    shown: 'show the product everywhere',
    offListings: 'keep the product off listings',
    blocked: 'block the product’s page',
  }[state];
  return what + sending(redirectTo);
}

function checkoutWords(checkout: NonNullable<Outcome['checkout']>, names: Names): string {
  const { open, redirectTo, submitOrder, hideMethods } = checkout;
  const parts = [
    open !== undefined && (open ? 'keep the checkout open' : 'close the checkout'),
    submitOrder && `${submitOrder.show ? 'show' : 'hide'} the order button`,
    submitOrder?.text !== undefined && `saying ${textWords(submitOrder.text, names)}`,
    hideMethods &&
      `hide the payment method${hideMethods.length > 1 ? 's' : ''} ${joined(hideMethods.map(quoted), 'and')}`,
  ].filter((part) => typeof part === 'string');
  return parts.join(', ') + sending(redirectTo);
}
