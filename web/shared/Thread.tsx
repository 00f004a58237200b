import type { Zone } from '#core/model/zone.ts';
import styles from './letters.module.css';
import { momentWords } from './times.ts';

interface Props {
  readonly messages: readonly { readonly byOwner: boolean; readonly words: string; readonly at: string }[];
  readonly who: string;
  readonly zone: Zone;
}

/** What was said, in its order. */
export function Thread({ messages, who, zone }: Props) {
  return messages.map(({ byOwner, words, at }) => (
    <blockquote key={at} className={byOwner ? styles.ours : styles.theirs}>
      <p>{words}</p>
      <footer>
        {byOwner ? 'You' : who}, {momentWords(Date.parse(at), zone)}
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
