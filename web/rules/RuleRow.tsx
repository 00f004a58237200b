import { isSellers } from '#core/rulebook/entries.ts';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useEffect, useRef } from 'react';
import { unfinished } from '#core/rulebook/unfinished.ts';
import type { Names } from '#core/facts/wording.ts';
import type { Entry } from '#core/rulebook/rulebook.ts';
import { ruleName, SELLERS_SENTENCE, shortSentence } from '#core/rulebook/sentence.ts';
import { OutcomeChip } from '../proof/OutcomeChip.tsx';
import styles from './rules.module.css';

interface RuleRowProps {
  readonly rule: Entry;
  readonly number: number;
  readonly names: Names;
  /** Reach of the rule, for any audience at the moment shown. */
  readonly reach: { readonly variants: number; readonly products: number };
  /** Variants that are looked at. */
  readonly total: number;
  readonly isChosen: boolean;
  readonly isInDraft: boolean;
  readonly onChoose: (id: string) => void;
}

/** One entry of the running order: pressed to choose it, dragged to move it. */
export function RuleRow({ rule, number, names, reach, total, isChosen, isInDraft, onChoose }: RuleRowProps) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: rule.id });
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!isChosen) return;
    button.current?.scrollIntoView({ block: 'nearest' });
    // The keyboard goes along when the choice moves by arrow keys.
    if (button.current?.closest('ol')?.contains(document.activeElement)) button.current.focus();
  }, [isChosen, number]);
  const lacks = !isSellers(rule) && unfinished(rule).length > 0;
  const marks = [!rule.on && 'off', lacks && 'unfinished', isInDraft && 'changed in draft'].filter(
    (mark) => mark !== false,
  );
  return (
    <li
      ref={setNodeRef}
      className={[
        styles.rule,
        isChosen && styles.chosen,
        isInDraft && styles.inDraft,
        isDragging && styles.dragged,
        !rule.on && styles.off,
      ]
        .filter(Boolean)
        .join(' ')}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <span
        className={styles.number}
        {...attributes}
        {...listeners}
        tabIndex={-1}
        role="presentation"
        title="Drag to move"
      >
        {number}
      </span>
      <button
        ref={button}
        type="button"
        className={styles.ruleButton}
        aria-current={isChosen}
        onClick={() => {
          onChoose(rule.id);
        }}
      >
        <span className={styles.ruleName}>{isSellers(rule) ? ruleName(rule) : (rule.name ?? 'Unnamed rule')}</span>
        <span className={styles.ruleSentence}>{isSellers(rule) ? SELLERS_SENTENCE : shortSentence(rule, names)}</span>
        {marks.length > 0 && <span className={styles.marks}>{marks.join(' · ')}</span>}
      </button>
      <span className={styles.ruleEnd}>
        {!isSellers(rule) && <OutcomeChip then={rule.then} />}
        {!isSellers(rule) && (
          <span className={styles.reach} title={`Decides ${reach.variants} variants, of ${reach.products} products`}>
            {reach.variants} of {total}
          </span>
        )}
      </span>
    </li>
  );
}
