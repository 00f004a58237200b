import type { CSSProperties, ReactNode } from 'react';
import type { ResolvedAudience } from '#core/contract/audienceCalls.ts';
import styles from './proof.module.css';
import type { ProofSurface } from './proofRows.ts';

interface Props {
  readonly surface: ProofSurface;
  readonly audiences: readonly ResolvedAudience[];
  /** Bodies of the table. */
  readonly children: ReactNode;
}

/** The proof's table: rows of products, a column for every audience. */
export function ProofTable({ surface, audiences, children }: Props) {
  return (
    <div className={styles.scroll}>
      <table className={styles.sheet} style={{ '--audiences': audiences.length } as CSSProperties}>
        <thead>
          <tr>
            <th scope="col">{surface === 'listing' ? 'Product' : 'Variant'}</th>
            {audiences.map(({ name }) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        {children}
      </table>
    </div>
  );
}
