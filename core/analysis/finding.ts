import type { Surface } from '../model/subject.ts';
import type { Rule } from '../rulebook/rulebook.ts';

/** What a finding is about. */
export const FINDING_KINDS = [
  'unfinished',
  'contradiction',
  'neverWins',
  'idle',
  'notClosed',
  'fight',
  'unknownName',
  'untrackedStock',
  'windowPast',
  'windowInverted',
  'windowCloses',
  'priceShownElsewhere',
  'guardLetsThrough',
  'guardRefuses',
  'preorderWithoutDate',
  'preorderWithoutTerms',
  'hiddenPriceSold',
  'waitlistInStock',
  'missingLanguage',
  'longLabel',
  'brokenLink',
  'touchesEverything',
] as const;
export type FindingKind = (typeof FINDING_KINDS)[number];

/** The worst first: what is wrong, what is likely not meant, and what may well be. */
export const SEVERITIES = ['fault', 'warning', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

export const SEVERITY: Readonly<Record<FindingKind, Severity>> = {
  unfinished: 'fault',
  contradiction: 'fault',
  neverWins: 'warning',
  idle: 'note',
  notClosed: 'warning',
  fight: 'note',
  unknownName: 'warning',
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
  missingLanguage: 'warning',
  longLabel: 'note',
  brokenLink: 'fault',
  touchesEverything: 'note',
};

/** A case in which a finding can be seen: deciding it shows what the finding says. */
export interface Example {
  readonly product: string;
  readonly variant: string;
  /** Its place among the visitors that were looked through. */
  readonly visitor: number;
  /** Epoch ms. */
  readonly moment: number;
  readonly surface: Surface;
}

/** A change that mends a finding: the rule becomes another, goes (null), or moves above another. */
export type QuickFix =
  { readonly label: string; readonly becomes: Rule | null } | { readonly label: string; readonly moveAbove: string };

/** Something that the owner should see. */
export interface Finding {
  readonly kind: FindingKind;
  /** The id of the rule that it is about, and of the other where two are. */
  readonly rule: string;
  readonly other: string | null;
  /** In plain words. */
  readonly text: string;
  /** How many variants it concerns; null where it is about the rule's own words. */
  readonly count: number | null;
  readonly witness: Example | null;
  readonly mend: QuickFix | null;
}

/** A finding about a rule's own words, with whatever more there is to say. */
export const finding = (
  kind: FindingKind,
  rule: Rule,
  text: string,
  more: Partial<Omit<Finding, 'kind' | 'rule' | 'text'>> = {},
): Finding => ({ kind, rule: rule.id, text, other: null, count: null, witness: null, mend: null, ...more });
