import { z } from 'zod';
import type { LocalisedText } from '../model/localisedText.ts';
import type { RefusalCode } from '../texts/defaultTexts.ts';
import type { InEveryLanguage } from '../texts/languages/language.ts';
import type { ProductSubject, ShopFacts, Subject } from '../model/subject.ts';
import type { Segment } from '../facts/segment.ts';
import type { Names } from '../facts/wording.ts';
import { VisitorStatus } from '../model/visitorStatus.ts';
import { LocalisedText as LocalisedTextSchema } from '../texts/localisedTextSchema.ts';

/** A control of a rule. */
export interface AnyControl {
  readonly kind: string;
}

/** Fields common to all decided controls. */
export const shared = {
  label: z.string().nullable().describe('Plain words; null keeps the shop’s own'),
  html: z
    .string()
    .nullable()
    .describe(
      'Safe HTML (Markdown rendered with raw HTML escaped): what a notice says, a waitlist before it is joined, a quote once it is added to',
    ),
  beside: z.boolean(),
  look: z.strictObject({ fill: z.string().nullable(), ink: z.string().nullable() }).nullable(),
  standing: VisitorStatus.nullable().describe('What this visitor already did here; `html` then says it'),
};

/** Decided notice, into which other controls can turn. */
export const DecidedNotice = z.strictObject({ kind: z.literal('notice'), ...shared });
type Shared = Omit<z.infer<typeof DecidedNotice>, 'kind'>;

export const NO_PARTS: Shared = { label: null, html: null, beside: false, look: null, standing: null };

/** The shop, and the common parts of a control for a subject and the units left. */
export interface Resolving {
  readonly shop: ShopFacts;
  readonly parts: (subject: Subject, left?: number | null) => Shared;
}

/** Limit on the units that a control reserves. */
export interface Cap {
  readonly units: number;
  readonly per: 'variant' | 'product';
}

/** Reservation taken by a control before stock arrives, and when it ships. */
export interface Reservation {
  /** Units left of its cap; null without one. */
  readonly left: number | null;
  readonly per: Cap['per'] | null;
  readonly ships: {
    readonly from: string | null;
    readonly until: string | null;
    readonly within: string | null;
  } | null;
}

/** Limits of a price named by the buyer, in minor units. */
export interface BuyersPrice {
  readonly minimum: number;
  /** Price of a line that names none; null for the product's price. */
  readonly usual: number | null;
}

/** Context in which a control is phrased. */
export interface Telling {
  readonly names: Names;
  /** Pointer to the control in the rule (RFC 6901). */
  readonly pointer: string;
}

/** Parts of a control that the editor can add, change and remove. */
export type ControlPart =
  | 'label'
  | 'look'
  | 'beside'
  | 'cap'
  | 'atCap'
  | 'ships'
  | 'per'
  | 'text'
  | 'joinedText'
  | 'account'
  | 'signInAt'
  | 'join'
  | 'addedText'
  | 'form'
  | 'href'
  | 'newTab'
  | 'min'
  | 'suggested';

/** Parts of every control that has a label. */
export const LABELLED = ['label', 'look', 'beside'] as const;

/** Shapes of a control in the owner's application, each a class of `web/proof/proof.module.css`. */
export const SHAPES = [
  'solid',
  'framed',
  'dashed',
  'pill',
  'bubble',
  'arrow',
  'tab',
  'text',
  'hatched',
  'underlined',
  'stacked',
  'outlined',
] as const;
export type Shape = (typeof SHAPES)[number];

/**
 * Definition of one control. The schemas of rules and decisions, engine, guard, listings, analysis, sentence and editor
 * read it through the registry (`controls.ts`), so an incomplete control does not compile.
 */
export interface ControlDefinition<C extends AnyControl, Decided extends AnyControl> {
  readonly kind: C['kind'];
  /** Schema of the control in a rule. */
  readonly schema: z.ZodType<C>;
  /** Finds a problem that the schema cannot express; null if there is none. */
  readonly issueOf?: (control: C) => { path: string[]; message: string } | null;
  /** Schema of the decided control. */
  readonly decided: z.ZodType<Decided>;
  readonly resolve: (
    control: C,
    resolving: Resolving,
  ) => (subject: ProductSubject) => Decided | z.infer<typeof DecidedNotice>;
  /** Whether it can turn into a notice, such as at a cap. */
  readonly mayClose?: (control: C) => boolean;
  /** Its name with an article, and a short one. */
  readonly name: string;
  readonly shortName: string;
  /** Its entry in the editor: label, explanation, initial value and available parts. */
  readonly offered: {
    readonly label: string;
    readonly means: string;
    readonly first: C;
    readonly parts: readonly ControlPart[];
  };
  /** Shape of its chip, so that owners can distinguish kinds without colours. */
  readonly shape: Shape;
  /** Key of its label if a rule gives none; null if the shop's stays, or if it has none. */
  readonly defaultLabel: `label.${string}` | null;
  /** Its own texts, the default label among them, by the key under which the owner may replace them. */
  readonly texts?: Readonly<Record<string, InEveryLanguage>>;
  /** Whether products are bought or reserved with it. */
  readonly sells: boolean;
  /** Reservation that it takes, independent of stock. */
  readonly reserves?: (decided: Decided) => Reservation;
  /** Limits of the price that the buyer names. */
  readonly buyersPrice?: (decided: Decided) => BuyersPrice;
  /** Its cap, and whether the rules below decide once that is reached. */
  readonly cap?: (control: C) => (Cap & { readonly passesOn: boolean }) | undefined;
  /** Limits the units that it may reserve. */
  readonly withCap?: (control: C, mostUnits: number) => C;
  /** Text for visitors who have used it already. */
  readonly statusText?: (control: C) => LocalisedText | undefined;
  /** Addresses that it leads to. */
  readonly leadsTo?: (control: C) => readonly string[];
  /** Whether it is the shop's own button, beside which express pay stays unless a rule hides it. */
  readonly isShopButton?: true;
  /** Whether the shop's own button stays, with another label. */
  readonly relabelsShopButton?: true;
  /** Whether shoppers choose a quantity although it does not sell. */
  readonly takesQuantity?: true;
  /** Title of the form that a press opens: a text of the shop, or `label` for the default label; missing without a form. */
  readonly formTitle?: 'label' | 'dialog.ownPrice' | 'dialog.several';
  /** Whether shoppers leave a request that the shop answers. */
  readonly takesRequests?: true;
  /** Whether it is a line of text. */
  readonly isText?: true;
  /** Whether people wait by it until products are in stock again. */
  readonly awaitsStock?: true;
  /** Whether it asks guests to sign in and leaves out where. */
  readonly lacksSignIn?: (control: C, shop: Pick<ShopFacts, 'signInAt'>) => boolean;
  /** Whether its rule should state terms of sale. */
  readonly needsTerms?: true;
  /** Whether sellers may use it only if the owner allows them to. */
  readonly isShopOnly?: true;
  /** Why the guard refuses its lines if it does not sell. */
  readonly refusal: RefusalCode;
  /** schema.org ItemAvailability, if stock does not determine it. */
  readonly availability?: 'PreOrder' | 'OutOfStock';
  /** Whether it takes a product off sale and serves nobody otherwise. */
  readonly isClosure?: true;
  /** Order in which a listing picks one of variants' differing controls; those that sell come first. */
  readonly listingOrder?: number;
  /** Earlier actions of a visitor that it responds to. */
  readonly answers?: readonly VisitorStatus['state'][];
  /** Phrases of its sentence: what it does, its label, then its terms. */
  readonly verb: (control: C, telling: Telling) => Segment[];
  readonly labelled: ' labelled ' | ', labelled ' | null;
  readonly terms?: (control: C, telling: Telling) => Segment[];
  /** Details shown beside it in the proof, a few words each; false is left out. */
  readonly details?: (decided: Decided, price: (minor: number) => string) => readonly (string | false)[];
}

/** Defines a control; its types follow from its schemas. */
export const defineControl = <const Schema extends z.ZodType<AnyControl>, const Decided extends z.ZodType<AnyControl>>(
  control: ControlDefinition<z.infer<Schema>, z.infer<Decided>> & {
    readonly schema: Schema;
    readonly decided: Decided;
  },
): typeof control => control;

/** `#rrggbb`, as CSS writes it. */
const Colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'a colour such as #16323a');
const Look = z
  .strictObject({ fill: Colour.optional(), ink: Colour.optional() })
  .refine(({ fill, ink }) => fill !== undefined || ink !== undefined, 'a fill, an ink or both')
  .meta({ id: 'Look' });

export const kind = <const Kind extends string>(name: Kind) => ({ kind: z.literal(name) });
export const labelled = { label: LocalisedTextSchema.optional(), look: Look.optional() };
export const beside = { beside: z.boolean().optional() };
/** Minor units. */
export const Minor = z.int().min(0);
