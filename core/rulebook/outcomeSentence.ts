import { aspectOf, ASPECTS, type Aspect } from '../aspects/aspects.ts';
import type { Outcome } from '../aspects/outcome.ts';
import { words, type Segment } from '../facts/segment.ts';
import type { Names } from '../facts/wording.ts';

/** In a sentence the price follows the control. */
const IN_ORDER: readonly Aspect[] = [...new Set<Aspect>(['control', 'price', ...ASPECTS])];

/** Describes a rule's outcome, aspect by aspect. */
export function outcomeSegments(then: Outcome, names: Names): Segment[] {
  const clauses = IN_ORDER.flatMap((aspect): Segment[][] => {
    const value = then[aspect];
    if (value === undefined) return [];
    const phrases = aspectOf(aspect).phrases(value as never, names);
    // Gathered values stand alone.
    return aspect === 'notes' ? phrases.map((phrase) => [phrase]) : [phrases];
  });
  if (clauses.length === 0) {
    return [{ kind: 'phrase', about: 'outcome', text: 'choose what happens', pointer: '/then', lacking: true }];
  }
  return clauses.flatMap((segments, index) => (index === 0 ? segments : [words('; '), ...segments]));
}
