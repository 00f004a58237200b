import {
  aspectOf,
  ASPECTS,
  bitOf,
  isGathered,
  setOf,
  type Aspect,
  type AspectSet,
  type Gathered,
} from '../aspects/aspects.ts';
import type { CompiledList, CompiledRule, CompiledRulebook } from './compile.ts';
import type { Subject } from '../model/subject.ts';

/** Which rule decided each aspect, and until when that stands if only the clock moves (epoch ms, or Infinity). */
export interface Winners {
  readonly by: Readonly<Partial<Record<Exclude<Aspect, Gathered>, CompiledRule>>>;
  /** All that spoke to an aspect that gathers, from the top. */
  readonly gathered: Readonly<Record<Gathered, readonly CompiledRule[]>>;
  readonly until: number;
}

const CONTROL = bitOf('control');
const ALL_BUT_WITH_CONTROL = ~setOf(ASPECTS.filter((aspect) => aspectOf(aspect).comesWithControl));

/**
 * The heart of it: rules are read from the top, and each aspect goes to the first rule that counts and speaks to it;
 * notes and style gather, until a rule says that they do not; what stands with a control goes where that control lost. A rule that speaks only to what is already decided cannot
 * change anything before one above it does, so its own changes do not shorten `until`. A counting rule that stops here
 * closes its list: an owner's all below it, a seller's what that seller said below it.
 */
export function winners(rulebook: CompiledRulebook, subject: Subject, aspects: AspectSet): Winners {
  const by: Partial<Record<Aspect, CompiledRule>> = {};
  const gathered: Record<Gathered, CompiledRule[]> = { notes: [], style: [] };
  let open = aspects;
  let earliest = Infinity;
  const readings = rulebook.known.of(subject);
  /** Reads a rule that could count. @returns whether those below it in its list are read */
  const read = ({ rules, candidates }: CompiledList, index: number): boolean => {
    const rule = rules[index];
    if (!rule) return true;
    const isControlLost = (rule.aspectSet & CONTROL & ~open) !== 0;
    const eligible = isControlLost ? open & ALL_BUT_WITH_CONTROL : open;
    if ((rule.aspectSet & eligible) === 0 && !rule.closes) return true;
    if (rule.prepared.control?.isAtCap || !candidates.isExact(index, readings.isDated)) {
      const { matches: holds, validUntil: until } = rule.counts(subject);
      if (until < earliest) earliest = until;
      if (!holds) return true;
    }
    for (const { aspect, bit, gathers, settles } of rule.outcomes) {
      if ((eligible & bit) === 0) continue;
      if (gathers) gathered[gathers].push(rule);
      else by[aspect] = rule;
      if (settles) open &= ~bit;
    }
    return open !== 0 && !rule.closes;
  };
  // The seller's list is read on the way through the owner's, at its place.
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

/** Whether a rule decided an aspect, alone or with others. */
export const decidedBy = ({ by, gathered }: Winners, rule: CompiledRule, aspect: Aspect): boolean =>
  isGathered(aspect) ? gathered[aspect].includes(rule) : by[aspect] === rule;
