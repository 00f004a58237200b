import type { Dressing } from './dressing.ts';
import { elements } from './elements.ts';
import { forms } from './forms.ts';
import { script } from './script.ts';

export const DRESSINGS = { forms, script, elements } satisfies Record<string, Dressing>;

/** @throws {Error} when there is no such dressing */
export function dressingOf(name: string): Dressing {
  if (!Object.hasOwn(DRESSINGS, name))
    throw new Error(`SHOP_DRESSING is one of ${Object.keys(DRESSINGS).join(', ')}, not ${name}`);
  return DRESSINGS[name as keyof typeof DRESSINGS];
}
