import { useRef, type KeyboardEvent } from 'react';
import styles from './fields.module.css';

interface KindsProps<T extends string> {
  readonly label: string;
  readonly kinds: readonly { readonly value: T; readonly label: string }[];
  readonly chosen: T | undefined;
  readonly onChoose: (kind: T) => void;
  readonly autoFocus?: boolean;
}

/** One of a few kinds, chosen by pressing or by arrow keys (WAI-ARIA radio group). */
export function Kinds<T extends string>({ label, kinds, chosen, onChoose, autoFocus }: KindsProps<T>) {
  const group = useRef<HTMLDivElement>(null);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const index = kinds.findIndex(({ value }) => value === chosen);
    const next = index < 0 ? 0 : (index + step + kinds.length) % kinds.length;
    const kind = kinds[next];
    if (kind) onChoose(kind.value);
    group.current?.querySelectorAll('button')[next]?.focus();
  };
  return (
    <div ref={group} className={styles.kinds} role="radiogroup" aria-label={label} onKeyDown={onKeyDown}>
      {kinds.map(({ value, label: name }) => (
        <button
          key={value}
          type="button"
          role="radio"
          aria-checked={value === chosen}
          tabIndex={value === (chosen ?? kinds[0]?.value) ? 0 : -1}
          autoFocus={autoFocus === true && value === (chosen ?? kinds[0]?.value)}
          onClick={() => {
            onChoose(value);
          }}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
