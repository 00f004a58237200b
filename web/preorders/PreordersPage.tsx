import { Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { PreorderGoods } from '#core/contract/preorderCalls.ts';
import { useGoods } from '../goods/useGoods.ts';
import { ListAside } from '../shared/ListAside.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { queryOf, queryText, useFilters } from '../shared/useFilters.ts';
import styles from '../shared/worklist.module.css';
import { GoodsSheet } from './GoodsSheet.tsx';
import { shipWords } from './shipWords.ts';
import { useNamedGoods, usePreorderGoods } from './usePreorders.ts';

/** Screen of the pre-orders, the soonest to ship first. */
export function PreordersPage() {
  const filters = useFilters();
  const [search] = filters;
  const words = search.get('list') ?? '';
  const preordered = usePreorderGoods(words === '' ? {} : { search: words });
  const named = useNamedGoods(queryOf(search, ['product', 'variant']));
  const goods = useGoods();
  const error = preordered.error ?? named.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void preordered.refetch()} />;
  const { items, total, first, isPending } = preordered;
  const chosen = named.isLoading ? null : (named.data ?? items[0]);
  const units = first?.reserved ?? 0;
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Pre-orders</h1>
        <span className={lists.count} role="status">
          {isPending ? 'looking…' : `${units} ${units === 1 ? 'unit is' : 'units are'} reserved`}
        </span>
      </header>
      {isPending || !goods.data ? (
        <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />
      ) : total === 0 && words === '' ? (
        <p className={lists.empty} style={{ margin: '28px 20px' }}>
          No reservations yet. A rule whose control is a pre-order lets shoppers reserve:{' '}
          <Link to="/rules">write one</Link>, with the intention “take pre-orders”.
        </p>
      ) : (
        <div className={styles.columns}>
          <ListAside label="Products" one="product" pages={preordered} filters={filters}>
            {(one) => (
              <GoodsLink
                key={one.variant}
                goods={one}
                isChosen={one.variant === chosen?.variant}
                kept={queryOf(search, ['list'])}
              />
            )}
          </ListAside>
          {chosen && <GoodsSheet key={chosen.variant} goods={chosen} shop={goods.data.shop} />}
        </div>
      )}
    </main>
  );
}

interface GoodsLinkProps {
  readonly goods: PreorderGoods;
  readonly isChosen: boolean;
  /** Other parameters that stay in the address. */
  readonly kept: Readonly<Partial<Record<string, string>>>;
}

function GoodsLink({ goods, isChosen, kept }: GoodsLinkProps) {
  const { title, variant, reserved, allocated, cap, free, ships } = goods;
  const share = cap === null || cap === 0 ? null : Math.min(100, ((reserved + allocated) / cap) * 100);
  return (
    <li className={isChosen ? styles.chosen : undefined}>
      <Link to={`/preorders?${queryText({ variant, ...kept })}`} aria-current={isChosen}>
        <b>{title}</b>
        <span className={lists.number}>
          {reserved + allocated}
          {cap !== null && ` of ${cap}`}
        </span>
        <small>
          {shipWords(ships)}
          {free > 0 && reserved > 0 && ` · ${free} in stock for those waiting`}
        </small>
        {share !== null && (
          <span className={styles.meter} aria-hidden>
            <span style={{ width: `${share}%` }} />
          </span>
        )}
      </Link>
    </li>
  );
}
