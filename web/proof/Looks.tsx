import { SHOP_LABEL, wordsOf } from '#core/controls/controls.ts';
import type { ImpactGroup } from '#core/contract/rehearsalCalls.ts';
import { aspectOf } from '#core/aspects/aspects.ts';
import styles from './proof.module.css';

/** What a group of changes has in the button's place, before and after where that is what changes. */
export function Looks({ group: { before, after, aspects } }: { readonly group: ImpactGroup }) {
  return (
    <span className={styles.looks}>
      <Look look={before} />
      {aspects.includes('control') && (
        <>
          <span aria-label="becomes">→</span>
          <Look look={after} />
        </>
      )}
    </span>
  );
}

/** What else changes, beside what its looks show. */
export function othersIn({ before, after, aspects }: ImpactGroup): string[] {
  const isSameLook = JSON.stringify(before) === JSON.stringify(after);
  return aspects.flatMap((aspect) =>
    aspect !== 'control' ? [aspectOf(aspect).name] : isSameLook ? ['what it says'] : [],
  );
}

function Look({ look }: { readonly look: ImpactGroup['before'] }) {
  const words = wordsOf(look);
  return (
    <span className={`${styles.control} ${styles[look.kind]}`}>{look.beside ? `${SHOP_LABEL} + ${words}` : words}</span>
  );
}
