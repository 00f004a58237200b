import { factOf, type Leaf } from '#core/facts/facts.ts';
import { groupOf, leavesOf, type Condition } from '#core/rulebook/condition.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';

/** Goods that are put into rules: by their ids, or by a tag that they have. */
export type Named = { readonly ids: readonly string[] } | { readonly tag: string };

/** The condition that names these products. */
export const naming = (goods: Named): Leaf =>
  'ids' in goods
    ? { fact: 'product.id', op: 'in', value: [...goods.ids] }
    : { fact: 'product.tags', op: 'hasAny', value: [goods.tag] };

type IdLeaf = Extract<Leaf, { fact: 'product.id' }>;
const isOfIds = (condition: Condition, op: IdLeaf['op']): condition is IdLeaf =>
  'fact' in condition && condition.fact === 'product.id' && condition.op === op;

const membersOf = ({ when }: Pick<Rule, 'when'>): readonly Condition[] =>
  groupOf(when)?.join === 'all' ? groupOf(when)!.members : [when];

/** Whether a part of a condition selects products. */
const asksAboutProducts = (condition: Condition) =>
  leavesOf(condition).some((leaf) => factOf(leaf).about === 'products');

const joined = (members: readonly Condition[]): Condition =>
  members.length === 1 ? members[0]! : { all: [...members] };
const together = (leaf: IdLeaf, ids: readonly string[]): IdLeaf => ({
  ...leaf,
  value: [...new Set([...leaf.value, ...ids])],
});

/** The list without some ids; none where nothing would be left of it. */
function less(condition: Condition, op: IdLeaf['op'], ids: readonly string[]): Condition[] {
  if (!isOfIds(condition, op)) return [condition];
  const value = condition.value.filter((id) => !ids.includes(id));
  return value.length === 0 ? [] : [{ ...condition, value }];
}

/** Extends a rule to these products, with its time and audience unchanged. */
export function putInto(rule: Rule, goods: Named): Rule {
  const ids = 'ids' in goods ? goods.ids : [];
  const members = membersOf(rule).flatMap((member) => less(member, 'notIn', ids));
  const others = members.filter((member) => !asksAboutProducts(member));
  const about = members.filter(asksAboutProducts);
  if (about.length === 0) {
    // All that it was about was "other than these".
    const everything: Condition = { fact: 'product', op: 'every', value: true };
    return { ...rule, when: joined([members.length < membersOf(rule).length ? everything : naming(goods), ...others]) };
  }
  const [only] = about;
  // Everything has them already.
  if (about.length === 1 && only !== undefined && 'fact' in only && only.fact === 'product')
    return { ...rule, when: joined([only, ...others]) };
  const isList = about.length === 1 && only !== undefined && 'ids' in goods;
  if (isList && isOfIds(only, 'in')) return { ...rule, when: joined([together(only, ids), ...others]) };
  const either = isList ? groupOf(only) : null;
  const last = either?.members.at(-1);
  const next: Condition =
    either?.join === 'any' && last !== undefined && isOfIds(last, 'in')
      ? { any: [...either.members.slice(0, -1), together(last, ids)] }
      : { any: [joined(about), naming(goods)] };
  return { ...rule, when: joined([next, ...others]) };
}

/** Takes these products out of a rule; null if no product would be left. */
export function takeOut(rule: Rule, goods: Named): Rule | null {
  const members = membersOf(rule);
  if ('tag' in goods) {
    return { ...rule, when: joined([...members, { fact: 'product.tags', op: 'hasNone', value: [goods.tag] }]) };
  }
  const { ids } = goods;
  const about = members.filter(asksAboutProducts);
  const isList = about.length === 1 && isOfIds(about[0]!, 'in');
  const left = members.flatMap((member) => less(member, 'in', ids));
  // Only a list of ids names all its products; others may match in several ways.
  if (isList) return left.length < members.length ? null : { ...rule, when: joined(left) };
  const out = members.find((member) => isOfIds(member, 'notIn'));
  const next = out
    ? members.map((member) => (member === out ? together(out, ids) : member))
    : [...members, { fact: 'product.id', op: 'notIn', value: [...ids] } as const];
  return { ...rule, when: joined(next as readonly Condition[]) };
}
