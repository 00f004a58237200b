import { groupOf, type Condition } from '../rulebook/condition.ts';
import type { ShopFacts, Subject } from '../model/subject.ts';
import { testOf, type Leaf } from '../facts/facts.ts';

interface Possible {
  readonly hold: boolean;
  readonly fail: boolean;
}

/**
 * Prepares a test of whether a condition may hold where only some facts are known.
 * @param isKnown returns whether subjects carry the fact that a leaf reads; any other leaf may hold or fail
 */
export function possible(
  when: Condition,
  shop: ShopFacts,
  isKnown: (leaf: Leaf) => boolean,
): (subject: Subject) => boolean {
  const may = (condition: Condition): ((subject: Subject) => Possible) => {
    const group = groupOf(condition);
    if (!group) {
      const leaf = condition as Leaf;
      if (!isKnown(leaf)) return () => ({ hold: true, fail: true });
      const test = testOf(leaf, shop);
      return (subject) => {
        const { matches } = test(subject);
        return { hold: matches, fail: !matches };
      };
    }
    const members = group.members.map(may);
    return (subject) => {
      const results = members.map((member) => member(subject));
      const [some, every] = [results.some(({ hold }) => hold), results.every(({ hold }) => hold)];
      const [someFail, everyFails] = [results.some(({ fail }) => fail), results.every(({ fail }) => fail)];
      if (group.join === 'all') return { hold: every, fail: someFail };
      if (group.join === 'any') return { hold: some, fail: everyFails };
      return { hold: everyFails, fail: some };
    };
  };
  const mayHold = may(when);
  return (subject) => mayHold(subject).hold;
}
