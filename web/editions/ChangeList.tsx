import { Link, useSearchParams } from 'react-router';
import type { Change } from '#core/rulebook/changes.ts';
import type { Names } from '#core/facts/wording.ts';
import type { Entry } from '#core/rulebook/rulebook.ts';
import { fullSentence, ruleName } from '#core/rulebook/sentence.ts';
import { withMoment } from '../shared/useMoment.ts';
import { ReadableText } from '../shared/ReadableText.tsx';
import styles from './editions.module.css';

interface ChangeListProps {
  readonly changes: readonly Change[];
  readonly names: Names;
  /** Whether the rules can be gone to: those of the draft can. */
  readonly linked?: boolean;
}

/** Differences between two rulebooks, as sentences. */
export function ChangeList({ changes, names, linked }: ChangeListProps) {
  const [search] = useSearchParams();
  return (
    <ul className={styles.changes}>
      {changes.map((change) => {
        const rule = 'now' in change ? change.now : change.was;
        const name = ruleName(rule, names);
        return (
          <li key={`${rule.id} ${change.kind}`}>
            <h2>
              {linked && 'now' in change ? (
                <Link to={withMoment(`/rules/${encodeURIComponent(rule.id)}`, search)}>{name}</Link>
              ) : (
                name
              )}
              <span>{KIND[change.kind]}</span>
            </h2>
            <Was change={change} names={names} />
          </li>
        );
      })}
    </ul>
  );
}

const KIND = {
  added: 'new',
  removed: 'deleted',
  switchedOn: 'switched on',
  switchedOff: 'switched off',
  renamed: 'renamed',
  reworded: 'changed',
  moved: 'moved',
} as const;

function Was({ change, names }: { readonly change: Change; readonly names: Names }) {
  const sentenceOf = (entry: Entry) => <ReadableText text={fullSentence({ ...entry, on: true }, names)} />;
  switch (change.kind) {
    case 'added':
      return <p>{sentenceOf(change.now)}</p>;
    case 'removed':
      return <p className={styles.was}>{sentenceOf(change.was)}</p>;
    case 'reworded':
      return (
        <>
          <p className={styles.was}>
            <span className={styles.side}>was</span> {sentenceOf(change.was)}
          </p>
          <p>
            <span className={styles.side}>now</span> {sentenceOf(change.now)}
          </p>
        </>
      );
    case 'renamed':
      return <p>It was “{('name' in change.was && change.was.name) || 'unnamed'}”.</p>;
    case 'moved':
      return (
        <p>
          From place {change.from} to place {change.to} in the running order.
        </p>
      );
    case 'switchedOn':
    case 'switchedOff':
      return <p>{sentenceOf(change.now)}</p>;
  }
}
