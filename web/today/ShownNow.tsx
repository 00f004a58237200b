import { Skeleton } from '@mui/material';
import { useMemo } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useLive } from '../live/useEditions.ts';
import { useMoment, withMoment } from '../shared/useMoment.ts';
import { compiledFor } from '../goods/compiledFor.ts';
import { useGoods } from '../goods/useGoods.ts';
import { ProofRow } from '../proof/ProofRow.tsx';
import { cellsOf, rowsOf } from '../proof/proofRows.ts';
import { ProofTable } from '../proof/ProofTable.tsx';
import { useLiveRows, useProducts } from '../rehearsal/useRehearsal.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { Progress } from '../shared/Progress.tsx';
import styles from './today.module.css';

const ROWS_SHOWN = 6;

/** Live decisions for each audience, for a few products that differ. */
export function ShownNow() {
  const goods = useGoods();
  const live = useLive();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const { moment, isNow } = useMoment(goods.data?.shop.zone);
  const chosen = useLiveRows(isNow ? undefined : new Date(moment).toISOString());
  const ids = useMemo(() => [...new Set((chosen.data ?? []).map(({ product }) => product))], [chosen.data]);
  const products = useProducts(ids, goods.data?.products ?? []);
  const published = live.data?.rulebook;
  const compiled = useMemo(
    () => published && goods.data && compiledFor(published, goods.data),
    [published, goods.data],
  );
  const error = goods.error ?? live.error ?? chosen.error;
  const variants = new Set((chosen.data ?? []).map(({ variant }) => variant));
  const all = rowsOf(products, 'product').filter(({ variant }) => variants.has(variant.id));
  const rows = all.slice(0, ROWS_SHOWN);
  const address = (more: Readonly<Record<string, string>>) => {
    const path = withMoment('/rehearsal', search);
    return `${path}${path.includes('?') ? '&' : '?'}${new URLSearchParams({ which: 'live', ...more }).toString()}`;
  };
  return (
    <section aria-labelledby="shown" aria-busy={chosen.isFetching}>
      <h2 id="shown">What shoppers see {isNow ? 'now' : 'then'}</h2>
      {error ? (
        <LoadFailed error={error} />
      ) : !goods.data || !compiled || !chosen.data ? (
        <>
          <Progress question={chosen} />
          {!chosen.isGivenUp && <Skeleton variant="rounded" height={200} />}
        </>
      ) : rows.length === 0 ? (
        <p className={styles.quiet}>
          There are no products yet. <Link to="/catalog">Import the catalog</Link>, and what shoppers see is shown here.
        </p>
      ) : (
        <>
          <ProofTable surface="product" audiences={goods.data.audiences}>
            <tbody>
              {rows.map((row) => (
                <ProofRow
                  key={row.key}
                  row={row}
                  cells={cellsOf(row, null, {
                    draft: compiled,
                    live: compiled,
                    audiences: goods.data.audiences,
                    surface: 'product',
                    moment,
                  })}
                  audiences={goods.data.audiences}
                  shop={goods.data.shop}
                  surface="product"
                  which="live"
                  onWhy={(audience) => {
                    void navigate(address({ rows: row.product.id, why: `${row.key}~${audience}` }));
                  }}
                />
              ))}
            </tbody>
          </ProofTable>
          <p>
            <Link to={address({})}>
              {all.length > rows.length ? `All ${all.length} outcomes in Rehearsal` : 'More in Rehearsal'}
            </Link>
          </p>
        </>
      )}
    </section>
  );
}
