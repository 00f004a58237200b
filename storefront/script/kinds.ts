import type { SharedDecision } from '#core/engine/decision.ts';

type Kinds = ReadonlySet<SharedDecision['control']['kind']>;

// Pages do not load the controls' definitions (core/controls): a test holds these against them.

/** Controls that keep the shop's own button, in other words. */
export const RELABELS_SHOP_BUTTON: Kinds = new Set(['buy', 'preorder']);

/** Controls that sell or reserve. */
export const SELLS: Kinds = new Set(['buy', 'preorder', 'ownPrice', 'severalAtOnce']);

/** Controls that do not sell and still ask how many. */
export const TAKES_QUANTITY: Kinds = new Set(['quote']);
