import { aspectOf, type Aspect } from '#core/aspects/aspects.ts';
import type { SellerAllowance } from '#core/rulebook/sellers.ts';
import { leavesOf } from '#core/rulebook/condition.ts';
import type { Join } from '#core/model/join.ts';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { depthOf, put } from '../draft/edits.ts';
import type { ConditionKind } from './conditions/questions.ts';
import { ADDITIONS, hasPart } from './outcomes/standIns.ts';

/** The phrase that is open: a place in the rule, or a condition that is being added into a group. */
export type Open = { readonly anchor: HTMLElement } & Opening;
export type Opening =
  | { readonly pointer: string }
  | { readonly adding: ConditionKind; readonly into: string; readonly within?: Join };

/** Word before a group's next member. */
export const MORE: Record<Join, string> = { all: 'and…', any: 'or…', none: 'nor…' };

const SEVERAL: readonly { readonly label: string; readonly within: Join }[] = [
  { label: 'any of several conditions', within: 'any' },
  { label: 'none of several conditions', within: 'none' },
];

/** A way to go on: something to choose next, or a change that needs no more. */
export type Choice = { readonly label: string; readonly group?: string } & (
  | { readonly opening: Opening }
  | { readonly next: Rule }
);

const CONDITION_GROUP = 'Which, when and for whom';
const STAND_IN = 'The stand-in';
const OUTCOME_GROUP = 'What else it says';

/** Clauses that the sentence lacks. @param allowed a seller's allowance; null for all */
export function clausesFor(rule: Rule, allowed: SellerAllowance | null = null): Choice[] {
  const into = '/when';
  const condition = (label: string, adding: ConditionKind, within?: Join): Choice => ({
    label,
    group: CONDITION_GROUP,
    opening: { adding, into, ...(within ? { within } : {}) },
  });
  return [
    condition('which goods', 'products'),
    condition('for whom', 'people'),
    condition('when, or where', 'time'),
    ...SEVERAL.map(({ label, within }) => condition(label, 'anything', within)),
    ...standInChoices(rule),
    ...aspectChoices(rule, allowed),
  ];
}

function standInChoices(rule: Rule): Choice[] {
  const { control } = rule.then;
  if (!control) return [];
  const outcomePart = (label: string, pointer: string): Choice => ({ label, group: STAND_IN, opening: { pointer } });
  const { onListing } = control;
  const shown = [
    { standIn: control, place: '/then/control', suffix: '' },
    ...(onListing && 'kind' in onListing
      ? [{ standIn: onListing, place: '/then/control/onListing', suffix: ', on listings' }]
      : []),
  ];
  return [
    ...shown.flatMap(({ standIn, place, suffix }) =>
      ADDITIONS.filter(({ part }) => hasPart(standIn.kind, part) && !(part in standIn)).map(
        ({ part, label, atOnce }): Choice =>
          atOnce === undefined
            ? outcomePart(label + suffix, `${place}/${part}`)
            : { label: label + suffix, group: STAND_IN, next: put(rule, `${place}/${part}`, atOnce) },
      ),
    ),
    ...(onListing ? [] : [outcomePart('something else on listings', '/then/control/onListing')]),
  ];
}

const ASPECTS: readonly { readonly aspect: keyof Outcome; readonly label: string }[] = [
  { aspect: 'control', label: 'what stands instead of the button' },
  { aspect: 'price', label: 'the price' },
  { aspect: 'express', label: 'express pay' },
  { aspect: 'notes', label: 'a note' },
  { aspect: 'limits', label: 'how many at a time' },
  { aspect: 'visibility', label: 'whether it is seen' },
  { aspect: 'afterOrder', label: 'a text after the order' },
  { aspect: 'cart', label: 'the cart' },
  { aspect: 'checkout', label: 'the checkout' },
  { aspect: 'style', label: 'CSS classes for the shop’s pages' },
];

const mayDecide = (allowed: SellerAllowance | null, aspect: Aspect): boolean =>
  allowed === null || (aspect === 'control' ? allowed.kinds.length > 0 : allowed.aspects.some((one) => one === aspect));

function aspectChoices(rule: Rule, allowed: SellerAllowance | null): Choice[] {
  const { then, when, stopHere, gather } = rule;
  const looksAtPage = leavesOf(when).some(({ fact }) => fact === 'page.path');
  const open = ASPECTS.filter(
    ({ aspect }) =>
      mayDecide(allowed, aspect) &&
      (aspect === 'notes' || then[aspect] === undefined) &&
      (!looksAtPage || aspectOf(aspect).mayHangOnPage),
  ).map(({ aspect, label }): Choice => {
    const pointer = aspect === 'notes' ? `/then/notes/${then.notes?.length ?? 0}` : `/then/${aspect}`;
    return {
      label: aspect === 'notes' && then.notes ? 'another note' : label,
      group: OUTCOME_GROUP,
      opening: { pointer },
    };
  });
  return [
    ...open,
    ...((then.notes ?? then.style) && gather !== false
      ? [{ label: 'no notes or classes from the rules below', group: OUTCOME_GROUP, next: { ...rule, gather: false } }]
      : []),
    ...(stopHere ? [] : [{ label: 'ignore the rules below', group: OUTCOME_GROUP, next: { ...rule, stopHere: true } }]),
  ];
}

/** Menu of "but not…": exceptions. */
export const EXCEPTIONS: readonly Choice[] = (
  [
    ['these goods', 'products'],
    ['these people', 'people'],
    ['at these times, or there', 'time'],
  ] as const
).map(([label, adding]) => ({ label, opening: { adding, into: '/when', within: 'none' } }));

/** Further filters of the catalog. */
export const CATALOG_CLAUSES: readonly Choice[] = [
  { label: 'a condition', opening: { adding: 'catalog', into: '/when' } },
  ...SEVERAL.map(({ label, within }): Choice => ({ label, opening: { adding: 'catalog', into: '/when', within } })),
];

/** Additions to a group: a condition of a kind, or a nested group if the format allows one. */
export function memberChoices(into: string, adding: ConditionKind = 'anything'): Choice[] {
  const groups: typeof SEVERAL = [{ label: 'all of several conditions', within: 'all' }, ...SEVERAL];
  return [
    { label: 'a condition', opening: { adding, into } },
    ...(depthOf(into) + 2 <= DEEPEST ? groups : []).map(({ label, within }): Choice => ({
      label,
      opening: { adding, into, within },
    })),
  ];
}

/** Maximum nesting of groups in the format. */
const DEEPEST = 8;
