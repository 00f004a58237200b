import { CONTROL_NAMES, controlOf } from '#core/controls/controls.ts';
import type { FunnelRow } from '#core/contract/insightCalls.ts';
import { MoreButton, useFirstOf } from '../shared/pages.tsx';
import { capital } from '../shared/wording.ts';
import work from '../shared/worklist.module.css';
import styles from './insights.module.css';

export const keyOf = ({ rule, control }: Pick<FunnelRow, 'rule' | 'control'>) => `${control} ${rule ?? ''}`;

/** Whether orders or requests come of a control; those of a link come of the page that it leads to. */
function hasResults({ control }: FunnelRow): boolean {
  const { sells, takesRequests = false } = controlOf({ kind: control });
  return sells || takesRequests;
}

/** Sort orders of rows, all descending. */
export const FUNNEL_SORTS = {
  seen: 'Seen',
  pressed: 'Pressed',
  finished: 'Orders, requests',
  refused: 'Refused',
} as const;
export type FunnelSort = keyof typeof FUNNEL_SORTS;

interface FunnelTableProps {
  readonly sort: FunnelSort;
  readonly onSort: (sort: FunnelSort) => void;
  readonly rows: readonly FunnelRow[];
  readonly called: (row: FunnelRow) => string;
  readonly open: FunnelRow | undefined;
  readonly onOpen: (row: FunnelRow) => void;
}

/** Each rule's stand-ins from views to results, beside the period before. */
export function FunnelTable({ rows, sort, onSort, called, open, onOpen }: FunnelTableProps) {
  const first = useFirstOf([...rows].sort((a, b) => b[sort] - a[sort]));
  const most = Math.max(...rows.map(({ seen }) => seen), 1);
  return (
    <div className={styles.table}>
      <table className={work.table}>
        <thead>
          <tr>
            <th scope="col">Decided by</th>
            <th scope="col">Shown</th>
            {(Object.keys(FUNNEL_SORTS) as FunnelSort[]).map((one) => (
              <th
                key={one}
                scope="col"
                className={one === 'seen' ? undefined : work.number}
                aria-sort={one === sort ? 'descending' : undefined}
              >
                <button
                  type="button"
                  className={styles.sort}
                  title="The most first"
                  onClick={() => {
                    onSort(one);
                  }}
                >
                  {FUNNEL_SORTS[one]}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {first.items.map((row) => {
            const { seen, pressed, finished, refused, control, before } = row;
            return (
              <tr key={keyOf(row)} className={row === open ? styles.open : undefined}>
                <th scope="row">
                  <button
                    type="button"
                    className={styles.name}
                    aria-expanded={row === open}
                    onClick={() => {
                      onOpen(row);
                    }}
                  >
                    {called(row)}
                  </button>
                </th>
                <td>{capital(CONTROL_NAMES[control])}</td>
                <td className={styles.bar}>
                  <span aria-hidden style={{ inlineSize: `${(100 * seen) / most}%` }} />
                  <b>{seen.toLocaleString('en-GB')}</b>
                  <Change now={seen} before={before.seen} />
                </td>
                <td className={work.number}>
                  {pressed.toLocaleString('en-GB')}
                  <Share part={pressed} whole={seen} of="seen" />
                  <Change now={pressed} before={before.pressed} />
                </td>
                <td className={work.number}>
                  {finished === 0 && !hasResults(row) ? '' : finished.toLocaleString('en-GB')}
                  {hasResults(row) && <Share part={finished} whole={pressed} of="pressed" />}
                  <Change now={finished} before={before.finished} />
                </td>
                <td className={work.number}>{refused === 0 ? '' : refused.toLocaleString('en-GB')}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <MoreButton pages={first} />
    </div>
  );
}

/** Counts below this are too small for a rate. */
export const FEWEST = 20;

function Share({ part, whole, of }: { readonly part: number; readonly whole: number; readonly of: string }) {
  if (whole < FEWEST || part > whole) return null;
  return (
    <small>
      {Math.round((100 * part) / whole)} % of {of}
    </small>
  );
}

function Change({ now, before }: { readonly now: number; readonly before: number }) {
  if (now === before || before === 0) return null;
  const said = `${before.toLocaleString('en-GB')} before`;
  if (before < FEWEST) return <small>{said}</small>;
  const part = Math.round((100 * (now - before)) / before);
  return <small title={part > 0 ? `${part} % more` : `${-part} % fewer`}>{said}</small>;
}
