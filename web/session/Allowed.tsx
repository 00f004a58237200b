import type { ReactNode } from 'react';
import { ROLE_MAY, STAFF_ROLES, type Permission } from '#core/contract/permissions.ts';
import styles from './Door.module.css';
import { useMay } from './useMay.ts';

interface AllowedProps {
  readonly permission: Permission;
  /** Whether another part of the screen explains the permission. */
  readonly quiet?: true;
  readonly children: ReactNode;
}

const PLURALS = { owner: 'owners', publisher: 'publishers', editor: 'editors', viewer: 'viewers' } as const;

/** Roles that have a permission, such as "Publishers and owners". */
export function whoMay(permission: Permission): string {
  const roles = STAFF_ROLES.filter((role) => ROLE_MAY[role].includes(permission)).map((role) => PLURALS[role]);
  const words = new Intl.ListFormat('en-GB', { type: 'conjunction' }).format(roles.reverse());
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** Makes controls read-only without the permission, and names the roles that have it. */
export function Allowed({ permission, quiet, children }: AllowedProps) {
  const may = useMay(permission);
  const maySell = useMay('sell');
  // Sellers are shown only controls that they may use.
  if (may || maySell) return children;
  return (
    <fieldset disabled className={styles.readOnly}>
      {!quiet && <p className={styles.whoMay}>{whoMay(permission)} can change this. Your role lets you look at it.</p>}
      {children}
    </fieldset>
  );
}
