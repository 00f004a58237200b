import { z } from 'zod';
import { Href, WebHref } from './href.ts';
import { LocalisedText } from './localisedText.ts';

const Labelled = { label: LocalisedText.optional() };

const Buy = z.strictObject({ kind: z.literal('buy'), ...Labelled });
const Link = z.strictObject({ kind: z.literal('link'), ...Labelled, href: Href, newTab: z.boolean().optional() });
const SignIn = z.strictObject({ kind: z.literal('signIn'), ...Labelled, href: WebHref });
const Notice = z.strictObject({ kind: z.literal('notice'), text: LocalisedText });
const Nothing = z.strictObject({ kind: z.literal('nothing') });

/** Another stand-in for listings: a control of its own, which inherits nothing. */
const ListingControl = z.discriminatedUnion('kind', [Buy, Link, SignIn, Notice, Nothing]);

/** Only the words, where the listing keeps the kind. */
const OtherLabel = z.strictObject({ label: LocalisedText });
const OtherText = z.strictObject({ text: LocalisedText });

const onListing = <Words extends z.ZodType>(words: Words) => ({
  onListing: z.union([ListingControl, words]).optional(),
});

/** What stands in the control's place. */
export const Control = z
  .discriminatedUnion('kind', [
    Buy.extend(onListing(OtherLabel)),
    Link.extend(onListing(OtherLabel)),
    SignIn.extend(onListing(OtherLabel)),
    Notice.extend(onListing(OtherText)),
    Nothing.extend({ onListing: ListingControl.optional() }),
  ])
  .meta({ id: 'RuleControl' });

export const Price = z
  .discriminatedUnion('show', [
    z.strictObject({ show: z.literal(true) }),
    z.strictObject({ show: z.literal(false), text: LocalisedText.optional() }),
  ])
  .meta({ id: 'RulePrice' });

/** What a rule says of each aspect that it speaks to. */
export const Outcome = z
  .strictObject({
    control: Control.optional(),
    express: z.enum(['show', 'hide']).optional(),
    price: Price.optional(),
  })
  .meta({ id: 'Outcome' });

export type Outcome = z.infer<typeof Outcome>;
export type Control = z.infer<typeof Control>;
export type ControlKind = Control['kind'];
export type ListingControl = z.infer<typeof ListingControl>;
export type Price = z.infer<typeof Price>;
