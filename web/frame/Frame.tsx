import { Outlet } from 'react-router';
import { DraftProvider } from '../draft/DraftProvider.tsx';
import { Attention } from './Attention.tsx';
import { TopBar } from './TopBar.tsx';
import styles from './Frame.module.css';
import { SideNav } from './SideNav.tsx';
import { Shortcuts } from './Shortcuts.tsx';

/** Frame of every screen: header, navigation, and the shared draft. */
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
