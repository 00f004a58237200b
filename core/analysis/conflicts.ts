import { controlOf } from '../controls/controls.ts';
import { isGathered, type Aspect } from '../aspects/aspects.ts';
import type { CompiledRule } from '../engine/compile.ts';
import { isClosure } from '../rulebook/closure.ts';
import { leavesOf } from '../rulebook/condition.ts';
import { finding, type Finding } from './finding.ts';
import { moveAbove } from './quickFixes.ts';
import type { Tallies, Tally } from './tally.ts';

/** One rule that won over another in an aspect, and where. */
export interface Beaten {
  readonly by: CompiledRule;
  readonly rule: CompiledRule;
  readonly aspect: Aspect;
  readonly tally: Tally;
}

/** Rules that win something, and which rule beats which. */
export interface Outcome {
  readonly won: ReadonlySet<CompiledRule>;
  /** In the running order of the winners, then of the losers. */
  readonly beaten: readonly Beaten[];
}

/** Statistics of rules that compete with each other. */
export interface Contest {
  /** In their order. */
  readonly rules: readonly CompiledRule[];
  readonly counted: Tallies<CompiledRule>;
  /** In how many cases a rule counted. */
  readonly cases: ReadonlyMap<CompiledRule, number>;
  /** Number of cases. */
  readonly subjects: number;
  readonly actual: Outcome;
  /** The outcome with all closures switched off, except the rule itself if it is one. */
  readonly withoutClosures: Outcome;
}

/** Finds rules that prevent each other from winning. */
export class Conflicts {
  constructor(private readonly contest: Contest) {}

  /**
   * Rules that count and never win anything. Closures are ignored for this, since they come and go and would hide rules that
   * decide nothing without them either. Rules that only closures keep from winning are reported once, with the closure.
   */
  neverWinning(): Finding[] {
    const { actual, withoutClosures, counted, rules } = this.contest;
    const idle = new Map<CompiledRule, CompiledRule[]>();
    const never = [...counted].flatMap(([rule, { variants, example }]) => {
      if (actual.won.has(rule)) return [];
      if (withoutClosures.won.has(rule)) {
        const closure = winnersOver(rule, actual).find((one) => isClosure(one.rule));
        if (closure && rules.includes(closure)) {
          idle.set(closure, [...(idle.get(closure) ?? []), rule]);
          return [];
        }
      }
      const by = winnersOver(rule, withoutClosures.won.has(rule) ? actual : withoutClosures);
      const [first] = by;
      const quickFix = first && this.mayMoveAbove(first, rule) ? moveAbove(first) : null;
      const about = { kind: 'neverWins', by: by.map((other) => other.rule.id) } as const;
      return [finding(rule.rule, about, { count: variants, example, quickFix })];
    });
    return [...never, ...[...idle].map(([closure, rules]) => this.idleUnder(closure, rules))];
  }

  private idleUnder(closure: CompiledRule, rules: readonly CompiledRule[]): Finding {
    const [first] = rules;
    const { variants = 0, example = null } = (first && this.contest.counted.get(first)) ?? {};
    const about = { kind: 'idle', rules: rules.map(({ rule }) => rule.id) } as const;
    return finding(closure.rule, about, { count: variants, example });
  }

  /** Closures above which a rule keeps products on sale for everybody. */
  notClosed(): Finding[] {
    return this.opened().map(({ by, rule, tally: { variants, example } }) =>
      finding(
        rule.rule,
        { kind: 'notClosed', by: by.rule.id },
        { count: variants, example, quickFix: this.contest.rules.includes(by) ? moveAbove(by) : null },
      ),
    );
  }

  private opened() {
    return this.contest.actual.beaten.filter(({ by, rule, aspect }) => {
      const { control } = by.rule.then;
      // A rule for some people is an exception that is meant.
      const isForAll = leavesOf(by.rule.when).every(({ fact }) => !fact.startsWith('visitor.'));
      return (
        aspect === 'control' && control !== undefined && controlOf(control).sells && isForAll && isClosure(rule.rule)
      );
    });
  }

  /** No rule is moved past a closure that it would open. */
  private mayMoveAbove(target: CompiledRule, rule: CompiledRule): boolean {
    const { rules } = this.contest;
    // A seller's rule stands where the owner lets it.
    if (!rules.includes(target)) return false;
    const passed = rules.slice(rules.indexOf(target), rules.indexOf(rule));
    return isClosure(rule.rule) || !passed.some((other) => other.rule.on && isClosure(other.rule));
  }

  /** Pairs of rules that differ on common products while each also applies to others. */
  fights(): Finding[] {
    const opened = new Set(this.opened());
    return this.contest.actual.beaten.flatMap((beaten) => {
      const { by, rule, aspect } = beaten;
      const { variants, example } = beaten.tally;
      if (
        opened.has(beaten) ||
        !this.contest.actual.won.has(rule) ||
        isGathered(aspect) ||
        by.rule.then[aspect] === undefined
      )
        return [];
      if (JSON.stringify(by.rule.then[aspect]) === JSON.stringify(rule.rule.then[aspect])) return [];
      // One whose goods are all the other's too is an exception to it, as it should be.
      const isWithin = (one: CompiledRule) => (this.contest.counted.get(one)?.variants ?? 0) <= variants;
      if (isWithin(by) || isWithin(rule)) return [];
      const quickFix = this.mayMoveAbove(by, rule) ? moveAbove(by) : null;
      return [finding(rule.rule, { kind: 'fight', by: by.rule.id, aspect }, { count: variants, example, quickFix })];
    });
  }

  /** Rules that count for all products and everybody now, and decide what can be bought. */
  touchingEverything(): Finding[] {
    if (this.contest.subjects === 0) return [];
    return [...this.contest.counted].flatMap(([rule, { variants, example }]) => {
      const matters = (['control', 'price', 'visibility', 'cart', 'checkout'] as const).some(
        (aspect) => rule.rule.then[aspect],
      );
      if ((this.contest.cases.get(rule) ?? 0) < this.contest.subjects || !matters) return [];
      return [finding(rule.rule, { kind: 'touchesEverything' }, { count: variants, example })];
    });
  }
}

/** Rules that win over a rule, by number of variants. */
function winnersOver(rule: CompiledRule, { beaten }: Outcome): CompiledRule[] {
  const above = beaten.filter((one) => one.rule === rule).sort((a, b) => b.tally.variants - a.tally.variants);
  return [...new Set(above.map(({ by }) => by))];
}
