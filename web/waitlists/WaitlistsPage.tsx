import { Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { Waitlist } from '#core/contract/waitlistCalls.ts';
import { useGoods } from '../goods/useGoods.ts';
import { ListAside } from '../shared/ListAside.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { ageWords } from '../shared/times.ts';
import { oneOf, queryOf, queryText, useFilters } from '../shared/useFilters.ts';
import { ListSheet } from './ListSheet.tsx';
import { listQuery, useNamedList, useWaitlists } from './useWaitlists.ts';
import styles from '../shared/worklist.module.css';

/** Lists can be shown that have somebody in one of these states. */
const KEPT = { invited: 'people invited', bought: 'people who bought', lapsed: 'invitations that lapsed' } as const;

/** Screen of the waitlists, with the people on the chosen one. */
export function WaitlistsPage() {
  const filters = useFilters();
  const [search] = filters;
  const kept = oneOf(KEPT, search.get('with'));
  const words = search.get('list') ?? '';
  const waitlists = useWaitlists({ ...(words && { search: words }), ...(kept && { with: kept }) });
  const named = useNamedList(search.get('product'), search.get('variant'));
  const goods = useGoods();
  const error = waitlists.error ?? named.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void waitlists.refetch()} />;
  const { items, total, first, isPending } = waitlists;
  const chosen = named.isLoading ? null : (named.data ?? items[0]);
  const people = first?.waiting ?? 0;
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Waitlists</h1>
        <span className={lists.count} role="status">
          {isPending
            ? 'looking…'
            : `${people} ${people === 1 ? 'person waits' : 'people wait'} on ${total} ${total === 1 ? 'list' : 'lists'}`}
        </span>
      </header>
      {isPending || !goods.data ? (
        <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />
      ) : total === 0 && words === '' && !kept ? (
        <p className={lists.empty} style={{ margin: '28px 20px' }}>
          Nobody is waiting yet. A rule whose control is a waitlist opens one: <Link to="/rules">write one</Link>, with
          the intention “keep a waitlist”.
        </p>
      ) : (
        <div className={styles.columns}>
          <ListAside
            label="Lists"
            one="list"
            pages={waitlists}
            filters={filters}
            note={
              kept && (
                <p className={lists.none}>
                  Only lists with {KEPT[kept]}. <Link to="/waitlists">Show all lists</Link>
                </p>
              )
            }
          >
            {(list) => (
              <ListLink
                key={queryText(listQuery(list))}
                list={list}
                isChosen={chosen != null && list.product === chosen.product && list.variant === chosen.variant}
                kept={queryOf(search, ['with', 'state', 'list'])}
              />
            )}
          </ListAside>
          {chosen && <ListSheet key={queryText(listQuery(chosen))} list={chosen} goods={goods.data} />}
        </div>
      )}
    </main>
  );
}

interface ListLinkProps {
  readonly list: Waitlist;
  readonly isChosen: boolean;
  /** Other parameters that stay in the address. */
  readonly kept: Readonly<Partial<Record<string, string>>>;
}

function ListLink({ list, isChosen, kept }: ListLinkProps) {
  const { title, waiting, invited, oldest, stock } = list;
  return (
    <li className={isChosen ? styles.chosen : undefined}>
      <Link to={`/waitlists?${queryText({ ...listQuery(list), ...kept })}`} aria-current={isChosen}>
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
