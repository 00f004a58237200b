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
  /** Whose words are "You": the shop's, or a seller's who looks at their own. */
  readonly isSeller?: boolean;
}

/** What was said, in its order. */
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

/** What somebody filled in. */
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
