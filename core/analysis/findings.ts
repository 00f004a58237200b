import { aspectOf, ASPECTS, isGathered, type Aspect } from '../aspects/aspects.ts';
import { countOf, hasBit, lowestOf } from '../engine/bits.ts';
import type { CompiledRule, CompiledRulebook } from '../engine/compile.ts';
import { leavesOf } from '../rulebook/condition.ts';
import type { ViewContext, Surface, VisitorFacts } from '../model/subject.ts';
import { isClosure } from '../rulebook/closure.ts';
import { visitorTextKey } from './readTrackedMemo.ts';
import type { PreparedRule, RuleMatcher } from './ruleMatcher.ts';
import { finding, SEVERITIES, SEVERITY, type Finding, type FindingKind, type Example } from './finding.ts';
import { FINDING_TEXTS } from './findingTexts.ts';
import { quickFixOf, moveAbove } from './quickFixes.ts';
import { Places, PLACES, type PlaceResolvers } from './placeAgreement.ts';
import { noWinners, PER_WORD, BatchResolver, SLOTS } from './batchResolver.ts';
import { Tallies, Tally } from './tally.ts';
import { readsStock, untrackedAt } from './untracked.ts';
import { Vocabulary } from './vocabulary.ts';
import { ruleTitle, findingsInWords, type Known } from './ruleFindings.ts';

/** What findings are looked for in: a rulebook, and the visitors and moments it is looked at by. */
export interface Looked extends Omit<Known, 'shop' | 'moment'> {
  readonly rulebook: CompiledRulebook;
  readonly visitors: readonly VisitorFacts[];
  /** Epoch ms; the first is now. */
  readonly moments: readonly number[];
  /** The codes of the roles that there are. */
  readonly roles: readonly string[];
}

const SURFACES_LOOKED_AT: readonly Surface[] = ['product', 'listing'];
/** So many words of rows are looked at before it gives way. */
const WORDS_AT_ONCE = 8;

/** Rules by somebody, somewhere, at a moment. */
interface Look {
  readonly seen: ViewContext;
  readonly visitor: number;
  readonly side: BatchResolver;
  /** The places in the side of rules below which nothing counts. */
  readonly closers: readonly number[];
}

/**
 * Looks through goods for what the owner should see. Every finding that is about goods has a witness among those that were
 * looked through; what was not looked through is not spoken of.
 */
export class Findings {
  private readonly vocabulary: Vocabulary;
  /** By rule. */
  private readonly counted = new Tallies<CompiledRule>();
  /** In how many cases a rule counted, of how many. */
  private readonly cases = new Map<CompiledRule, number>();
  private subjects = 0;
  private readonly won = new Set<CompiledRule>();
  /** By the rule that lost, the rule that won, and the aspect. */
  private readonly beaten = new Map<number, { by: CompiledRule; rule: CompiledRule; aspect: Aspect; tally: Tally }>();
  private readonly seen = new Map<string, { kind: FindingKind; rule: CompiledRule; tally: Tally }>();
  private wordsDone = 0;

  constructor(
    private readonly looked: Looked,
    private readonly counts: RuleMatcher,
  ) {
    this.vocabulary = new Vocabulary(looked.roles);
    for (const product of counts.columns.products) this.vocabulary.add(product);
  }

  /** How many products were looked through. */
  get products(): number {
    const { columns } = this.counts;
    const row = this.wordsDone * PER_WORD;
    return row >= columns.rows ? columns.products.length : columns.placeOf(row);
  }

  /** Looks through the goods; gives way with the part that is done, and what was found till then can be told. */
  *look(): Generator<number> {
    const { columns } = this.counts;
    const looks = this.looks();
    const sides = this.sides();
    const places = new Places(columns, this.looked.rulebook);
    const stocks = this.stocks();
    const won = noWinners();
    for (let word = 0; word < columns.words; word++) {
      const rows = columns.all.bits[word]!;
      for (const look of looks) this.classify(look, word, rows, won);
      for (const [visitor, side] of sides) {
        places.fill(side, word, rows);
        for (let left = rows; left !== 0; left &= left - 1) {
          const at = lowestOf(left);
          const row = word * PER_WORD + at;
          for (const { kind, rule, surface } of places.at(side, row, at))
            this.note(kind, rule, word, 1 << at, this.witnessAt(row, { ...side.seen, surface }, visitor));
        }
      }
      for (const { rule, bits, seen, visitor } of stocks)
        if (bits[word] !== 0)
          this.note(
            'untrackedStock',
            rule.compiled.rule.id,
            word,
            bits[word]!,
            this.witnessIn(word, bits[word]!, seen, visitor),
          );
      this.wordsDone = word + 1;
      if (word % WORDS_AT_ONCE === 0) yield word / columns.words;
    }
  }

  /** Everybody, everywhere, at every moment; those that come to the same once. */
  private looks(): Look[] {
    const { rulebook, visitors, moments } = this.looked;
    const looks = new Map<string, Look>();
    for (const [visitor, facts] of visitors.entries())
      for (const moment of moments)
        for (const surface of SURFACES_LOOKED_AT) {
          const seen: ViewContext = { visitor: facts, moment, surface, page: null };
          const side = new BatchResolver(this.counts.of(rulebook, seen));
          const closers = side.list.flatMap(({ rule: prepared }, index) => (prepared.closes ? [index] : []));
          if (!looks.has(side.key)) looks.set(side.key, { seen, visitor, side, closers });
        }
    return [...looks.values()];
  }

  /** The places that should agree, for everybody at every moment; those that come to the same once. */
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

  /** Where rules fail only because stock is not tracked. */
  private stocks() {
    const { rulebook, visitors, moments } = this.looked;
    return this.counts
      .ready(rulebook)
      .filter(readsStock)
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

  private readonly witnessAt =
    (row: number, { moment, surface }: Pick<ViewContext, 'moment' | 'surface'>, visitor: number) =>
    (): Example => {
      const { product, variant } = this.counts.columns.goodsAt(row);
      return { product: product.id, variant: variant.id, visitor, moment, surface };
    };

  private witnessIn(word: number, rows: number, seen: ViewContext, visitor: number): () => Example {
    return this.witnessAt(word * PER_WORD + lowestOf(rows), seen, visitor);
  }

  private note(kind: FindingKind, id: string, word: number, rows: number, witness: () => Example): void {
    const key = `${kind} ${id}`;
    const known = this.seen.get(key);
    const rule = known?.rule ?? this.looked.rulebook.rules.find((one) => one.rule.id === id);
    if (!rule) return;
    const { tally } = known ?? { tally: new Tally() };
    if (!known) this.seen.set(key, { kind, rule, tally });
    tally.add(word, rows, witness);
  }

  /** All that was found, the worst first, in the order of the rules. */
  all(): Finding[] {
    const { rules, shop } = this.looked.rulebook;
    const known = { ...this.looked, shop, moment: this.looked.moments[0] ?? 0 };
    const place = new Map(rules.map(({ rule }, index) => [rule.id, index]));
    const found = [
      ...rules.filter(({ rule }) => rule.on).flatMap(({ rule }) => findingsInWords(rule, known, this.vocabulary)),
      ...this.shadows(),
      ...this.notClosed(),
      ...this.fights(),
      ...[...this.seen.values()].map((one) => this.describe(one)),
      ...this.widest(),
    ];
    const rank = ({ kind }: Finding) => SEVERITIES.indexOf(SEVERITY[kind]);
    return found.sort((a, b) => rank(a) - rank(b) || (place.get(a.rule) ?? 0) - (place.get(b.rule) ?? 0));
  }

  /** Which rules count, which of them win, and which win over which. */
  private classify({ seen, visitor, side, closers }: Look, word: number, rows: number, won: Int32Array): void {
    this.subjects += countOf(rows);
    for (const { rule: prepared, rows: ruleRows } of side.list) {
      const holds = ruleRows.bits[word]! & rows;
      if (holds === 0) continue;
      const { compiled } = prepared;
      this.cases.set(compiled, (this.cases.get(compiled) ?? 0) + countOf(holds));
      this.counted.of(compiled).add(word, holds, this.witnessIn(word, holds, seen, visitor));
    }
    side.fill(won, word, rows, (rule, slot, wins, loses) => {
      const { compiled } = side.list[rule]!.rule;
      if (wins !== 0) this.won.add(compiled);
      for (let left = loses; left !== 0; left &= left - 1) {
        const at = lowestOf(left);
        const row = word * PER_WORD + at;
        const first = isGathered(ASPECTS[slot]!) ? -1 : won[at * SLOTS + slot]!;
        const by = first >= 0 ? first : closers.find((one) => one < rule && hasBit(side.list[one]!.rows.bits, row));
        if (by !== undefined)
          this.beats(
            side.list[by]!.rule,
            side.list[rule]!.rule,
            slot,
            word,
            1 << at,
            this.witnessAt(row, seen, visitor),
          );
      }
    });
  }

  private beats(
    by: PreparedRule,
    rule: PreparedRule,
    slot: number,
    word: number,
    row: number,
    witness: () => Example,
  ): void {
    const key = (by.place * this.looked.rulebook.rules.length + rule.place) * SLOTS + slot;
    let known = this.beaten.get(key);
    if (!known) {
      known = { by: by.compiled, rule: rule.compiled, aspect: ASPECTS[slot]!, tally: new Tally() };
      this.beaten.set(key, known);
    }
    known.tally.add(word, row, witness);
  }

  /** Rules that count and never win anything; those that a closure makes idle are told of once, with the closure. */
  private shadows(): Finding[] {
    const idle = new Map<CompiledRule, CompiledRule[]>();
    const never = [...this.counted].flatMap(([rule, { variants, witness }]) => {
      if (this.won.has(rule)) return [];
      const above = [...this.beaten.values()].filter((beaten) => beaten.rule === rule);
      const by = [...new Set(above.sort((a, b) => b.tally.variants - a.tally.variants).map((beaten) => beaten.by))];
      const [first] = by;
      if (first && isClosure(first.rule)) {
        idle.set(first, [...(idle.get(first) ?? []), rule]);
        return [];
      }
      const whom = by.map((other) => ruleTitle(other.rule)).join(' and ');
      const text = `${ruleTitle(rule.rule)} never decides anything: wherever it applies, rules above it decide first: ${whom}.`;
      const mend = first && this.mayMoveAbove(first, rule) ? moveAbove(first) : null;
      return [finding('neverWins', rule.rule, text, { other: first?.rule.id ?? null, count: variants, witness, mend })];
    });
    return [...never, ...[...idle].flatMap(([closure, rules]) => this.idleUnder(closure, rules))];
  }

  private idleUnder(closure: CompiledRule, rules: readonly CompiledRule[]): Finding[] {
    const [first] = rules;
    const { variants = 0, witness = null } = (first && this.counted.get(first)) ?? {};
    const names = rules.slice(0, NAMED).map(({ rule }) => ruleTitle(rule));
    const others = rules.length - names.length;
    const whom = new Intl.ListFormat('en').format(others > 0 ? [...names, `${others} more`] : names);
    const text = `${ruleTitle(closure.rule)} closes everything that ${whom} would decide: meanwhile ${rules.length === 1 ? 'it decides' : 'they decide'} nothing.`;
    return [finding('idle', closure.rule, text, { other: first?.rule.id ?? null, count: variants, witness })];
  }

  /** Closures that leave on sale what a rule above them sells, to whoever comes. */
  private notClosed(): Finding[] {
    return this.opened().map(({ by, rule, tally: { variants, witness } }) => {
      const goods = variants === 1 ? 'one variant' : `${variants} variants`;
      const text = `${ruleTitle(rule.rule)} does not close ${goods} that ${ruleTitle(by.rule)}, above it, goes on selling.`;
      const mend = moveAbove(by);
      return finding('notClosed', rule.rule, text, { other: by.rule.id, count: variants, witness, mend });
    });
  }

  private opened() {
    return [...this.beaten.values()].filter(({ by, rule, aspect }) => {
      const { control } = by.rule.then;
      // A rule for some people is an exception that is meant.
      const isForAll = leavesOf(by.rule.when).every(({ fact }) => !fact.startsWith('visitor.'));
      return (
        aspect === 'control' && control !== undefined && SELLS.has(control.kind) && isForAll && isClosure(rule.rule)
      );
    });
  }

  /** No rule is moved past a closure that it would open. */
  private mayMoveAbove(target: CompiledRule, rule: CompiledRule): boolean {
    const { rules } = this.looked.rulebook;
    const passed = rules.slice(rules.indexOf(target), rules.indexOf(rule));
    return isClosure(rule.rule) || !passed.some((other) => other.rule.on && isClosure(other.rule));
  }

  /** Two rules that say different things of the same goods, where each also speaks where the other does not. */
  private fights(): Finding[] {
    const opened = new Set(this.opened());
    return [...this.beaten.values()].flatMap((beaten) => {
      const { by, rule, aspect } = beaten;
      const { variants, witness } = beaten.tally;
      if (opened.has(beaten) || !this.won.has(rule) || isGathered(aspect) || by.rule.then[aspect] === undefined)
        return [];
      if (JSON.stringify(by.rule.then[aspect]) === JSON.stringify(rule.rule.then[aspect])) return [];
      // One whose goods are all the other's too is an exception to it, as it should be.
      const isWithin = (one: CompiledRule) => (this.counted.get(one)?.variants ?? 0) <= variants;
      if (isWithin(by) || isWithin(rule)) return [];
      const text = `${ruleTitle(by.rule)} and ${ruleTitle(rule.rule)} both decide the ${aspectOf(aspect).shortName} of the same products; the first wins.`;
      const mend = this.mayMoveAbove(by, rule) ? moveAbove(by) : null;
      return [finding('fight', rule.rule, text, { other: by.rule.id, count: variants, witness, mend })];
    });
  }

  private describe({ kind, rule, tally }: { kind: FindingKind; rule: CompiledRule; tally: Tally }): Finding {
    const { variants, witness } = tally;
    const goods = variants === 1 ? 'one variant' : `${variants} variants`;
    const text = FINDING_TEXTS[kind]?.(ruleTitle(rule.rule), goods, witness?.surface ?? 'product') ?? '';
    return finding(kind, rule.rule, text, { count: variants, witness, mend: quickFixOf(kind, rule) });
  }

  /** Rules that count for all goods and everybody now, and decide what can be bought. */
  private widest(): Finding[] {
    if (this.subjects === 0) return [];
    return [...this.counted].flatMap(([rule, { variants, witness }]) => {
      const matters = (['control', 'price', 'visibility', 'cart', 'checkout'] as const).some(
        (aspect) => rule.rule.then[aspect],
      );
      if ((this.cases.get(rule) ?? 0) < this.subjects || !matters) return [];
      const text = `${ruleTitle(rule.rule)} applies to everything: all products, for everyone.`;
      return [finding('touchesEverything', rule.rule, text, { count: variants, witness })];
    });
  }
}

/** So many rules are named where there are more. */
const NAMED = 3;

/** Controls by which goods are sold or reserved. */
const SELLS: ReadonlySet<string> = new Set(['buy', 'preorder', 'ownPrice', 'severalAtOnce']);
