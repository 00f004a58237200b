import type { ReactNode } from 'react';
import { Mark } from '../shared/Mark.tsx';
import styles from './Door.module.css';

/** The sheet that stands before the application. */
export function Door({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <main className={styles.door}>
      <div className={styles.sheet}>
        <p className={styles.name}>
          <Mark /> Understudy
        </p>
        <h1>{title}</h1>
        {children}
      </div>
    </main>
  );
}
