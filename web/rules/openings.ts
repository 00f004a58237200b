import type { Join } from '#core/decide/group.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { depthOf } from './edits.ts';
import type { Asked } from './editors/questions.ts';

/** The phrase that is open: a place in the rule, or a condition that is being added into a group. */
export type Open = { readonly anchor: HTMLElement } & Opening;
export type Opening =
  { readonly pointer: string } | { readonly adding: Asked; readonly into: string; readonly within?: Join };

/** What a group's next member begins with. */
export const MORE: Record<Join, string> = { all: 'and…', any: 'or…', none: 'nor…' };

const SEVERAL: readonly { readonly label: string; readonly within: Join }[] = [
  { label: 'any of several conditions', within: 'any' },
  { label: 'none of several conditions', within: 'none' },
];

/** A way to go on. */
export interface Choice {
  readonly label: string;
  readonly opening: Opening;
}

/** What the sentence does not speak of yet. */
export function clausesFor(rule: Rule): Choice[] {
  const { control, price, express } = rule.then;
  const into = '/when';
  const then = (label: string, pointer: string): Choice => ({ label, opening: { pointer } });
  return [
    { label: 'which goods', opening: { adding: 'goods', into } },
    { label: 'for whom', opening: { adding: 'people', into } },
    { label: 'when', opening: { adding: 'time', into } },
    ...SEVERAL.map(({ label, within }): Choice => ({ label, opening: { adding: 'anything', into, within } })),
    ...(control ? [] : [then('what stands in the button’s place', '/then/control')]),
    ...(control && !control.onListing ? [then('something else on listings', '/then/control/onListing')] : []),
    ...(price ? [] : [then('the price', '/then/price')]),
    ...(express ? [] : [then('express pay', '/then/express')]),
    ...(rule.stopHere ? [] : [then('no rule below counts', '/stopHere')]),
  ];
}

/** What can be added to a group: a condition, or a group in it while the format has room for one. */
export function memberChoices(into: string): Choice[] {
  const groups: typeof SEVERAL = [{ label: 'all of several conditions', within: 'all' }, ...SEVERAL];
  return [
    { label: 'a condition', opening: { adding: 'anything', into } },
    ...(depthOf(into) + 2 <= DEEPEST ? groups : []).map(({ label, within }): Choice => ({
      label,
      opening: { adding: 'anything', into, within },
    })),
  ];
}

/** As deep as the format lets groups lie in each other. */
const DEEPEST = 8;
