import { NavLink, Outlet, useLocation } from 'react-router';
import type { Permission } from '#core/contract/permissions.ts';
import { whoMay } from '../session/Allowed.tsx';
import { useSession } from '../session/useSession.ts';
import lists from '../shared/lists.module.css';
import styles from './settings.module.css';

interface Part {
  readonly to: string;
  readonly label: string;
  /** Without it, the part is not offered. */
  readonly needs: Permission;
}

const PARTS: readonly [Part, ...Part[]] = [
  { to: '/settings/shop', label: 'Shop', needs: 'read' },
  { to: '/settings/colleagues', label: 'Colleagues', needs: 'read' },
  { to: '/settings/keys', label: 'Keys for programs', needs: 'settings' },
  { to: '/settings/record', label: 'Record', needs: 'read' },
  { to: '/settings/you', label: 'You', needs: 'self' },
];

/** Frame of the settings of the shop and of the signed-in user. */
export function SettingsFrame() {
  const may = useSession().data?.user?.may ?? [];
  const { pathname } = useLocation();
  const part = PARTS.find(({ to }) => pathname.startsWith(to)) ?? PARTS[0];
  return (
    <main className={`${lists.page} ${styles.frame}`}>
      <header className={lists.head}>
        <h1>Settings</h1>
        <nav aria-label="Settings" className={styles.parts}>
          {PARTS.filter(({ needs }) => may.includes(needs)).map(({ to, label }) => (
            <NavLink key={to} to={to}>
              {label}
            </NavLink>
          ))}
        </nav>
      </header>
      {may.includes(part.needs) ? (
        <Outlet />
      ) : (
        <p className={styles.notMine}>{whoMay(part.needs)} see and change this.</p>
      )}
    </main>
  );
}
