import { sameDocument } from './changes.ts';
import type { Entry, Rulebook } from './rulebook.ts';

/** A rule that two people changed in different ways; null where one of them deleted it. */
export interface Clash {
  readonly id: string;
  readonly mine: Entry | null;
  readonly theirs: Entry | null;
}

export interface Merged {
  readonly rulebook: Rulebook;
  readonly clashes: readonly Clash[];
}

/**
 * Brings two rulebooks that come from one together, rule by rule: what only one of them changed, added, deleted or moved
 * is as that one has it. Where both changed a rule, `pick` says whose is taken.
 */
export function merge(
  base: Rulebook,
  mine: Rulebook,
  theirs: Rulebook,
  pick: (id: string) => 'mine' | 'theirs' = () => 'mine',
): Merged {
  const [ofBase, ofMine, ofTheirs] = [base, mine, theirs].map(
    ({ rules }) => new Map(rules.map((rule) => [rule.id, rule])),
  ) as [Map<string, Entry>, Map<string, Entry>, Map<string, Entry>];
  const clashes: Clash[] = [];
  const taken = new Map<string, Entry>();
  for (const id of new Set([...ofMine.keys(), ...ofTheirs.keys()])) {
    const [before, ours, other] = [ofBase.get(id) ?? null, ofMine.get(id) ?? null, ofTheirs.get(id) ?? null];
    let rule = ours;
    if (!sameDocument(ours, other)) {
      if (sameDocument(ours, before)) rule = other;
      else if (!sameDocument(other, before)) {
        clashes.push({ id, mine: ours, theirs: other });
        rule = pick(id) === 'mine' ? ours : other;
      }
    }
    if (rule) taken.set(id, rule);
  }
  const order = orderOf(base, mine, theirs).filter((id) => taken.has(id));
  return { rulebook: { ...mine, rules: order.flatMap((id) => taken.get(id) ?? []) }, clashes };
}

/** Mine, unless only they moved rules; the other's new rules stand below the rule that is above them there. */
function orderOf(base: Rulebook, mine: Rulebook, theirs: Rulebook): string[] {
  const ids = ({ rules }: Rulebook) => rules.map(({ id }) => id);
  const isMoved = (other: Rulebook) => {
    const common = (list: readonly string[], of: readonly string[]) => list.filter((id) => of.includes(id)).join('\n');
    return common(ids(base), ids(other)) !== common(ids(other), ids(base));
  };
  const [first, second] = !isMoved(mine) && isMoved(theirs) ? [ids(theirs), ids(mine)] : [ids(mine), ids(theirs)];
  return second.reduce<string[]>((order, id, index) => {
    if (order.includes(id)) return order;
    const above = second.slice(0, index).findLast((one) => order.includes(one));
    return order.toSpliced(above === undefined ? 0 : order.indexOf(above) + 1, 0, id);
  }, first);
}
