import { isGathered, type Aspect, type AspectSet, type Gathered } from '../aspects/aspects.ts';
import type { CompiledList, CompiledRule, CompiledRulebook } from './compile.ts';
import type { Subject } from '../model/subject.ts';

/** The rule that decided each aspect, and until when that holds if only the clock moves (epoch ms, or Infinity). */
export interface Winners {
  readonly by: Readonly<Partial<Record<Exclude<Aspect, Gathered>, CompiledRule>>>;
  /** All rules that contributed to a gathered aspect, from the top. */
  readonly gathered: Readonly<Record<Gathered, readonly CompiledRule[]>>;
  readonly until: number;
}

/**
 * Evaluates rules from the top. Each aspect goes to the first matching rule that decides it; notes and style are
 * gathered until a rule ends that; aspects that come with a control are dropped where that control lost. A rule whose
 * aspects are all decided cannot change anything before a rule above it does, so its own changes do not shorten
 * `until`. A matching rule that stops ends its list: the whole list for the owner's rule, the seller's for a seller's.
 */
export function winners(rulebook: CompiledRulebook, subject: Subject, aspects: AspectSet): Winners {
  const by: Partial<Record<Aspect, CompiledRule>> = {};
  const gathered: Record<Gathered, CompiledRule[]> = { notes: [], style: [] };
  let open = aspects;
  let earliest = Infinity;
  const readings = rulebook.known.of(subject);
  /** Evaluates a candidate. @returns whether the rules below it in its list are evaluated */
  const read = ({ rules, candidates }: CompiledList, index: number): boolean => {
    const rule = rules[index];
    if (!rule) return true;
    if (!rule.closes && !claimsSomething(rule, open)) return true;
    if (rule.prepared.control?.isAtCap || !candidates.isExact(index, readings.isDated)) {
      const { matches: holds, validUntil: until } = rule.counts(subject);
      if (until < earliest) earliest = until;
      if (!holds) return true;
    }
    for (const { aspect, needs, gathers, settles } of rule.claims) {
      if ((needs & ~open) !== 0) continue;
      if (gathers) gathered[gathers].push(rule);
      else by[aspect] = rule;
      open &= ~settles;
    }
    return open !== 0 && !rule.closes;
  };
  // The seller's list has a place within the owner's.
  let { seller: left } = readings;
  const readSeller = (): boolean => {
    const seller = left;
    left = null;
    seller?.list.candidates.each(seller.reading, (index) => read(seller.list, index));
    return open !== 0;
  };
  const place = rulebook.sellers?.place ?? Infinity;
  const isReadThrough = rulebook.candidates.each(
    readings.owner,
    (index) => (!left || index < place || readSeller()) && read(rulebook, index),
  );
  if (isReadThrough) readSeller();
  return { by, gathered, until: earliest };
}

/** Whether a rule could win anything, before its conditions are evaluated. */
function claimsSomething({ aspectSet, claims }: CompiledRule, open: AspectSet): boolean {
  if ((aspectSet & open) === 0) return false;
  for (const { needs } of claims) if ((needs & ~open) === 0) return true;
  return false;
}

/** Whether a rule decided an aspect, alone or with others. */
export const decidedBy = ({ by, gathered }: Winners, rule: CompiledRule, aspect: Aspect): boolean =>
  isGathered(aspect) ? gathered[aspect].includes(rule) : by[aspect] === rule;
