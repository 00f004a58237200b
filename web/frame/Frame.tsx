import { Outlet } from 'react-router';
import { DraftProvider } from '../draft/DraftProvider.tsx';
import { Attention } from './Attention.tsx';
import { TopBar } from './TopBar.tsx';
import styles from './Frame.module.css';
import { SideNav } from './SideNav.tsx';
import { Shortcuts } from './Shortcuts.tsx';

/** What stands around every screen: the band, the rail, and the draft that all of them share. */
export function Frame() {
  return (
    <DraftProvider>
      <div className={styles.frame}>
        <TopBar />
        <SideNav />
        <div className={styles.screen}>
          <Attention />
          <Outlet />
        </div>
        <Shortcuts />
      </div>
    </DraftProvider>
  );
}
