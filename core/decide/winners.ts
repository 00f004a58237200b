import { SPOKEN_ASPECTS, type SpokenAspect } from './aspects.ts';
import type { CompiledRule, CompiledRulebook } from './compile.ts';
import type { Subject } from './subject.ts';

/** Which rule decided each aspect, and until when that stands if only the clock moves (epoch ms, or Infinity). */
export interface Winners {
  readonly by: Readonly<Partial<Record<SpokenAspect, CompiledRule>>>;
  readonly until: number;
}

/** Whether a rule takes part at all. */
export const takesPart = ({ rule, lacks }: CompiledRule): boolean => rule.on && lacks.length === 0;

/** Whether nothing below a rule counts, where it does itself. */
export const closes = ({ rule }: CompiledRule): boolean => rule.stopHere === true;

/**
 * The heart of it: rules are read from the top, and each aspect goes to the first rule that counts and speaks to it.
 * A rule that speaks only to what is already decided cannot change anything before one above it does, so its own
 * changes do not shorten `until`. A counting rule that stops here closes the list.
 */
export function winners({ rules }: CompiledRulebook, subject: Subject): Winners {
  const by: Partial<Record<SpokenAspect, CompiledRule>> = {};
  let open: number = SPOKEN_ASPECTS.length;
  let earliest = Infinity;
  for (const rule of rules) {
    if (open === 0) break;
    const isHeard = rule.speaksTo.some((aspect) => !by[aspect]) || closes(rule);
    if (!takesPart(rule) || !isHeard) continue;
    const { holds, until } = rule.test(subject);
    earliest = Math.min(earliest, until);
    if (!holds) continue;
    for (const aspect of rule.speaksTo) {
      if (by[aspect]) continue;
      by[aspect] = rule;
      open -= 1;
    }
    if (closes(rule)) break;
  }
  return { by, until: earliest };
}
