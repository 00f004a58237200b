import { createContext, useContext } from 'react';
import type { SellerAllowance } from '#core/rulebook/sellers.ts';

/** Whose rules are worked on: the shop's, or one seller's, who may say no more than is allowed. */
export interface Whose {
  readonly seller: { readonly id: string; readonly allowed: SellerAllowance } | null;
}
export const WhoseContext = createContext<Whose>({ seller: null });

/** The seller whose rules are worked on; null where they are the shop's. */
export const useSeller = () => useContext(WhoseContext).seller;
