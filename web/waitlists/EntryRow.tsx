import { PickCell } from '../shared/SelectableTable.tsx';
import type { WaitlistEntry } from '#core/contract/waitlistCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { Allowed } from '../session/Allowed.tsx';
import lists from '../shared/lists.module.css';
import { ageWords, dayWords, momentWords } from '../shared/times.ts';
import styles from '../shared/worklist.module.css';

interface Props {
  readonly entry: WaitlistEntry;
  readonly zone: Zone;
  readonly isPicked: boolean;
  readonly pick: (isPicked: boolean) => void;
  readonly note: (note: string | null) => void;
}

/** A person on a list. The note is written in its place and kept when it is left. */
export function EntryRow({ entry, zone, isPicked, pick, note }: Props) {
  const { position, name, email, customer, state, joinedAt, changedAt, until } = entry;
  const who = name ?? email ?? customer ?? 'somebody';
  const now =
    state === 'waiting'
      ? ageWords(joinedAt)
      : state === 'invited'
        ? until === null
          ? 'for good'
          : `until ${momentWords(Date.parse(until), zone)}`
        : momentWords(Date.parse(changedAt), zone);
  return (
    <tr>
      <PickCell name={who} isPicked={isPicked} pick={pick} />
      <td className={lists.number}>{position}</td>
      <th scope="row">
        {who}
        <small>{[name === null ? null : email, customer].filter(Boolean).join(' · ')}</small>
      </th>
      <td>
        <span className={styles[state]}>{state}</span> <small>{now}</small>
      </td>
      <td>{dayWords(Date.parse(joinedAt), zone)}</td>
      <td>
        <Allowed permission="requests" quiet>
          <input
            className={styles.note}
            defaultValue={entry.note ?? ''}
            placeholder="Add a note"
            aria-label={`Note about ${who}`}
            maxLength={2000}
            onBlur={({ target }) => {
              const words = target.value.trim();
              if (words !== (entry.note ?? '')) note(words || null);
            }}
          />
        </Allowed>
      </td>
    </tr>
  );
}
