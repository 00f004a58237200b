import { rulesIn } from '#core/rulebook/entries.ts';
import { leavesOf, groupOf, type Condition } from '#core/rulebook/condition.ts';
import type { Leaf } from '#core/facts/facts.ts';
import { placeForNew } from '#core/rulebook/closure.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { insertRule, newId, replaceRule } from '../draft/edits.ts';
import { fitted, type Home, type Intention } from '../editor/intentions.ts';

/** Common rules for a single product. */
export const TREATMENTS = {
  preorder: {
    label: 'Take pre-orders',
    name: 'Pre-order',
    then: { control: { kind: 'preorder', label: { en: 'Pre-order' } } },
    when: [],
  },
  waitlist: {
    label: 'Keep a waitlist',
    name: 'Waitlist',
    then: { control: { kind: 'waitlist', per: 'variant' } },
    when: [{ fact: 'visitor.invited', op: 'is', value: false }],
  },
  notSold: {
    label: 'Show without selling',
    name: 'Shown, not sold',
    then: { control: { kind: 'notice', text: { en: 'Not sold at the moment' } } },
    when: [],
  },
  quote: {
    label: 'Ask for a price',
    name: 'Price on request',
    then: { control: { kind: 'quote' }, price: { show: false, text: { en: 'Price on request' } } },
    when: [],
  },
  offListings: {
    label: 'Take off listings',
    name: 'Off listings',
    then: { visibility: { state: 'offListings' } },
    when: [],
  },
} as const satisfies Readonly<
  Record<string, Pick<Intention, 'label' | 'name' | 'then'> & { readonly when: readonly Condition[] }>
>;
export type Treatment = keyof typeof TREATMENTS;

export interface Wish {
  readonly product: string;
  readonly title: string;
  readonly treatment: Treatment;
  /** A local date, on whose beginning it ends; empty for good. */
  readonly until: string;
}

/** Rule that a request created or changed. */
export interface Landed {
  readonly rulebook: Rulebook;
  readonly rule: string;
  /** Whether it went into a rule that said the same of other products. */
  readonly isJoined: boolean;
}

const isOfProducts = (condition: Condition): condition is Extract<Leaf, { fact: 'product.id' }> =>
  'fact' in condition && condition.fact === 'product.id' && condition.op === 'in';

/** The rule for this treatment, fitted to the shop. */
export function treatedBy(treatment: Treatment, goods: Condition, home: Home, until = ''): Omit<Rule, 'id' | 'name'> {
  const { name, then, when } = TREATMENTS[treatment];
  const conditions: Condition[] = [
    goods,
    ...(until === '' ? [] : [{ fact: 'moment' as const, op: 'between' as const, value: { until } }]),
    ...when,
  ];
  const made = fitted({ label: name, means: '', name, then, when: { all: conditions } }, home);
  return { on: true, when: made.when, then: made.then };
}

/** The rule that says a wish of a product. */
function ruleOf({ product, title, treatment, until }: Wish, home: Home): Omit<Rule, 'id'> {
  const made = treatedBy(treatment, { fact: 'product.id', op: 'in', value: [product] }, home, until);
  return { name: `${TREATMENTS[treatment].name}: ${title}`, ...made };
}

/** A rule without its list of products; null if it has none. */
function withoutProducts({ when, then, on, ...rule }: Omit<Rule, 'id'>): string | null {
  const group = groupOf(when);
  if (!on || group?.join !== 'all' || rule.stopHere || rule.gather === false) return null;
  const others = group.members.filter((member) => !isOfProducts(member));
  if (group.members.length - others.length !== 1) return null;
  const leaves = others.flatMap(leavesOf);
  return leaves.length === others.length ? JSON.stringify([others, then]) : null;
}

/** Puts a wish into the draft: into a rule that says the same of other products, or as a rule of its own. */
export function land(rulebook: Rulebook, wish: Wish, home: Home): Landed {
  const made = ruleOf(wish, home);
  const said = withoutProducts(made);
  const same = rulesIn(rulebook).find((rule) => withoutProducts(rule) === said);
  if (!same) {
    const rule = { ...made, id: newId(made.name ?? wish.treatment) };
    const place = placeForNew(rulebook, rule);
    return { rulebook: insertRule(rulebook, rule, place), rule: rule.id, isJoined: false };
  }
  const { all } = same.when as { readonly all: readonly Condition[] };
  const joined = {
    ...same,
    when: {
      all: all.map((condition) =>
        isOfProducts(condition) ? { ...condition, value: [...new Set([...condition.value, wish.product])] } : condition,
      ),
    },
  } as Rule;
  return { rulebook: replaceRule(rulebook, joined), rule: same.id, isJoined: true };
}
