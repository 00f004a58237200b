import { shapeOf, SHOP_LABEL, wordsOf } from '#core/controls/controls.ts';
import type { ImpactGroup } from '#core/contract/rehearsalCalls.ts';
import { aspectOf } from '#core/aspects/aspects.ts';
import styles from './proof.module.css';

/** Controls of a group of changes, before and after if they differ. */
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

/** Aspects that change besides the visible control. */
export function othersIn({ before, after, aspects }: ImpactGroup): string[] {
  const isSameLook = JSON.stringify(before) === JSON.stringify(after);
  return aspects.flatMap((aspect) =>
    aspect !== 'control' ? [aspectOf(aspect).name] : isSameLook ? ['what it says'] : [],
  );
}

function Look({ look }: { readonly look: ImpactGroup['before'] }) {
  const words = wordsOf(look);
  return (
    <span className={`${styles.control} ${styles[shapeOf(look)]}`}>
      {look.beside ? `${SHOP_LABEL} + ${words}` : words}
    </span>
  );
}
