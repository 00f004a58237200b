import type { GoodsChoice } from '#core/contract/ownFactsCalls.ts';
import { Looks, othersIn } from '../proof/Looks.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Progress } from '../shared/Progress.tsx';
import styles from './bulk.module.css';
import { useFactImpact, type Intended } from './useFactChanges.ts';

interface IntendedImpactProps {
  readonly goods: GoodsChoice;
  /** Null while nothing is chosen yet. */
  readonly intended: Intended | null;
  /** Number of audiences. */
  readonly audiences: number;
}

const listed = (names: readonly string[]) => new Intl.ListFormat('en-GB').format(names);

/** Impact on shoppers before a change is made. */
export function IntendedImpact({ goods, intended, audiences }: IntendedImpactProps) {
  const question = useFactImpact(goods, intended);
  const { data, error } = question;
  const when = intended?.rulebook ? 'once the draft is live' : 'at once, by the rules that are live';
  return (
    <section className={styles.impact} aria-label="What changes for shoppers" aria-busy={question.isFetching}>
      {error && <ErrorNote error={error} />}
      {intended === null ? (
        <p>What changes for shoppers is shown here before anything is done.</p>
      ) : !data ? (
        <>
          <p role="status">Looking what changes for shoppers…</p>
          <Progress question={question} />
        </>
      ) : (
        <>
          <p role="status">
            {data.changed === 0
              ? `Nothing that shoppers see of them changes ${when}.`
              : `${data.changed} variant${data.changed === 1 ? '' : 's'} of ${data.products} product${data.products === 1 ? '' : 's'} will be shown otherwise ${when}:`}
          </p>
          <ul>
            {data.groups.map((group) => (
              <li key={group.key}>
                <b>{group.count}</b>
                <Looks group={group} />
                <small>
                  {[
                    ...othersIn(group),
                    `for ${group.audiences.length === audiences ? 'everybody' : listed(group.audiences)}`,
                  ].join(' · ')}
                </small>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
