import type { Zone } from '#core/model/zone.ts';
import styles from './letters.module.css';
import { momentWords } from './times.ts';

interface Props {
  readonly messages: readonly {
    readonly byOwner: boolean;
    readonly seller: string | null;
    readonly words: string;
    readonly at: string;
  }[];
  readonly who: string;
  readonly zone: Zone;
  /** Whether "You" is a seller rather than the shop. */
  readonly isSeller?: boolean;
}

/** Messages of a thread in their order. */
export function Thread({ messages, who, zone, isSeller = false }: Props) {
  return messages.map(({ byOwner, seller, words, at }) => (
    <blockquote key={`${at} ${seller ?? ''}`} className={byOwner ? styles.ours : styles.theirs}>
      <p>{words}</p>
      <footer>
        {!byOwner ? who : isSeller ? 'You' : (seller ?? 'You')}, {momentWords(Date.parse(at), zone)}
      </footer>
    </blockquote>
  ));
}

/** Answers of a form. */
export function Answers({
  answers,
}: {
  readonly answers: readonly { readonly label: string; readonly value: string }[];
}) {
  return (
    <dl className={styles.answers}>
      {answers.map(({ label, value }) => (
        <div key={label}>
          <dt>{label}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}
