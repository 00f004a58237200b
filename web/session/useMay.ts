import type { Permission } from '#core/contract/permissions.ts';
import { useSession } from './useSession.ts';

/** Whether whoever is signed in may do something; the server refuses it all the same. */
export const useMay = (permission: Permission): boolean => useSession().data?.user?.may.includes(permission) ?? false;
