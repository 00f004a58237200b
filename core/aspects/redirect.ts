import { speech } from '../facts/wording.ts';
import type { ShopFacts, Subject } from '../model/subject.ts';
import { isWebHref } from '../texts/href.ts';
import { href } from '../texts/textRenderers.ts';

/** Target of a page that is not shown; null if the rule names none. */
export type Redirect = ((subject: Subject) => string | null) | null;

export const redirect = (address: string | undefined, shop: ShopFacts): Redirect =>
  address === undefined ? null : href(address, shop, isWebHref);

export const sending = (address: string | undefined) =>
  address === undefined ? '' : `, sending shoppers to ${speech(address)}`;

interface Door {
  readonly open: boolean;
  readonly redirectTo: string | null;
}

/** Lists the changes to a page that opens or closes. */
export function doorChanges(name: 'cart' | 'checkout', before: Door, after: Door): string[] {
  const leading = after.redirectTo === null ? '' : `, and its page leads to ${after.redirectTo}`;
  if (before.open !== after.open) return [after.open ? `the ${name} opens` : `the ${name} closes${leading}`];
  if (after.open || before.redirectTo === after.redirectTo) return [];
  return [`the page of the closed ${name} leads to ${after.redirectTo ?? 'the first page'}`];
}
