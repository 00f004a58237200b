import type { FindingDetails, QuickFix } from '#core/analysis/finding.ts';
import { aspectOf } from '#core/aspects/aspects.ts';
import type { FindingReply } from '#core/contract/rehearsalCalls.ts';
import { factNamed } from '#core/facts/facts.ts';
import { SURFACE_NAMES } from '#core/facts/surface.ts';
import { dateWords } from '#core/facts/wording.ts';

/** Name of a rule in quotes, by its id. */
type TitleOf = (rule: string) => string;
/** Sentences for kinds of finding, with the rule's name in quotes and the number of products. */
type Texts = {
  readonly [Kind in FindingDetails['kind']]: (
    about: Extract<FindingDetails, { kind: Kind }>,
    named: { readonly rule: string; readonly goods: string; readonly titleOf: TitleOf },
  ) => string;
};

const LACKS = {
  noGoods: 'it does not say which products, so it never applies',
  emptyGroup: 'it has an empty group of conditions, so it never applies',
  emptyThen: 'it does not say what should happen',
};

const TEXTS: Texts = {
  unfinished: ({ lack }, { rule }) => `${rule} is unfinished: ${LACKS[lack]}.`,
  contradiction: (_, { rule }) => `${rule} can never apply: its conditions exclude each other.`,
  neverWins: ({ by }, { rule, titleOf }) =>
    `${rule} never decides anything: wherever it applies, rules above it decide first: ${listed(by.map(titleOf))}.`,
  idle: ({ rules }, { rule, titleOf }) =>
    `${rule} closes everything that ${listed(rules.map(titleOf))} would decide: meanwhile ${rules.length === 1 ? 'it decides' : 'they decide'} nothing.`,
  notClosed: ({ by }, { rule, goods, titleOf }) =>
    `${rule} does not close ${goods} that ${titleOf(by)}, above it, goes on selling.`,
  fight: ({ by, aspect }, { rule, titleOf }) =>
    `${titleOf(by)} and ${rule} both decide the ${aspectOf(aspect).shortName} of the same products; the first wins.`,
  unknownName: ({ name, nearest, ...named }, { rule }) =>
    `${rule} names the ${whatIsNamed(named)} “${name}”, which does not exist.${nearest === null ? '' : ` The closest is “${nearest}”.`}`,
  unknownMethod: ({ code }, { rule }) => `${rule} hides the payment method “${code}”, which the shop does not have.`,
  untrackedStock: (_, { rule, goods }) =>
    `${rule} checks the stock of ${goods} whose stock is not tracked, so it never applies to them.`,
  windowPast: ({ until, date, isWhole }, { rule }) => {
    if (until === null) return `${rule} is over for all products with a date “${date}”.`;
    return `${isWhole ? `${rule} is over` : `A time in ${rule} is over`}: it ended on ${dateWords(until)}.`;
  },
  windowInverted: ({ until, date }, { rule }) =>
    until === null
      ? `${rule} ends before it begins, by every date “${date}”.`
      : `${rule} ends on ${dateWords(until)}, before it begins.`,
  windowCloses: ({ until, date, dates }, { rule }) =>
    until === null
      ? `${rule} ends within a week for products with ${dates === 1 ? 'one date' : `${dates} dates`} “${date}”.`
      : `${rule} ends on ${dateWords(until)}.`,
  priceShownElsewhere: ({ surface }, { rule, goods }) =>
    `${rule} hides the price of ${goods} on ${SURFACE_NAMES[surface]}, and it is shown in another place.`,
  guardLetsThrough: ({ surface }, { rule, goods }) =>
    `${rule} removes the button of ${goods} on ${SURFACE_NAMES[surface]} only, so they can still be bought.`,
  guardRefuses: ({ surface }, { rule, goods }) =>
    `${rule} withholds ${goods} everywhere but on ${SURFACE_NAMES[surface]}, where the button leads to a refusal.`,
  preorderWithoutDate: (_, { rule, goods }) => `${rule} takes pre-orders of ${goods} without saying when it ships.`,
  preorderWithoutTerms: (_, { rule }) => `${rule} takes pre-orders without stating terms.`,
  hiddenPriceSold: (_, { rule, goods }) => `${rule} hides the price of ${goods}, which can still be bought.`,
  waitlistInStock: (_, { rule, goods }) => `${rule} keeps a waitlist for ${goods} in stock. That may be intended.`,
  nowhereToSignIn: (_, { rule }) =>
    `${rule} lets only people with an account join, and does not say where guests can sign in.`,
  missingLanguage: ({ locale }, { rule }) => `${rule} has a text that is missing in ${LANGUAGES.of(locale) ?? locale}.`,
  longLabel: ({ label }, { rule }) => `The label “${label}” of ${rule} takes two lines or more on a small screen.`,
  brokenLink: ({ href }, { rule }) => `${rule} leads to ${href}, which is not a page of this shop.`,
  touchesEverything: (_, { rule }) => `${rule} applies to everything: all products, for everyone.`,
};

const LANGUAGES = new Intl.DisplayNames('en', { type: 'language' });
/** Maximum number of rules named. */
const NAMED = 3;

function listed(names: readonly string[]): string {
  const others = names.length - NAMED;
  const all = others > 0 ? [...names.slice(0, NAMED), `${others} more`] : names;
  return new Intl.ListFormat('en').format(all);
}

function whatIsNamed({ fact, of }: Pick<Extract<FindingDetails, { kind: 'unknownName' }>, 'fact' | 'of'>): string {
  return of?.toLowerCase() ?? factNamed(fact).vocabulary?.what ?? 'date';
}

/** A finding as a sentence. */
export function findingText(
  { about, rule, count }: Pick<FindingReply, 'about' | 'rule' | 'count'>,
  nameOf: (rule: string) => string,
): string {
  const titleOf = (id: string) => `“${nameOf(id)}”`;
  const goods = count === 1 ? 'one variant' : `${count ?? 0} variants`;
  // Details match their kind, which TypeScript cannot follow through an index.
  const text = TEXTS[about.kind] as (about: FindingDetails, named: Parameters<Texts['idle']>[1]) => string;
  return text(about, { rule: titleOf(rule), goods, titleOf });
}

/** Label of a quick fix. */
export function fixLabel(fix: QuickFix, about: FindingDetails, nameOf: (rule: string) => string): string {
  switch (fix.kind) {
    case 'moveAbove':
      return `Move it above “${nameOf(fix.rule)}”`;
    case 'switchOff':
      return 'Switch the rule off';
    case 'swapDates':
      return 'Swap the two dates';
    case 'removeName':
      return 'nearest' in about ? `Remove “${about.name}”` : 'Remove it';
    case 'useNearest':
      return 'nearest' in about ? `Change it to “${about.nearest}”` : 'Change it';
    case 'askForPrice':
      return 'Ask for the price instead';
    case 'allPlaces':
      return 'Make it count in all places';
  }
}
