import type { GoodsFilter } from '#core/contract/findCalls.ts';
import type { Leaf } from '#core/facts/facts.ts';
import { groupOf, Condition, isAboutProducts, leavesOf } from '#core/rulebook/condition.ts';
import { CONTROL_NAMES } from '#core/controls/controls.ts';
import { sameName } from '#core/model/names.ts';
import { oneOf, type useFilters } from '../shared/useFilters.ts';

/** Filters in the address, and a way to change them. */
export interface AddressProps {
  readonly search: URLSearchParams;
  readonly change: ReturnType<typeof useFilters>[2];
}

/** The parts of an address that make a view of the catalog. */
export const VIEW_PARTS = ['search', 'where', 'by', 'shown', 'to', 'sort', 'columns'] as const;

/** Condition that matches every product. */
export const EVERYTHING: Condition = { fact: 'product', op: 'every', value: true };
const isEverything = (condition: Condition) => 'fact' in condition && condition.fact === 'product';

/** Reads the filter from the address's query; invalid parts are ignored. */
export function filterOf(search: URLSearchParams): GoodsFilter {
  const where = conditionIn(search.get('where'));
  const [words, decidedBy, audience] = ['search', 'by', 'to'].map((name) => search.get(name) ?? '');
  const kind = oneOf(CONTROL_NAMES, search.get('shown'));
  return {
    source: 'draft',
    ...(words ? { search: words } : {}),
    ...(where ? { where } : {}),
    ...(decidedBy ? { decidedBy } : {}),
    ...(kind && audience ? { shown: { kind, audience } } : {}),
  };
}

/** Whether anything is looked for. */
export const isFiltered = ({ search, where, decidedBy, shown }: GoodsFilter): boolean =>
  [search, where, decidedBy, shown].some((part) => part !== undefined);

function conditionIn(written: string | null): Condition | null {
  if (!written) return null;
  try {
    const read = Condition.safeParse(JSON.parse(written));
    return read.success && isAboutProducts(read.data) ? read.data : null;
  } catch {
    return null;
  }
}

/** A condition as the address holds it; null where it asks for nothing. */
export function writtenCondition(condition: Condition): string | null {
  const asked = withoutEverything(condition);
  return asked ? JSON.stringify(asked) : null;
}

/** Condition without "everything", with which a sentence begins. */
function withoutEverything(condition: Condition): Condition | null {
  if (isEverything(condition)) return null;
  const group = groupOf(condition);
  if (group?.join !== 'all') return condition;
  const members = group.members.filter((member) => !isEverything(member));
  if (members.length === 0) return null;
  return members.length === 1 ? withoutEverything(members[0]!) : { all: members };
}

/** Condition as a rule's `when`: a rule without products would be unfinished. */
export function asWhen(where: Condition | undefined): Condition {
  if (!where) return EVERYTHING;
  const namesGoods = leavesOf(where).some(({ fact }) => fact !== 'moment');
  return namesGoods ? where : { all: [EVERYTHING, where] };
}

/** A leaf that asks for one value of a fact: a tag, or a category with all below. */
export const askingFor = (fact: 'product.tags' | 'product.categories', value: string): Leaf =>
  fact === 'product.tags' ? { fact, op: 'hasAny', value: [value] } : { fact, op: 'within', value: [value] };

/** Whether a condition asks for a plain value. */
export const asksFor = (where: Condition | undefined, fact: string, value: string): boolean =>
  outright(where).some((leaf) => isAsking(leaf, fact, value));

/** Asks for a value, or for it no more. */
export function toggled(where: Condition | undefined, leaf: ReturnType<typeof askingFor>): Condition | null {
  const [value = ''] = leaf.value as readonly string[];
  const members = where ? (groupOf(where)?.join === 'all' ? [...groupOf(where)!.members] : [where]) : [];
  const others = members.filter((member) => !('fact' in member && isAsking(member, leaf.fact, value)));
  const next = others.length < members.length ? others : [...members, leaf];
  return next.length === 0 ? null : next.length === 1 ? next[0]! : { all: next };
}

const outright = (where: Condition | undefined): readonly Condition[] =>
  !where ? [] : groupOf(where)?.join === 'all' ? groupOf(where)!.members : [where];

const isAsking = (condition: Condition, fact: string, value: string) =>
  'fact' in condition &&
  condition.fact === fact &&
  (condition.op === 'hasAny' || condition.op === 'within') &&
  Array.isArray(condition.value) &&
  condition.value.length === 1 &&
  sameName(String(condition.value[0])) === sameName(value);
