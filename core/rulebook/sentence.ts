import { aspectOf } from '../aspects/aspects.ts';
import { isSellers, sellerRuleId } from './entries.ts';
import { groupOf } from './condition.ts';
import type { Join } from '../model/join.ts';
import { unfinished } from './unfinished.ts';
import type { Condition } from './condition.ts';
import { factOf, phraseOf, type Leaf } from '../facts/facts.ts';
import { outcomeSegments } from './outcomeSentence.ts';
import { joined, type Names } from '../facts/wording.ts';
import type { Entry, Rule, SellersEntry } from './rulebook.ts';
import type { BeyondAllowance, SellerRules } from './sellers.ts';
import { words, type Segment } from '../facts/segment.ts';

/** Context of a sentence. */
type SentenceSource = Pick<Rule, 'when' | 'then' | 'stopHere' | 'gather'>;

const CLOSING: Segment = { kind: 'phrase', about: 'outcome', text: 'ignore the rules below', pointer: '/stopHere' };

/** The rule as a sentence in pieces, for an editor to draw. */
export function segmentsOf(rule: SentenceSource, names: Names = {}): Segment[] {
  return [
    words('For '),
    ...conditionSegments(rule, names),
    words(': '),
    ...outcomeSegments(rule.then, names),
    ...(rule.gather === false ? [words('; '), gathering(rule.then)] : []),
    ...(rule.stopHere ? [words('; '), CLOSING] : []),
    words('.'),
  ];
}

/**
 * The rule in full: it leaves out nothing that the rule decides. Rules that decide differently have different full
 * sentences, and equal rules equal ones.
 */
export function fullSentence(
  rule: (SentenceSource & { readonly on?: boolean }) | SellersEntry,
  names: Names = {},
): string {
  const text = 'sellers' in rule ? SELLERS_SENTENCE : plain(segmentsOf(rule, names));
  return rule.on === false ? `Switched off. ${text}` : text;
}

/** Sentence of the sellers' place. */
export const SELLERS_SENTENCE = 'Here the sellers decide about their own products.';

/** Phrase for gathered aspects that end here. */
function gathering({ notes, style }: Rule['then']): Segment {
  const what = [notes && 'notes', style && 'classes'].filter((word) => word !== undefined).join(' and ');
  return { kind: 'phrase', about: 'outcome', text: `ignore ${what} from the rules below`, pointer: '/gather' };
}

/** Short description of products, people and time. */
export function shortSentence(rule: Pick<Rule, 'when' | 'then'>, names: Names = {}): string {
  const text = plain(conditionSegments(rule, names)).replace(/^products /, '');
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** Name of an entry: the rule's own, or a description. */
export const ruleName = (rule: Entry, names: Names = {}): string =>
  isSellers(rule) ? SELLERS_NAME : (rule.name ?? shortSentence(rule, names));
const SELLERS_NAME = 'The sellers’ own rules';

/** Names of rules by id, sellers' included; unknown ids stay. */
export function ruleNames(
  rules: readonly Entry[],
  names: Names = {},
  sellers: readonly (Pick<SellerRules, 'id' | 'rules'> & { readonly name: string })[] = [],
): (id: string) => string {
  const theirs = sellers.flatMap(({ id, name, rules: own }) =>
    own.map((rule) => [sellerRuleId(id, rule.id), `${ruleName(rule, names)}, of ${name}`] as const),
  );
  const byId = new Map([...rules.map((rule) => [rule.id, ruleName(rule, names)] as const), ...theirs]);
  return (id) => byId.get(id) ?? id;
}

/** Pieces of a sentence as one string. */
export function plain(segments: readonly Segment[]): string {
  return segments
    .map((segment) =>
      'members' in segment
        ? `${JOINING[segment.join]} (${segment.members.map(plain).join('; ') || 'no conditions yet'})`
        : segment.text,
    )
    .join('');
}

/** The words that open a group. */
export const JOINING: Record<Join, string> = {
  all: 'where all of these are true',
  any: 'where any of these is true',
  none: 'where none of these is true',
};

/** Segments for products, people and time. */
export function conditionSegments(rule: Pick<Rule, 'when' | 'then'>, names: Names): Segment[] {
  const clauses = topClauses(rule.when)
    .map((clause) => ({ ...clause, rank: rankOf(clause.condition) }))
    .sort((a, b) => a.rank - b.rank);
  const lacksProducts = unfinished(rule).includes('noGoods');
  const opening: Segment[] = lacksProducts
    ? [{ kind: 'phrase', about: 'products', text: 'choose products', pointer: '/when', lacking: true }]
    : clauses[0]?.rank === RANK_OF_EVERYTHING
      ? []
      : [words('products')];
  return clauses.reduce<Segment[]>((before, { condition, pointer, rank }, index) => {
    const segments = segmentsFor(condition, pointer, names);
    const above = clauses[index - 1];
    if (before.length === 0) return segments;
    // One "in variants" is enough for several clauses about them.
    if (above && isOfVariants(above.condition) && isOfVariants(condition)) {
      return [...before, words(' and '), ...segments.map(withoutOpening)];
    }
    const isOpening = index === 0 && !lacksProducts;
    return [...before, words(isOpening && (rank < 3 || rank === RANK_OF_GROUPS) ? ' ' : ', '), ...segments];
  }, opening);
}

const IN_VARIANTS = /^in variants (?!other)/;
const isOfVariants = (condition: Condition) => 'fact' in condition && IN_VARIANTS.test(phraseOf(condition, NO_NAMES));
const withoutOpening = (segment: Segment): Segment =>
  'about' in segment ? { ...segment, text: segment.text.replace(IN_VARIANTS, '') } : segment;
const NO_NAMES: Names = {};

/** The conditions that must all hold, each with its place. */
function topClauses(when: Condition): { condition: Condition; pointer: string }[] {
  if (!('all' in when)) return [{ condition: when, pointer: '/when' }];
  return when.all.map((condition, index) => ({ condition, pointer: `/when/all/${index}` }));
}

function segmentsFor(condition: Condition, pointer: string, names: Names): Segment[] {
  const group = groupOf(condition);
  if (!group) {
    const leaf = condition as Leaf;
    return [{ kind: 'phrase', about: factOf(leaf).about, text: phraseOf(leaf, names), pointer }];
  }
  const members = group.members.map((member, index) => segmentsFor(member, `${pointer}/${group.join}/${index}`, names));
  return [{ kind: 'group', join: group.join, pointer, members }];
}

/** Order of a sentence: products, variants, time, audience, then groups. */
const RANK_OF_EVERYTHING = 0;
const RANK_OF_GROUPS = 5;
const rankOf = (condition: Condition) => ('fact' in condition ? factOf(condition).rank : RANK_OF_GROUPS);

/** Lists what rules decide beyond an allowance, by rule: "“Sold-out ferns”: the button and the price". */
export function beyondWords(found: readonly BeyondAllowance[], names: Names = {}): string[] {
  const rules = [...new Set(found.map(({ rule }) => rule))];
  return rules.map((rule) => {
    const aspects = found.filter((one) => one.rule === rule).map(({ aspect }) => aspectOf(aspect).name);
    return `“${ruleName(rule, names)}”: ${joined(aspects, 'and')}`;
  });
}
