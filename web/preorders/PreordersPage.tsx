import { Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { PreorderGoods } from '#core/contract/preorderCalls.ts';
import { useGoods } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { useFilters } from '../shared/useFilters.ts';
import styles from '../shared/worklist.module.css';
import { GoodsSheet } from './GoodsSheet.tsx';
import { shipWords } from './shipWords.ts';
import { usePreorderGoods } from './usePreorders.ts';

/** What is reserved, by what ships soonest; and what has come in for whom. */
export function PreordersPage() {
  const preordered = usePreorderGoods();
  const goods = useGoods();
  const [search] = useFilters();
  const error = preordered.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void preordered.refetch()} />;
  const all = preordered.data ?? [];
  const chosen =
    all.find(({ variant }) => variant === search.get('variant')) ??
    all.find(({ product }) => product === search.get('product')) ??
    all[0];
  const units = all.reduce((sum, { reserved }) => sum + reserved, 0);
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Pre-orders</h1>
        <span className={lists.count} role="status">
          {preordered.isPending ? 'looking…' : `${units} ${units === 1 ? 'unit is' : 'units are'} reserved`}
        </span>
      </header>
      {preordered.isPending || !goods.data ? (
        <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />
      ) : !chosen ? (
        <p className={lists.empty} style={{ margin: '28px 20px' }}>
          No reservations yet. A rule whose control is a pre-order lets shoppers reserve:{' '}
          <Link to="/rules">write one</Link>, with the intention “take pre-orders”.
        </p>
      ) : (
        <div className={styles.columns}>
          <aside className={lists.aside} aria-label="Goods">
            <ul className={styles.lists}>
              {all.map((one) => (
                <GoodsLink key={one.variant} goods={one} isChosen={one === chosen} />
              ))}
            </ul>
          </aside>
          <GoodsSheet key={chosen.variant} goods={chosen} shop={goods.data.shop} />
        </div>
      )}
    </main>
  );
}

function GoodsLink({ goods, isChosen }: { readonly goods: PreorderGoods; readonly isChosen: boolean }) {
  const { title, variant, reserved, allocated, cap, free, ships } = goods;
  const share = cap === null || cap === 0 ? null : Math.min(100, ((reserved + allocated) / cap) * 100);
  return (
    <li className={isChosen ? styles.chosen : undefined}>
      <Link to={`/preorders?${new URLSearchParams({ variant }).toString()}`} aria-current={isChosen}>
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
