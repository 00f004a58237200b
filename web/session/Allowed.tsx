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

/** "Publishers and owners": who may do something, as the table has it. */
export function whoMay(permission: Permission): string {
  const roles = STAFF_ROLES.filter((role) => ROLE_MAY[role].includes(permission)).map((role) => PLURALS[role]);
  const words = new Intl.ListFormat('en-GB', { type: 'conjunction' }).format(roles.reverse());
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** Shows controls as read-only without permission, and says who has it. */
export function Allowed({ permission, quiet, children }: AllowedProps) {
  const may = useMay(permission);
  const maySell = useMay('sell');
  // A seller is only ever shown what is theirs.
  if (may || maySell) return children;
  return (
    <fieldset disabled className={styles.readOnly}>
      {!quiet && <p className={styles.whoMay}>{whoMay(permission)} can change this. Your role lets you look at it.</p>}
      {children}
    </fieldset>
  );
}
