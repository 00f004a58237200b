import type { Permission } from '#core/contract/permissions.ts';
import { useSession } from './useSession.ts';

/** Whether the user has one of these permissions; the server checks them as well. */
export function useMay(...permissions: readonly Permission[]): boolean {
  const may = useSession().data?.user?.may ?? [];
  return permissions.some((permission) => may.includes(permission));
}

/** Whether they may change the rules that are worked on: the shop's, or those of a seller, who is signed in for no more. */
export const useMayDraft = (): boolean => useMay('draft', 'sell');
