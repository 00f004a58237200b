import { isGathered, type Aspect, type Gathered } from './aspects.ts';
import type { CompiledRule, CompiledRulebook } from './compile.ts';
import type { Subject } from './subject.ts';

/** Which rule decided each aspect, and until when that stands if only the clock moves (epoch ms, or Infinity). */
export interface Winners {
  readonly by: Readonly<Partial<Record<Exclude<Aspect, Gathered>, CompiledRule>>>;
  /** All that spoke to an aspect that gathers, from the top. */
  readonly gathered: Readonly<Record<Gathered, readonly CompiledRule[]>>;
  readonly until: number;
}

/** Whether nothing below a rule counts, where it does itself. */
export const closes = ({ rule }: CompiledRule): boolean => rule.stopHere === true;

/**
 * The heart of it: rules are read from the top, and each aspect goes to the first rule that counts and speaks to it;
 * notes and style gather, until a rule says that they do not. A rule that speaks only to what is already decided cannot
 * change anything before one above it does, so its own changes do not shorten `until`. A counting rule that stops here
 * closes the list.
 */
export function winners(
  { rules, candidates }: CompiledRulebook,
  subject: Subject,
  aspects: readonly Aspect[],
): Winners {
  const by: Partial<Record<Aspect, CompiledRule>> = {};
  const gathered: Record<Gathered, CompiledRule[]> = { notes: [], style: [] };
  const open = new Set(aspects);
  let earliest = Infinity;
  candidates.each(subject, (index) => {
    const rule = rules[index];
    const isHeard = rule && (closes(rule) || rule.speaksTo.some((aspect) => open.has(aspect)));
    if (!isHeard) return true;
    if (rule.present.isAtCap || !candidates.isExact(index, subject)) {
      const { holds, until } = rule.counts(subject);
      earliest = Math.min(earliest, until);
      if (!holds) return true;
    }
    for (const aspect of rule.speaksTo) {
      if (!open.has(aspect)) continue;
      if (isGathered(aspect)) gathered[aspect].push(rule);
      else by[aspect] = rule;
      if (!isGathered(aspect) || rule.rule.gather === false) open.delete(aspect);
    }
    return open.size > 0 && !closes(rule);
  });
  return { by, gathered, until: earliest };
}

/** Whether a rule decided an aspect, alone or with others. */
export const decidedBy = ({ by, gathered }: Winners, rule: CompiledRule, aspect: Aspect): boolean =>
  isGathered(aspect) ? gathered[aspect].includes(rule) : by[aspect] === rule;
