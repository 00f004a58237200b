import { ASPECTS } from '../aspects/aspects.ts';
import { countOf, lowestOf } from '../engine/bits.ts';
import type { CompiledRule, CompiledRulebook } from '../engine/compile.ts';
import type { ViewContext, Surface, VisitorFacts } from '../model/subject.ts';
import { wordOf } from './columns.ts';
import { visitorTextKey } from './readTrackedMemo.ts';
import type { PreparedRule, RuleMatcher } from './ruleMatcher.ts';
import { isClosure } from '../rulebook/closure.ts';
import { Conflicts, type Beaten, type Outcome } from './conflicts.ts';
import { finding, SEVERITIES, type Example, type Finding, type FindingDetails } from './finding.ts';
import { quickFixOf } from './quickFixes.ts';
import { Places, PLACES, type PlaceFinding, type PlaceResolvers } from './placeAgreement.ts';
import { GATHERS, noWinners, PER_WORD, BatchResolver, SLOTS } from './batchResolver.ts';
import { newRows, variationsOf } from './variations.ts';
import { Tallies, Tally } from './tally.ts';
import { readsStock, untrackedAt } from './untracked.ts';
import { Vocabulary } from './vocabulary.ts';
import { findingsInWords, type Known } from './ruleFindings.ts';

/** Input of the search for findings: a rulebook, with the visitors and moments to check. */
export interface Looked extends Omit<Known, 'shop' | 'moment'> {
  readonly rulebook: CompiledRulebook;
  readonly visitors: readonly VisitorFacts[];
  /** Epoch ms; the first is now. */
  readonly moments: readonly number[];
  /** Whether it reports the one seller's rules rather than the owner's. */
  readonly isOfSeller: boolean;
  /** The codes of the roles that there are. */
  readonly roles: readonly string[];
}

const SURFACES_LOOKED_AT: readonly Surface[] = ['product', 'listing'];
/** Words of rows checked before yielding to other work. */
const WORDS_AT_ONCE = 8;

/** Places in the running order are below this. */
const MOST_PLACES = 1_000_000;

/** Rules by somebody, somewhere, at a moment. */
interface Look {
  readonly seen: ViewContext;
  readonly visitor: number;
  readonly side: BatchResolver;
  /** The places in the side of rules below which nothing counts. */
  readonly closers: readonly number[];
  /** Marks the closures by their places in the side. */
  readonly closures: Uint8Array;
}

/** Rules that win something, and which rule beats which. */
class Outcomes {
  readonly won = new Set<CompiledRule>();
  /** By the rule that lost, the rule that won, and the aspect. */
  private readonly beaten = new Map<number, Beaten>();

  /** Returns the tally of the rows at which one rule beats another in an aspect. */
  tallyOf(by: PreparedRule, rule: PreparedRule, slot: number): Tally {
    const key = (by.place * MOST_PLACES + rule.place) * SLOTS + slot;
    const known = this.beaten.get(key) ?? {
      by: by.compiled,
      rule: rule.compiled,
      aspect: ASPECTS[slot]!,
      tally: new Tally(),
    };
    this.beaten.set(key, known);
    return known.tally;
  }

  /** Returns the pairs in the running order of the winners, then of the losers. */
  pairs(): Beaten[] {
    return [...this.beaten].sort(([one], [other]) => one - other).map(([, beaten]) => beaten);
  }
}

/**
 * Looks through goods for what the owner should see. Every finding that is about goods has an example among those that were
 * looked through; what was not looked through is not spoken of.
 */
export class Findings {
  private readonly vocabulary: Vocabulary;
  /** Rules whose findings are reported, in their order. */
  private readonly told: readonly CompiledRule[];
  /** By rule. */
  private readonly counted = new Tallies<CompiledRule>();
  /** In how many cases a rule counted, of how many. */
  private readonly cases = new Map<CompiledRule, number>();
  private subjects = 0;
  /** Outcomes with all rules on, and with every closure switched off but the one in question. */
  private readonly actual = new Outcomes();
  private readonly withoutClosures = new Outcomes();
  private readonly seen = new Map<string, { about: FindingDetails; rule: CompiledRule; tally: Tally }>();
  private wordsDone = 0;
  /** Scratch of a word: of each slot, which rules, by their places, won which rows. */
  private readonly taken: { readonly by: number; readonly rows: number }[][] = ASPECTS.map(() => []);

  constructor(
    private readonly looked: Looked,
    private readonly counts: RuleMatcher,
  ) {
    this.vocabulary = new Vocabulary(looked.roles);
    const { rules, sellers } = looked.rulebook;
    this.told = looked.isOfSeller ? (sellers?.all() ?? []).flatMap(({ list }) => list.rules) : rules;
    for (const product of counts.columns.products) this.vocabulary.add(product);
  }

  /** Number of products checked. */
  get products(): number {
    const { columns } = this.counts;
    const row = this.wordsDone * PER_WORD;
    return row >= columns.rows ? columns.products.length : columns.placeOf(row);
  }

  /** Looks through the goods; yields its progress, and the findings so far can be read. */
  *look(): Generator<number> {
    const { columns } = this.counts;
    const looks = variationsOf(
      this.looks(),
      () => '',
      ({ side }) => [side],
    );
    const sides = variationsOf(
      this.sides(),
      ([, { sides, places, cart, visitorTextKey }]) => [sides.length, places.join(), cart, visitorTextKey].join(' '),
      ([, { sides }]) => sides,
    );
    const places = new Places(columns, this.looked.rulebook);
    const stocks = this.stocks();
    const won = noWinners();
    for (let word = 0; word < columns.words; word++) {
      const rows = columns.all.bits[word]!;
      for (const { look, differs } of looks) this.classify(look, word, rows, newRows(differs, word, rows), won);
      for (const {
        look: [visitor, side],
        differs,
      } of sides) {
        const fresh = newRows(differs, word, rows);
        if (fresh === 0) continue;
        places.fill(side, word, fresh);
        const found = new Map<PlaceFinding, number>();
        for (let left = fresh; left !== 0; left &= left - 1) {
          const at = lowestOf(left);
          for (const one of places.at(side, word * PER_WORD + at, at))
            found.set(one, (found.get(one) ?? 0) | (1 << at));
        }
        for (const [{ about, rule, surface }, there] of found)
          this.note(about, rule, word, there, this.exampleIn(word, there, { ...side.seen, surface }, visitor));
      }
      for (const { rule, bits, seen, visitor } of stocks)
        if (bits[word] !== 0)
          this.note(
            { kind: 'untrackedStock' },
            rule.compiled.rule.id,
            word,
            bits[word]!,
            this.exampleIn(word, bits[word]!, seen, visitor),
          );
      this.wordsDone = word + 1;
      if (word % WORDS_AT_ONCE === 0) yield word / columns.words;
    }
  }

  /** All audiences, places and moments, without equivalent ones. */
  private looks(): Look[] {
    const { rulebook, visitors, moments } = this.looked;
    const looks = new Map<string, Look>();
    for (const [visitor, facts] of visitors.entries())
      for (const moment of moments)
        for (const surface of SURFACES_LOOKED_AT) {
          const seen: ViewContext = { visitor: facts, moment, surface, page: null };
          const side = new BatchResolver(this.counts.of(rulebook, seen));
          if (looks.has(side.key)) continue;
          const closers = side.list.flatMap(({ rule: prepared }, index) => (prepared.closes ? [index] : []));
          const closures = Uint8Array.from(side.list, ({ rule: { compiled } }) => Number(isClosure(compiled.rule)));
          looks.set(side.key, { seen, visitor, side, closers, closures });
        }
    return [...looks.values()];
  }

  /** Places that should agree, for all audiences and moments, without equivalent ones. */
  private sides(): [visitor: number, sides: PlaceResolvers][] {
    const { rulebook, visitors, moments } = this.looked;
    const hasCart = rulebook.rules.some(({ rule }) => rule.then.cart !== undefined);
    const sides = new Map<string, [number, PlaceResolvers]>();
    for (const [visitor, facts] of visitors.entries())
      for (const moment of moments) {
        const seen = { visitor: facts, moment, page: null };
        const resolvers: BatchResolver[] = [];
        const on = (surface: Surface) => {
          const side = new BatchResolver(this.counts.of(rulebook, { ...seen, surface }));
          const known = resolvers.findIndex((one) => one.key === side.key);
          return known >= 0 ? known : resolvers.push(side) - 1;
        };
        const [places, cart, textKey] = [PLACES.map(on), hasCart ? on('cart') : null, visitorTextKey(seen)];
        const key = `${resolvers.map((side) => side.key).join(' ')} ${places.join()} ${String(cart)} ${textKey}`;
        if (!sides.has(key))
          sides.set(key, [visitor, { seen, sides: resolvers, places, cart, visitorTextKey: textKey }]);
      }
    return [...sides.values()];
  }

  /** Finds rules that fail only because stock is not tracked. */
  private stocks() {
    const { rulebook, visitors, moments } = this.looked;
    return this.counts
      .ready(rulebook)
      .filter((rule) => this.isTold(rule) && readsStock(rule))
      .flatMap((rule) => {
        const found = new Map<number, { rule: PreparedRule; bits: Uint32Array; seen: ViewContext; visitor: number }>();
        for (const [visitor, facts] of visitors.entries())
          for (const moment of moments) {
            const seen: ViewContext = { visitor: facts, moment, surface: 'product', page: null };
            const { id, bits, isEmpty } = untrackedAt(this.counts, rule, seen, rulebook.shop.zone);
            if (!isEmpty && !found.has(id)) found.set(id, { rule, bits, seen, visitor });
          }
        return [...found.values()];
      });
  }

  private isTold({ within }: PreparedRule): boolean {
    return (within !== null) === this.looked.isOfSeller;
  }

  private readonly exampleAt =
    (row: number, { moment, surface }: Pick<ViewContext, 'moment' | 'surface'>, visitor: number) =>
    (): Example => {
      const { product, variant } = this.counts.columns.variantAt(row);
      return { product: product.id, variant: variant.id, visitor, moment, surface };
    };

  private exampleIn(
    word: number,
    rows: number,
    seen: Pick<ViewContext, 'moment' | 'surface'>,
    visitor: number,
  ): () => Example {
    return this.exampleAt(word * PER_WORD + lowestOf(rows), seen, visitor);
  }

  private note(about: FindingDetails, id: string, word: number, rows: number, example: () => Example): void {
    const key = `${about.kind} ${id}`;
    const known = this.seen.get(key);
    const rule = known?.rule ?? this.told.find((one) => one.rule.id === id);
    if (!rule) return;
    const { tally } = known ?? { tally: new Tally() };
    if (!known) this.seen.set(key, { about, rule, tally });
    tally.add(word, rows, example);
  }

  /** All that was found, the worst first, in the order of the rules. */
  all(): Finding[] {
    const { shop } = this.looked.rulebook;
    const rules = this.told;
    const known = { ...this.looked, shop, moment: this.looked.moments[0] ?? 0 };
    const place = new Map(rules.map(({ rule }, index) => [rule.id, index]));
    const { counted, cases, subjects } = this;
    const outcome = (outcomes: Outcomes): Outcome => ({ won: outcomes.won, beaten: outcomes.pairs() });
    const [actual, withoutClosures] = [outcome(this.actual), outcome(this.withoutClosures)];
    const conflicts = new Conflicts({ rules, counted, cases, subjects, actual, withoutClosures });
    const found = [
      ...rules.filter(({ rule }) => rule.on).flatMap(({ rule }) => findingsInWords(rule, known, this.vocabulary)),
      ...conflicts.neverWinning(),
      ...conflicts.notClosed(),
      ...conflicts.fights(),
      ...[...this.seen.values()].map(({ about, rule, tally: { variants, example } }) =>
        finding(rule.rule, about, { count: variants, example, quickFix: quickFixOf(about.kind, rule) }),
      ),
      ...conflicts.touchingEverything(),
    ];
    const rank = ({ severity }: Finding) => SEVERITIES.indexOf(severity);
    return found.sort((a, b) => rank(a) - rank(b) || (place.get(a.rule) ?? 0) - (place.get(b.rule) ?? 0));
  }

  /** Records which rules match, which win, and over which others. */
  private classify(look: Look, word: number, rows: number, fresh: number, won: Int32Array): void {
    const { seen, visitor, side, closures } = look;
    this.subjects += countOf(rows);
    for (const { rule: prepared, rows: ruleRows } of side.list) {
      const holds = wordOf(ruleRows, word) & rows;
      const { compiled } = prepared;
      if (holds === 0 || !this.isTold(prepared)) continue;
      this.cases.set(compiled, (this.cases.get(compiled) ?? 0) + countOf(holds));
      this.counted.of(compiled).add(word, holds, this.exampleIn(word, holds, seen, visitor));
    }
    if (fresh === 0) return;
    const isClosed = side.list.some((one, index) => closures[index] === 1 && (wordOf(one.rows, word) & fresh) !== 0);
    if (isClosed) {
      this.contest(look, word, fresh, won, [this.actual]);
      this.contest(look, word, fresh, won, [this.withoutClosures], closures);
    } else this.contest(look, word, fresh, won, [this.actual, this.withoutClosures]);
  }

  /** Records which rule beats which at some rows of a word. */
  private contest(
    { seen, visitor, side, closers }: Look,
    word: number,
    rows: number,
    won: Int32Array,
    outcomes: readonly Outcomes[],
    switchedOff?: Uint8Array,
  ): void {
    const { list } = side;
    for (const taken of this.taken) taken.length = 0;
    const beats = (by: PreparedRule, rule: PreparedRule, slot: number, lost: number) => {
      for (const outcome of outcomes)
        outcome.tallyOf(by, rule, slot).add(word, lost, this.exampleIn(word, lost, seen, visitor));
    };
    const onContest = (rule: number, slot: number, wins: number, loses: number) => {
      if (wins !== 0) for (const outcome of outcomes) outcome.won.add(list[rule]!.rule.compiled);
      if (loses !== 0 && this.isTold(list[rule]!.rule)) {
        let left = loses;
        for (const { by, rows: theirs } of this.taken[slot]!) {
          const lost = left & theirs;
          if (lost !== 0) beats(list[by]!.rule, list[rule]!.rule, slot, lost);
          left &= ~lost;
        }
        for (const closer of closers) {
          if (left === 0 || closer >= rule) break;
          if (switchedOff?.[closer] === 1 || (list[closer]!.rule.within && !list[rule]!.rule.within)) continue;
          const lost = left & wordOf(list[closer]!.rows, word);
          if (lost !== 0) beats(list[closer]!.rule, list[rule]!.rule, slot, lost);
          left &= ~lost;
        }
      }
      if (wins !== 0 && !GATHERS[slot] && switchedOff?.[rule] !== 1) this.taken[slot]!.push({ by: rule, rows: wins });
    };
    side.fill(won, word, rows, onContest, switchedOff);
  }
}
