import { z } from 'zod';
import { parseDuration, parseLocal } from '../model/calendar.ts';
import { Href, WebHref } from './href.ts';
import { LocalisedText } from './localisedText.ts';

/** `#rrggbb`, as CSS writes it. */
const Colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'a colour such as #16323a');
const Look = z
  .strictObject({ fill: Colour.optional(), ink: Colour.optional() })
  .refine(({ fill, ink }) => fill !== undefined || ink !== undefined, 'a fill, an ink or both')
  .meta({ id: 'Look' });
const Minor = z.int().min(0);
const Per = z.enum(['variant', 'product']);
const Day = z.iso.date();
const Lead = z
  .string()
  .refine(
    (text) => parseDuration(text) !== null && !text.startsWith('-'),
    'an ISO 8601 duration in whole units, such as P14D',
  );

const worded = { label: LocalisedText.optional(), look: Look.optional() };
const beside = { beside: z.boolean().optional() };
const kind = <const Kind extends string>(name: Kind) => ({ kind: z.literal(name) });

const Buy = z.strictObject({ ...kind('buy'), ...worded });
const Preorder = z.strictObject({
  ...kind('preorder'),
  ...worded,
  ...beside,
  cap: z.strictObject({ units: z.int().min(1), per: Per }).optional(),
  ships: z
    .union([
      z.strictObject({ within: Lead }),
      z
        .strictObject({ from: Day.optional(), until: Day.optional() })
        .refine(({ from, until }) => from !== undefined || until !== undefined, 'at least one of from and until')
        .refine(
          ({ from, until }) =>
            from === undefined || until === undefined || (parseLocal(from) ?? 0) <= (parseLocal(until) ?? 0),
          'from no later than until',
        ),
    ])
    .optional(),
  atCap: z.enum(['next', 'close']).optional(),
  closedText: LocalisedText.optional(),
});
const Waitlist = z.strictObject({
  ...kind('waitlist'),
  ...worded,
  ...beside,
  per: Per,
  text: LocalisedText.optional(),
  joinedText: LocalisedText.optional(),
  account: z.enum(['optional', 'required']).optional(),
  /** Where those without an account sign in or get one. */
  signInAt: WebHref.optional(),
});
const Quote = z.strictObject({ ...kind('quote'), ...worded, ...beside, addedText: LocalisedText.optional() });

/** Where a note can stand near the control. */
export const PLACES = [
  'aboveControl',
  'belowControl',
  'belowPrice',
  'belowStock',
  'inDescription',
  'endOfBuyArea',
  'badge',
] as const;
export type Place = (typeof PLACES)[number];
const Place = z.enum(PLACES);

const Enquiry = z.strictObject({
  ...kind('enquiry'),
  ...worded,
  ...beside,
  form: z.union([z.string().min(1).max(100), z.strictObject({ page: WebHref })]),
  open: z.enum(['inline', 'dialog']),
  place: Place.optional(),
});
const Link = z.strictObject({ ...kind('link'), ...worded, ...beside, href: Href, newTab: z.boolean().optional() });
const SignIn = z.strictObject({
  ...kind('signIn'),
  ...worded,
  ...beside,
  href: WebHref,
  /** For those who are signed in, and still may not buy. */
  join: z.strictObject({ href: WebHref, label: LocalisedText.optional() }).optional(),
});
const Notice = z.strictObject({ ...kind('notice'), ...beside, text: LocalisedText });
const Nothing = z.strictObject(kind('nothing'));
const BuyersPrice = z.strictObject({
  ...kind('ownPrice'),
  ...worded,
  ...beside,
  min: Minor.optional(),
  suggested: Minor.optional(),
});
const SeveralAtOnce = z.strictObject({ ...kind('severalAtOnce'), ...worded, ...beside });

/** Only the words, where the listing keeps the kind. */
const OtherLabel = z.strictObject({ label: LocalisedText });
const OtherText = z.strictObject({ text: LocalisedText });

const coherent = <T extends z.ZodType<ListingControl>>(control: T): T =>
  control.superRefine((value, context) => {
    const fault = controlFault(value);
    if (fault) context.addIssue({ code: 'custom', ...fault });
  });

function controlFault(control: ListingControl): { path: string[]; message: string } | null {
  if (control.kind === 'ownPrice' && (control.suggested ?? Infinity) < (control.min ?? 0)) {
    return { path: ['suggested'], message: 'no less than the minimum price' };
  }
  if (control.kind !== 'preorder') return null;
  const { cap, atCap, closedText } = control;
  if (cap === undefined && atCap !== undefined) return { path: ['atCap'], message: 'only together with a cap' };
  if (atCap === 'close' && closedText === undefined) {
    return { path: ['closedText'], message: 'the words that take its place once the cap is reached' };
  }
  if (atCap !== 'close' && closedText !== undefined) {
    return { path: ['closedText'], message: 'only where the pre-order closes at its cap' };
  }
  return null;
}

const AnyControl = z.discriminatedUnion('kind', [
  Buy,
  Preorder,
  Waitlist,
  Quote,
  Enquiry,
  Link,
  SignIn,
  Notice,
  Nothing,
  BuyersPrice,
  SeveralAtOnce,
]);
export type ListingControl = z.infer<typeof AnyControl>;

/** Another stand-in for listings: a control of its own, which inherits nothing. */
const ListingControl = coherent(AnyControl).meta({ id: 'ListingControl' });

const onListing = <Words extends z.ZodType>(words: Words) => ({
  onListing: z.union([ListingControl, words]).optional(),
});

/** What stands in the control's place. */
export const Control = coherent(
  z.discriminatedUnion('kind', [
    Buy.extend(onListing(OtherLabel)),
    Preorder.extend(onListing(OtherLabel)),
    Waitlist.extend(onListing(OtherLabel)),
    Quote.extend(onListing(OtherLabel)),
    Enquiry.extend(onListing(OtherLabel)),
    Link.extend(onListing(OtherLabel)),
    SignIn.extend(onListing(OtherLabel)),
    Notice.extend(onListing(OtherText)),
    Nothing.extend({ onListing: ListingControl.optional() }),
    BuyersPrice.extend(onListing(OtherLabel)),
    SeveralAtOnce.extend(onListing(OtherLabel)),
  ]),
).meta({ id: 'RuleControl' });

/** Per cent, to four decimals. */
const Percent = z
  .number()
  .min(-1_000_000)
  .max(1_000_000)
  .refine(
    (value) => Number.isInteger(Math.round(value * 1e4)) && Math.abs(value * 1e4 - Math.round(value * 1e4)) < 1e-6,
    'at most four decimals',
  );

export const Price = z
  .union([
    z.strictObject({
      show: z.literal(true),
      showWas: z.boolean().optional(),
      suffix: LocalisedText.optional(),
      onListing: z.strictObject({ suffix: LocalisedText }).optional(),
    }),
    z.strictObject({ show: z.literal(false), text: LocalisedText.optional() }),
    z.strictObject({
      adjust: z.union([
        z.strictObject({ percent: Percent }),
        z.strictObject({ amount: z.int() }),
        z.strictObject({ fixed: Minor }),
      ]),
    }),
  ])
  .meta({ id: 'RulePrice' });

export const MAX_NOTES = 20;
const Notes = z
  .array(z.strictObject({ place: Place, text: LocalisedText }))
  .min(1)
  .max(MAX_NOTES);

const Count = z.int().min(1).max(1_000_000);
const Limits = z
  .strictObject({ min: Count.optional(), max: Count.optional(), step: Count.optional() })
  .refine((limits) => Object.values(limits).some((value) => value !== undefined), 'at least one of min, max and step')
  .refine(({ min = 1, max = Infinity }) => min <= max, 'min no greater than max');

const Visibility = z.strictObject({
  state: z.enum(['shown', 'offListings', 'blocked']),
  redirectTo: WebHref.optional(),
});

const Cart = z.strictObject({ open: z.boolean(), redirectTo: WebHref.optional() });

const Checkout = z
  .strictObject({
    open: z.boolean().optional(),
    redirectTo: WebHref.optional(),
    submitOrder: z.strictObject({ show: z.boolean(), text: LocalisedText.optional() }).optional(),
    hideMethods: z.array(z.string().min(1).max(100)).min(1).max(100).optional(),
  })
  .refine(
    ({ open, submitOrder, hideMethods }) =>
      open !== undefined || submitOrder !== undefined || hideMethods !== undefined,
    'at least one of open, submitOrder and hideMethods',
  );

const ClassName = z
  .string()
  .max(100)
  .regex(/^-?[_a-zA-Z][\w-]*$/, 'a CSS class name');

/** What a rule says of each aspect that it speaks to. */
export const Outcome = z
  .strictObject({
    control: Control.optional(),
    express: z.enum(['show', 'hide']).optional(),
    price: Price.optional(),
    notes: Notes.optional(),
    limits: Limits.optional(),
    visibility: Visibility.optional(),
    afterOrder: z.strictObject({ text: LocalisedText }).optional(),
    style: z.array(ClassName).min(1).max(20).optional(),
    cart: Cart.optional(),
    checkout: Checkout.optional(),
  })
  .meta({ id: 'Outcome' });

export type Outcome = z.infer<typeof Outcome>;
export type Control = z.infer<typeof Control>;
export type ControlKind = Control['kind'];
export type Price = z.infer<typeof Price>;
export type Adjustment = Extract<Price, { adjust: unknown }>['adjust'];
export type Limits = z.infer<typeof Limits>;
