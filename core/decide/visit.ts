import type { Visit } from '../contract/decision.ts';

/** The visit as it stands while no rule can speak to cart and checkout: open, with everything shown. */
export const OPEN_VISIT: Visit = {
  cart: { open: true, redirectTo: null },
  checkout: { open: true, redirectTo: null, submitOrder: { show: true, text: null }, hideMethods: [] },
  reasons: { cart: [], checkout: [] },
};
