import { MySessions } from './MySessions.tsx';
import { MyPassword } from './MyPassword.tsx';
import styles from './settings.module.css';

/** What is of whoever is signed in alone. */
export function YouPage() {
  return (
    <div className={styles.columns}>
      <MySessions />
      <aside className={styles.aside}>
        <MyPassword />
      </aside>
    </div>
  );
}
