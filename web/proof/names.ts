import { CONTROL_NAMES } from '#core/controls/controls.ts';
import type { DecidedControl } from '#core/controls/controls.ts';
import type { ProofSurface } from './proofRows.ts';

/** Names of kinds in Why, before their own text. */
export const KIND_NAMES: Record<DecidedControl['kind'], string> = { ...CONTROL_NAMES, buy: 'the button' };

/** The places that a proof can show. */
export const PROOF_SURFACES: Readonly<Record<ProofSurface, string>> = {
  product: 'Product page',
  listing: 'Listing',
  cart: 'Cart',
};
