import { Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { Waitlist } from '#core/contract/waitlistCalls.ts';
import { useGoods } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { ageWords } from '../shared/times.ts';
import { oneOf, queryOf, useFilters } from '../shared/useFilters.ts';
import { ListSheet } from './ListSheet.tsx';
import { listQuery, useWaitlists } from './useWaitlists.ts';
import styles from '../shared/worklist.module.css';

/** Lists can be shown that have somebody in one of these states. */
const KEPT = { invited: 'people invited', bought: 'people who bought', lapsed: 'invitations that lapsed' } as const;

/** Who waits for what, since when; and the next turn to give. */
export function WaitlistsPage() {
  const waitlists = useWaitlists();
  const goods = useGoods();
  const [search, set] = useFilters();
  const error = waitlists.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void waitlists.refetch()} />;
  const all = waitlists.data ?? [];
  const words = (search.get('list') ?? '').toLowerCase();
  const kept = oneOf(KEPT, search.get('with'));
  const shown = all.filter(
    (list) => list.title.toLowerCase().includes(words) && (kept === undefined || list[kept] > 0),
  );
  const chosen =
    all.find(
      ({ product, variant }) => product === search.get('product') && variant === (search.get('variant') ?? null),
    ) ??
    shown[0] ??
    all[0];
  const people = all.reduce((sum, { waiting }) => sum + waiting, 0);
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Waitlists</h1>
        <span className={lists.count} role="status">
          {waitlists.isPending
            ? 'looking…'
            : `${people} ${people === 1 ? 'person waits' : 'people wait'} on ${all.length} ${all.length === 1 ? 'list' : 'lists'}`}
        </span>
      </header>
      {waitlists.isPending || !goods.data ? (
        <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />
      ) : !chosen ? (
        <p className={lists.empty} style={{ margin: '28px 20px' }}>
          Nobody is waiting yet. A rule whose control is a waitlist opens one: <Link to="/rules">write one</Link>, with
          the intention “keep a waitlist”.
        </p>
      ) : (
        <div className={styles.columns}>
          <aside className={lists.aside} aria-label="Lists">
            {all.length > 6 && (
              <input
                className={styles.find}
                placeholder="Find a list"
                aria-label="Find a list"
                defaultValue={search.get('list') ?? ''}
                onChange={({ target }) => {
                  set('list', target.value);
                }}
              />
            )}
            {kept && (
              <p className={lists.none}>
                Only lists with {KEPT[kept]}. <Link to="/waitlists">Show all lists</Link>
              </p>
            )}
            <ul className={styles.lists}>
              {shown.map((list) => (
                <ListLink
                  key={listQuery(list)}
                  list={list}
                  isChosen={list === chosen}
                  kept={kept && queryOf(search, ['with', 'state'])}
                />
              ))}
            </ul>
            {shown.length === 0 && words !== '' && <p className={lists.none}>No list has “{words}” in its name.</p>}
            {shown.length === 0 && words === '' && <p className={lists.none}>There is none.</p>}
          </aside>
          <ListSheet key={listQuery(chosen)} list={chosen} goods={goods.data} />
        </div>
      )}
    </main>
  );
}

interface ListLinkProps {
  readonly list: Waitlist;
  readonly isChosen: boolean;
  /** What the address keeps besides. */
  readonly kept: string | undefined;
}

function ListLink({ list, isChosen, kept }: ListLinkProps) {
  const { title, waiting, invited, oldest, stock } = list;
  return (
    <li className={isChosen ? styles.chosen : undefined}>
      <Link to={`/waitlists?${[listQuery(list), kept ?? []].flat().join('&')}`} aria-current={isChosen}>
        <b>{title}</b>
        <span className={lists.number}>{waiting}</span>
        <small>
          {oldest === null ? 'nobody waiting' : `longest wait ${ageWords(oldest)}`}
          {invited > 0 && ` · ${invited} invited`}
          {stock !== null && stock > 0 && ` · ${stock} in stock`}
        </small>
      </Link>
    </li>
  );
}
