import { z } from 'zod';
import { Minor } from '../controls/control.ts';
import { controlIssue, DEFINED, PlainControl } from '../controls/controls.ts';
import { NOTE_PLACES } from '../model/notePlaces.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';

/** Only the words, where the listing keeps the kind. */
const OtherLabel = z.strictObject({ label: LocalisedText });
const OtherText = z.strictObject({ text: LocalisedText });

const coherent = <T extends z.ZodType<PlainControl>>(control: T): T =>
  control.superRefine((value, context) => {
    const issue = controlIssue(value);
    if (issue) context.addIssue({ code: 'custom', ...issue });
  });

/** Another stand-in for listings: a control of its own, which inherits nothing. */
const ListingControl = coherent(PlainControl).meta({ id: 'ListingControl' });

/** The words that a listing can say instead, where it keeps the kind. */
type WordsOf<C> = 'label' extends keyof C
  ? z.infer<typeof OtherLabel>
  : 'text' extends keyof C
    ? z.infer<typeof OtherText>
    : never;
type WithListing<C> = C extends PlainControl ? C & { onListing?: PlainControl | WordsOf<C> | undefined } : never;

/** What stands in the control's place, and what does so on listings. */
export type Control = WithListing<PlainControl>;

const withListing = (schema: z.ZodObject) => {
  const words = 'label' in schema.shape ? [OtherLabel] : 'text' in schema.shape ? [OtherText] : [];
  const onListing = words.length > 0 ? z.union([ListingControl, ...words]) : ListingControl;
  return schema.extend({ onListing: onListing.optional() });
};

// Each is the schema of its control with one more part, which the type says by itself.
export const Control = coherent(
  z.discriminatedUnion(
    'kind',
    DEFINED.map(({ schema }) => withListing(schema)) as unknown as [z.ZodObject, ...z.ZodObject[]],
  ) as unknown as z.ZodType<Control>,
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
  .array(z.strictObject({ place: z.enum(NOTE_PLACES), text: LocalisedText }))
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
export type Price = z.infer<typeof Price>;
export type Adjustment = Extract<Price, { adjust: unknown }>['adjust'];
export type Limits = z.infer<typeof Limits>;
