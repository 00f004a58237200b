import { Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { FunnelRow } from '#core/contract/countCalls.ts';
import { CONTROL_NAMES } from '#core/controls/controls.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { useDraft } from '../draft/useDraft.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { oneOf, useFilters } from '../shared/useFilters.ts';
import { capital } from '../shared/wording.ts';
import work from '../shared/worklist.module.css';
import { BehindRow } from './BehindRow.tsx';
import styles from './insights.module.css';
import { periodOf, useFunnel, type Period } from './useInsights.ts';

const PERIODS = { week: 7, month: 30, quarter: 90 } as const;
const PERIOD_NAMES = { week: '7 days', month: '30 days', quarter: '90 days' } as const;

/** Looking back: what was shown in the button's place, what was pressed, and what came of it. */
export function InsightsPage() {
  const filters = useFilters();
  const [search, set, change] = filters;
  const goods = useGoods();
  const { rulebook } = useDraft();
  const chosen = oneOf(PERIODS, search.get('period')) ?? 'month';
  const zone = goods.data?.shop.zone;
  const period = zone && periodOf(zone, PERIODS[chosen]);
  const funnel = useFunnel(period);
  const error = goods.error ?? funnel.error;
  if (error) return <LoadFailed error={error} retry={() => void funnel.refetch()} />;
  const nameOf = ruleNames(rulebook?.rules ?? [], goods.data && namesFrom(goods.data), goods.data?.sellers);
  const called = ({ rule }: Pick<FunnelRow, 'rule'>) => (rule === null ? 'No rule' : nameOf(rule));
  const rows = funnel.data ?? [];
  const open = rows.find((row) => keyOf(row) === search.get('row'));
  const seen = rows.reduce((sum, row) => sum + row.seen, 0);
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Insights</h1>
        <span className={lists.count} role="status">
          {funnel.isPending ? 'looking…' : `${seen.toLocaleString('en-GB')} buttons seen in ${PERIOD_NAMES[chosen]}`}
        </span>
        <div className={styles.periods} role="group" aria-label="Period">
          {Object.entries(PERIOD_NAMES).map(([code, name]) => (
            <button
              key={code}
              type="button"
              className={work.state}
              aria-pressed={code === chosen}
              onClick={() => {
                set('period', code);
              }}
            >
              {name}
            </button>
          ))}
          {period && (
            <a className={styles.file} href={`/api/insights/funnel.csv?${queryFor(period)}`} download>
              Export CSV
            </a>
          )}
        </div>
      </header>
      <div className={open ? styles.both : styles.one}>
        <section className={lists.main} aria-label="What stood in the button’s place" aria-busy={funnel.isPending}>
          {funnel.isPending ? (
            <Skeleton variant="rounded" height={280} />
          ) : rows.length === 0 ? (
            <p className={lists.empty}>
              Nothing was counted in these days. Pages tell what shoppers see and press as soon as Understudy’s line is
              in their head: <Link to="/connection">see Connection</Link>.
            </p>
          ) : (
            <FunnelTable
              rows={rows}
              called={called}
              open={open}
              onOpen={(row) => {
                change({ row: row === open ? null : keyOf(row) });
              }}
            />
          )}
        </section>
        {open && period && <BehindRow row={open} name={called(open)} period={period} />}
      </div>
    </main>
  );
}

const keyOf = ({ rule, control }: Pick<FunnelRow, 'rule' | 'control'>) => `${control} ${rule ?? ''}`;
const queryFor = ({ from, until }: Period) => new URLSearchParams({ from, until }).toString();

interface FunnelTableProps {
  readonly rows: readonly FunnelRow[];
  readonly called: (row: FunnelRow) => string;
  readonly open: FunnelRow | undefined;
  readonly onOpen: (row: FunnelRow) => void;
}

/** Each rule's stand-in from being seen to what came of it, and how that was in the period before. */
function FunnelTable({ rows, called, open, onOpen }: FunnelTableProps) {
  const most = Math.max(...rows.map(({ seen }) => seen), 1);
  return (
    <table className={work.table}>
      <thead>
        <tr>
          <th scope="col">Decided by</th>
          <th scope="col">Shown</th>
          <th scope="col">Seen</th>
          <th scope="col" className={work.number}>
            Pressed
          </th>
          <th scope="col" className={work.number}>
            Orders, requests
          </th>
          <th scope="col" className={work.number}>
            Refused
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => {
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
                {finished.toLocaleString('en-GB')}
                <Share part={finished} whole={pressed} of="pressed" />
                <Change now={finished} before={before.finished} />
              </td>
              <td className={work.number}>{refused === 0 ? '' : refused.toLocaleString('en-GB')}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Fewer than so many say nothing of how many there are of so many. */
const FEWEST = 20;

function Share({ part, whole, of }: { readonly part: number; readonly whole: number; readonly of: string }) {
  if (whole < FEWEST || part > whole) return null;
  return (
    <small>
      {Math.round((100 * part) / whole)} % of {of}
    </small>
  );
}

function Change({ now, before }: { readonly now: number; readonly before: number }) {
  if (now === before) return null;
  if (before === 0) return null;
  if (before < FEWEST) return <small>{before.toLocaleString('en-GB')} before</small>;
  const part = Math.round((100 * (now - before)) / before);
  return (
    <small>
      {part > 0 ? `${part} % more` : `${-part} % fewer`} than {before.toLocaleString('en-GB')} before
    </small>
  );
}
