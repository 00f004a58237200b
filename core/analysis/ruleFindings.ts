import { controlOf } from '../controls/controls.ts';
import { distance } from 'fastest-levenshtein';
import type { Condition } from '../rulebook/condition.ts';
import type { LocalisedText } from '../model/localisedText.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { DAY } from '../model/calendar.ts';
import { groupOf } from '../rulebook/condition.ts';
import { unfinished } from '../rulebook/unfinished.ts';
import type { ShopFacts } from '../model/subject.ts';
import { aroundWindow, betweenWindow, type Window } from '../facts/windows.ts';
import { contradicts } from './contradiction.ts';
import { finding, type Finding } from './finding.ts';
import { switchOff } from './quickFixes.ts';
import type { Vocabulary } from './vocabulary.ts';

/** Inputs of the findings about a single rule. */
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

/** All that can be seen in one rule, without a look at the goods one by one. */
export function findingsInWords(rule: Rule, known: Known, vocabulary: Vocabulary): Finding[] {
  const lacks = unfinished(rule);
  return [
    ...lacks.map((lack) => finding(rule, { kind: 'unfinished', lack })),
    ...(lacks.length === 0 && contradicts(rule.when, known.shop.zone)
      ? [finding(rule, { kind: 'contradiction' }, { quickFix: switchOff(rule) })]
      : []),
    ...leavesWithPlace(rule.when).flatMap((place) => [
      ...windowFindings(rule, place, known, vocabulary),
      ...nameFindings(rule, place, vocabulary),
    ]),
    ...termsFindings(rule, known),
    ...textFindings(rule, known),
    ...signInFindings(rule, known),
    ...linkFindings(rule, known),
    ...methodFindings(rule, known),
  ];
}

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

function windowFindings(rule: Rule, place: Place, known: Known, goods: Vocabulary): Finding[] {
  const { leaf, isWanted } = place;
  if (leaf.fact !== 'moment' || !isWanted) return [];
  if (leaf.op === 'between') return writtenWindowFindings(rule, place, leaf, known);
  return leaf.op === 'around' ? windowsOfProductFindings(rule, place, leaf, known, goods) : [];
}

type TimeLeaf<Op> = Extract<Place['leaf'], { fact: 'moment'; op: Op }>;

/** Of a time that the rule writes itself. */
function writtenWindowFindings(
  rule: Rule,
  { isNeeded, with: put }: Place,
  leaf: TimeLeaf<'between'>,
  { shop, moment }: Known,
): Finding[] {
  const { from, until } = leaf.value;
  if (until === undefined) return [];
  const window = betweenWindow(shop.zone, leaf.value);
  const about = { until, date: null };
  if (from !== undefined && window.from >= window.until) {
    const when = window.from > window.until ? put({ ...leaf, value: { from: until, until: from } }) : null;
    const quickFix = when && ({ kind: 'swapDates', becomes: { ...rule, when } } as const);
    return [finding(rule, { kind: 'windowInverted', ...about }, { quickFix })];
  }
  if (window.until <= moment) {
    const quickFix = isNeeded ? switchOff(rule) : null;
    return [finding(rule, { kind: 'windowPast', ...about, isWhole: isNeeded }, { quickFix })];
  }
  return endsSoon(window, moment) ? [finding(rule, { kind: 'windowCloses', ...about, dates: 0 })] : [];
}

/** Findings about times around products' dates. */
function windowsOfProductFindings(
  rule: Rule,
  { isNeeded }: Place,
  leaf: TimeLeaf<'around'>,
  { shop, moment }: Known,
  goods: Vocabulary,
): Finding[] {
  const { date } = leaf.value;
  const windows = [...(goods.dates.get(date) ?? [])].flatMap(
    (written) => aroundWindow(shop.zone, leaf.value, written) ?? [],
  );
  if (windows.length === 0) return [];
  const about = { until: null, date };
  if (windows.every(({ from, until }) => from >= until)) return [finding(rule, { kind: 'windowInverted', ...about })];
  if (windows.every(({ until }) => until <= moment)) {
    const quickFix = isNeeded ? switchOff(rule) : null;
    return [finding(rule, { kind: 'windowPast', ...about, isWhole: isNeeded }, { quickFix })];
  }
  const dates = windows.filter((window) => endsSoon(window, moment)).length;
  return dates > 0 ? [finding(rule, { kind: 'windowCloses', ...about, dates })] : [];
}

const endsSoon = ({ from, until }: Window, moment: number): boolean =>
  from < until && until > moment && until - moment <= SOON;

/** A name is taken for a slip of another when no more of it differs. */
const isNear = (a: string, b: string) => distance(a, b) <= Math.max(1, Math.floor(Math.max(a.length, b.length) / 3));

function nameFindings(rule: Rule, { leaf, with: put }: Place, goods: Vocabulary): Finding[] {
  return goods.unknownNames(leaf).map(({ of, name, among, replaced }) => {
    const [closest] = [...among].map((other) => ({ other, far: distance(name, other) })).sort((a, b) => a.far - b.far);
    const nearest = closest && isNear(name, closest.other) ? closest.other : null;
    const changed = replaced(nearest);
    const when = changed && put(changed);
    const kind = nearest === null ? 'removeName' : 'useNearest';
    const quickFix = when && ({ kind, becomes: { ...rule, when } } as const);
    return finding(rule, { kind: 'unknownName', fact: leaf.fact, of, name, nearest }, { quickFix });
  });
}

function termsFindings(rule: Rule, { hasTerms }: Known): Finding[] {
  const { control, notes, afterOrder } = rule.then;
  if (!control || !controlOf(control).needsTerms || hasTerms || notes !== undefined || afterOrder !== undefined)
    return [];
  return [finding(rule, { kind: 'preorderWithoutTerms' })];
}

const TEXTS = new Set(['label', 'text', 'closedText', 'joinedText', 'addedText', 'suffix']);

/** Every text of an outcome, with its key. */
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
  const long = texts
    .filter(({ key }) => key === 'label')
    .flatMap(({ text }) => (typeof text === 'string' ? [text] : Object.values(text)))
    .filter((label) => [...new Intl.Segmenter().segment(label)].length > LONGEST_LABEL);
  return [
    ...shop.locales.filter(isMissing).map((locale) => finding(rule, { kind: 'missingLanguage', locale })),
    ...long.map((label) => finding(rule, { kind: 'longLabel', label })),
  ];
}

/** Controls that ask guests to sign in, without a link to follow. */
function signInFindings(rule: Rule, { shop }: Known): Finding[] {
  const { control } = rule.then;
  const onListing = control?.onListing;
  const shown = [control, onListing && 'kind' in onListing ? onListing : undefined];
  const isMissing = shown.some((one) => one && controlOf(one).lacksSignIn?.(one, shop) === true);
  return isMissing ? [finding(rule, { kind: 'nowhereToSignIn' })] : [];
}

/** The addresses of this shop's own pages that a rule leads to, placeholders left out. */
export function shopPagesOf({ then }: Rule): string[] {
  const { control, visibility, cart, checkout } = then;
  const onListing = control?.onListing;
  const found = [visibility?.redirectTo, cart?.redirectTo, checkout?.redirectTo];
  for (const shown of [control, onListing && 'kind' in onListing ? onListing : undefined]) {
    if (shown) found.push(...(controlOf(shown).leadsTo?.(shown) ?? []));
  }
  return found.filter((href): href is string => href !== undefined && /^\/(?!\/)[^{}]*$/.test(href));
}

const methodFindings = (rule: Rule, { methods }: Known): Finding[] =>
  (rule.then.checkout?.hideMethods ?? [])
    .filter((code) => methods !== null && !methods.has(code))
    .map((code) => finding(rule, { kind: 'unknownMethod', code }));

const linkFindings = (rule: Rule, { missingPages }: Known): Finding[] =>
  [...new Set(shopPagesOf(rule))]
    .filter((href) => missingPages.has(href))
    .map((href) => finding(rule, { kind: 'brokenLink', href }));
