import { createContext, useContext } from 'react';
import type { SellerAllowance } from '#core/rulebook/sellers.ts';

/** Owner of the rules being edited: the shop, or a seller with an allowance. */
export interface Whose {
  readonly seller: { readonly id: string; readonly allowed: SellerAllowance } | null;
}
export const WhoseContext = createContext<Whose>({ seller: null });

/** The seller whose rules are worked on; null where they are the shop's. */
export const useSeller = () => useContext(WhoseContext).seller;
