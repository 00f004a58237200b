import { MySecondFactor } from './MySecondFactor.tsx';
import { MySessions } from './MySessions.tsx';
import { MyPassword } from './MyPassword.tsx';
import styles from './settings.module.css';

/** Settings of the signed-in user. */
export function YouPage() {
  return (
    <div className={styles.columns}>
      <div className={styles.stack}>
        <MySessions />
        <MySecondFactor />
      </div>
      <aside className={styles.aside}>
        <MyPassword />
      </aside>
    </div>
  );
}
