import { distance } from 'fastest-levenshtein';
import type { Condition } from '../rulebook/condition.ts';
import type { LocalisedText } from '../model/localisedText.ts';
import { dateWords } from '../facts/wording.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { shortSentence } from '../rulebook/sentence.ts';
import { DAY } from '../model/calendar.ts';
import { groupOf } from '../rulebook/condition.ts';
import { unfinished, type Unfinished } from '../rulebook/unfinished.ts';
import type { ShopFacts } from '../model/subject.ts';
import { aroundWindow, betweenWindow, type Window } from '../facts/windows.ts';
import { contradicts } from './contradiction.ts';
import { finding, type Finding } from './finding.ts';
import type { Vocabulary } from './vocabulary.ts';

/** What the findings about a rule's own words are found by. */
export interface Known {
  readonly shop: ShopFacts;
  /** Epoch ms. */
  readonly moment: number;
  /** Whether every pre-order comes under terms that the shop has written down. */
  readonly hasTerms: boolean;
  /** Paths of this shop that rules lead to and that turned out not to be there. */
  readonly missingPages: ReadonlySet<string>;
  /** The codes of the shop's payment methods; null where they are not known. */
  readonly methods: ReadonlySet<string> | null;
}

const SOON = 7 * DAY;
/** Graphemes of a label that stand on one line of a button half as wide as a small telephone. */
export const LONGEST_LABEL = 28;

export const ruleTitle = (rule: Rule): string => `“${rule.name ?? shortSentence(rule)}”`;

/** All that can be seen in one rule, without a look at the goods one by one. */
export function findingsInWords(rule: Rule, known: Known, vocabulary: Vocabulary): Finding[] {
  const lacks = unfinished(rule);
  return [
    ...lacks.map((lack) => finding('unfinished', rule, `${ruleTitle(rule)} is unfinished: ${LACKING[lack]}.`)),
    ...(lacks.length === 0 && contradicts(rule.when, known.shop.zone)
      ? [
          finding('contradiction', rule, `${ruleTitle(rule)} can never apply: its conditions exclude each other.`, {
            mend: { label: 'Switch the rule off', becomes: { ...rule, on: false } },
          }),
        ]
      : []),
    ...leavesWithPlace(rule.when).flatMap((place) => [
      ...windowFindings(rule, place, known, vocabulary),
      ...nameFindings(rule, place, vocabulary),
    ]),
    ...termsFindings(rule, known),
    ...textFindings(rule, known),
    ...linkFindings(rule, known),
    ...methodFindings(rule, known),
  ];
}

const LACKING: Readonly<Record<Unfinished, string>> = {
  noGoods: 'it does not say which products, so it never applies',
  emptyGroup: 'it has an empty group of conditions, so it never applies',
  emptyThen: 'it does not say what should happen',
};

interface Place {
  readonly leaf: Extract<Condition, { fact: string }>;
  /** Whether the rule counts when it holds; below a `none` it is the other way round. */
  readonly isWanted: boolean;
  /** Whether it must hold for the rule to count. */
  readonly isNeeded: boolean;
  /** The rule's condition with another, or none, in the leaf's place; null when nothing would be left. */
  readonly with: (leaf: Condition | null) => Condition | null;
}

function leavesWithPlace(when: Condition): Place[] {
  const walk = (
    condition: Condition,
    isWanted: boolean,
    isNeeded: boolean,
    put: (replacement: Condition | null) => Condition | null,
  ): Place[] => {
    const group = groupOf(condition);
    if (!group) return [{ leaf: condition as Place['leaf'], isWanted, isNeeded, with: put }];
    const { join, members } = group;
    return members.flatMap((member, index) =>
      walk(member, isWanted !== (join === 'none'), isNeeded && join === 'all', (replacement) => {
        const others = replacement === null ? members.toSpliced(index, 1) : members.with(index, replacement);
        return put(others.length === 0 ? null : ({ [join]: others } as Condition));
      }),
    );
  };
  return walk(when, true, true, (replacement) => replacement);
}

function windowFindings(rule: Rule, { leaf, isWanted, isNeeded, with: put }: Place, known: Known, goods: Vocabulary) {
  if (leaf.fact !== 'moment' || !isWanted) return [];
  const { zone } = known.shop;
  const off = { label: 'Switch the rule off', becomes: { ...rule, on: false } };
  if (leaf.op === 'between') {
    const { from, until } = leaf.value;
    const window = betweenWindow(zone, leaf.value);
    if (from !== undefined && until !== undefined && window.from >= window.until) {
      const when = put({ ...leaf, value: { from: until, until: from } });
      return [
        finding('windowInverted', rule, `${ruleTitle(rule)} ends on ${dateWords(until)}, before it begins.`, {
          mend: when && window.from > window.until ? { label: 'Swap the two', becomes: { ...rule, when } } : null,
        }),
      ];
    }
    if (until === undefined) return [];
    if (window.until <= known.moment) {
      const what = isNeeded ? `${ruleTitle(rule)} is over` : `A time in ${ruleTitle(rule)} is over`;
      return [
        finding('windowPast', rule, `${what}: it ended on ${dateWords(until)}.`, { mend: isNeeded ? off : null }),
      ];
    }
    return closes([window]) ? [finding('windowCloses', rule, `${ruleTitle(rule)} ends on ${dateWords(until)}.`)] : [];
  }
  if (leaf.op !== 'around') return [];
  const windows = [...(goods.dates.get(leaf.value.date) ?? [])].flatMap(
    (written) => aroundWindow(zone, leaf.value, written) ?? [],
  );
  if (windows.length === 0) return [];
  if (windows.every(({ from, until }) => from >= until))
    return [
      finding('windowInverted', rule, `${ruleTitle(rule)} ends before it begins, by every date “${leaf.value.date}”.`),
    ];
  if (windows.every(({ until }) => until <= known.moment))
    return [
      finding('windowPast', rule, `${ruleTitle(rule)} is over for all products with a date “${leaf.value.date}”.`, {
        mend: isNeeded ? off : null,
      }),
    ];
  const closing = closes(windows);
  const which = closing === 1 ? 'one date' : `${closing} dates`;
  return closing
    ? [
        finding(
          'windowCloses',
          rule,
          `${ruleTitle(rule)} ends within a week for products with ${which} “${leaf.value.date}”.`,
        ),
      ]
    : [];

  function closes(all: readonly Window[]): number {
    return all.filter(({ from, until }) => from < until && until > known.moment && until - known.moment <= SOON).length;
  }
}

/** A name is taken for a slip of another when no more of it differs. */
const isNear = (a: string, b: string) => distance(a, b) <= Math.max(1, Math.floor(Math.max(a.length, b.length) / 3));

function nameFindings(rule: Rule, { leaf, with: put }: Place, goods: Vocabulary): Finding[] {
  return goods.unknownNames(leaf).flatMap(({ what, name, among, replaced }) => {
    const [closest] = [...among].map((other) => ({ other, far: distance(name, other) })).sort((a, b) => a.far - b.far);
    const nearest = closest && isNear(name, closest.other) ? closest.other : null;
    const changed = nearest === null ? replaced(null) : replaced(nearest);
    const when = changed && put(changed);
    const label = nearest === null ? `Remove “${name}”` : `Change it to “${nearest}”`;
    const known = nearest === null ? '' : ` The closest is “${nearest}”.`;
    return finding(
      'unknownName',
      rule,
      `${ruleTitle(rule)} names the ${what} “${name}”, which does not exist.${known}`,
      {
        mend: when ? { label, becomes: { ...rule, when } } : null,
      },
    );
  });
}

function termsFindings(rule: Rule, { hasTerms }: Known): Finding[] {
  const { control, notes, afterOrder } = rule.then;
  if (control?.kind !== 'preorder' || hasTerms || notes !== undefined || afterOrder !== undefined) return [];
  return [finding('preorderWithoutTerms', rule, `${ruleTitle(rule)} takes pre-orders without stating terms.`)];
}

const TEXTS = new Set(['label', 'text', 'closedText', 'joinedText', 'addedText', 'suffix']);

/** Every text that an outcome says, with what it is. */
function textsIn(value: unknown, key = ''): { key: string; text: LocalisedText }[] {
  if (TEXTS.has(key) && value !== undefined) return [{ key, text: value as LocalisedText }];
  if (typeof value !== 'object' || value === null) return [];
  return Object.entries(value).flatMap(([name, inner]) => textsIn(inner, Array.isArray(value) ? key : name));
}

function textFindings(rule: Rule, { shop }: Known): Finding[] {
  const texts = textsIn(rule.then);
  const language = (locale: string) => locale.toLowerCase().split('-')[0] ?? locale;
  const isMissing = (locale: string) =>
    texts.some(
      ({ text }) => typeof text !== 'string' && !Object.keys(text).some((key) => language(key) === language(locale)),
    );
  const named = new Intl.DisplayNames('en', { type: 'language' });
  const long = texts
    .filter(({ key }) => key === 'label')
    .flatMap(({ text }) => (typeof text === 'string' ? [text] : Object.values(text)))
    .filter((label) => [...new Intl.Segmenter().segment(label)].length > LONGEST_LABEL);
  return [
    ...shop.locales
      .filter(isMissing)
      .map((locale) =>
        finding(
          'missingLanguage',
          rule,
          `${ruleTitle(rule)} has a text that is missing in ${named.of(locale) ?? locale}.`,
        ),
      ),
    ...long.map((label) =>
      finding(
        'longLabel',
        rule,
        `The label “${label}” of ${ruleTitle(rule)} takes two lines or more on a small screen.`,
      ),
    ),
  ];
}

/** The addresses of this shop's own pages that a rule leads to, placeholders left out. */
export function shopPagesOf({ then }: Rule): string[] {
  const { control, visibility, cart, checkout } = then;
  const onListing = control?.onListing;
  const found = [visibility?.redirectTo, cart?.redirectTo, checkout?.redirectTo];
  for (const shown of [control, onListing && 'kind' in onListing ? onListing : undefined]) {
    if (shown?.kind === 'link' || shown?.kind === 'signIn') found.push(shown.href);
    if (shown?.kind === 'enquiry' && typeof shown.form !== 'string') found.push(shown.form.page);
  }
  return found.filter((href): href is string => href !== undefined && /^\/(?!\/)[^{}]*$/.test(href));
}

const methodFindings = (rule: Rule, { methods }: Known): Finding[] =>
  (rule.then.checkout?.hideMethods ?? [])
    .filter((code) => methods !== null && !methods.has(code))
    .map((code) =>
      finding(
        'unknownName',
        rule,
        `${ruleTitle(rule)} hides the payment method “${code}”, which the shop does not have.`,
      ),
    );

const linkFindings = (rule: Rule, { missingPages }: Known): Finding[] =>
  [...new Set(shopPagesOf(rule))]
    .filter((href) => missingPages.has(href))
    .map((href) =>
      finding('brokenLink', rule, `${ruleTitle(rule)} leads to ${href}, which is not a page of this shop.`),
    );
