import { z } from 'zod';
import { ASPECTS } from '../aspects/aspects.ts';
import { FACTS } from '../facts/facts.ts';
import { SURFACES, type Surface } from '../model/subject.ts';
import { Rule } from '../rulebook/rulebook.ts';
import { UNFINISHED } from '../rulebook/unfinished.ts';

/** Severities, the worst first: wrong, probably unintended, possibly intended. */
export const SEVERITIES = ['fault', 'warning', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

const RuleId = z.string().describe('The id of a rule');
const RuleIds = z.array(RuleId);
/** The place in which it is seen. */
const surface = z.enum(SURFACES);
/** Time of a finding: until a date, or around a named date of each product. */
const window = {
  until: z.string().nullable().describe('A date as it is written; null where each product has its own'),
  date: z.string().nullable().describe('The name of the products’ date; null where the rule writes one'),
};

const kind = <const K extends string, Details extends z.core.$ZodShape>(name: K, details: Details) =>
  z.strictObject({ kind: z.literal(name), ...details });

/** Details of a finding by kind; the interface turns them into sentences. */
export const FindingDetails = z.discriminatedUnion('kind', [
  kind('unfinished', { lack: z.enum(UNFINISHED) }),
  kind('contradiction', {}),
  kind('neverWins', { by: RuleIds.describe('The rules above it that decide first, those that do so most first') }),
  kind('idle', { rules: RuleIds.describe('The rules that decide nothing while the closure stands') }),
  kind('notClosed', { by: RuleId.describe('The rule above it that goes on selling') }),
  kind('fight', { by: RuleId.describe('The rule above it that wins'), aspect: z.enum(ASPECTS) }),
  kind('unknownName', {
    fact: z.enum(FACTS.map(({ name }) => name)),
    of: z.string().nullable().describe('The attribute or option whose value it is; null where it is no value'),
    name: z.string(),
    nearest: z.string().nullable().describe('A name that there is and that it may be a slip of'),
  }),
  kind('unknownMethod', { code: z.string() }),
  kind('untrackedStock', {}),
  kind('windowPast', { ...window, isWhole: z.boolean().describe('Whether the rule is over with it') }),
  kind('windowInverted', window),
  kind('windowCloses', { ...window, dates: z.int().describe('How many dates of products are concerned') }),
  kind('priceShownElsewhere', { surface }),
  kind('guardLetsThrough', { surface }),
  kind('guardRefuses', { surface }),
  kind('preorderWithoutDate', {}),
  kind('preorderWithoutTerms', {}),
  kind('hiddenPriceSold', {}),
  kind('waitlistInStock', {}),
  kind('nowhereToSignIn', {}),
  kind('missingLanguage', { locale: z.string() }),
  kind('longLabel', { label: z.string() }),
  kind('brokenLink', { href: z.string() }),
  kind('touchesEverything', {}),
]);
export type FindingDetails = z.infer<typeof FindingDetails>;
export type FindingKind = FindingDetails['kind'];

export const SEVERITY: Readonly<Record<FindingKind, Severity>> = {
  unfinished: 'fault',
  contradiction: 'fault',
  neverWins: 'warning',
  idle: 'note',
  notClosed: 'warning',
  fight: 'note',
  unknownName: 'warning',
  unknownMethod: 'warning',
  untrackedStock: 'warning',
  windowPast: 'warning',
  windowInverted: 'fault',
  windowCloses: 'note',
  priceShownElsewhere: 'warning',
  guardLetsThrough: 'warning',
  guardRefuses: 'warning',
  preorderWithoutDate: 'warning',
  preorderWithoutTerms: 'warning',
  hiddenPriceSold: 'warning',
  waitlistInStock: 'note',
  nowhereToSignIn: 'warning',
  missingLanguage: 'warning',
  longLabel: 'note',
  brokenLink: 'fault',
  touchesEverything: 'note',
};

/** A change after which a finding is gone: the rule becomes another, or moves above another. */
export const QuickFix = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.enum(['switchOff', 'swapDates', 'removeName', 'useNearest', 'askForPrice', 'allPlaces']),
    becomes: Rule,
  }),
  z.strictObject({ kind: z.literal('moveAbove'), rule: RuleId }),
]);
export type QuickFix = z.infer<typeof QuickFix>;

/** An example of a finding, which a decision reproduces. */
export interface Example {
  readonly product: string;
  readonly variant: string;
  /** Its place among the visitors that were looked through. */
  readonly visitor: number;
  /** Epoch ms. */
  readonly moment: number;
  readonly surface: Surface;
}

/** Parts of every finding, besides its example. */
export const FindingParts = z.strictObject({
  rule: RuleId,
  about: FindingDetails,
  severity: z.enum(SEVERITIES),
  count: z.int().nullable().describe('Variants that it concerns; null where it is about the rule by itself'),
  quickFix: QuickFix.nullable(),
});

/** Something that the owner should see. */
export interface Finding extends z.infer<typeof FindingParts> {
  readonly example: Example | null;
}

/** Creates a finding about a single rule, with optional details. */
export const finding = (
  rule: Rule,
  about: FindingDetails,
  more: Partial<Pick<Finding, 'count' | 'example' | 'quickFix'>> = {},
): Finding => ({
  rule: rule.id,
  about,
  severity: SEVERITY[about.kind],
  count: null,
  example: null,
  quickFix: null,
  ...more,
});
