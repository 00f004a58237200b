import { Skeleton } from '@mui/material';
import { Link, useSearchParams } from 'react-router';
import type { FunnelRow } from '#core/contract/insightCalls.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { withMoment } from '../shared/useMoment.ts';
import work from '../shared/worklist.module.css';
import { CountHeads } from './CountHeads.tsx';
import styles from './insights.module.css';
import { rowQuery, useRuleProducts, type Period } from './useInsights.ts';
import { queryText } from '../shared/useFilters.ts';

interface BehindRowProps {
  readonly row: FunnelRow;
  readonly name: string;
  readonly period: Period;
  readonly onClose: () => void;
}

/** The products behind a row of the funnel. */
export function BehindRow({ row, name, period, onClose }: BehindRowProps) {
  const found = useRuleProducts(row, period);
  const [search] = useSearchParams();
  return (
    <section className={styles.behind} aria-label={`Behind ${name}`} aria-busy={found.isPending}>
      <div className={styles.over}>
        <h2>{name}</h2>
        <button type="button" className={work.state} onClick={onClose}>
          Close
        </button>
      </div>
      {row.rule !== null && (
        <p>
          <Link to={withMoment(`/rules/${encodeURIComponent(row.rule)}`, search)}>See the rule</Link>
        </p>
      )}
      {found.error && <ErrorNote error={found.error} />}
      {found.isPending ? (
        <Skeleton variant="rounded" height={160} />
      ) : (
        <>
          <table className={work.table}>
            <thead>
              <tr>
                <th scope="col">Product</th>
                <CountHeads />
              </tr>
            </thead>
            <tbody>
              {found.data?.products.map(({ product, title, seen, pressed, finished }) => (
                <tr key={product}>
                  <th scope="row">
                    <Link to={withMoment(`/catalog/${encodeURIComponent(product)}`, search)}>{title}</Link>
                  </th>
                  <td className={work.number}>{seen.toLocaleString('en-GB')}</td>
                  <td className={work.number}>{pressed.toLocaleString('en-GB')}</td>
                  <td className={work.number}>{finished.toLocaleString('en-GB')}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className={styles.below}>
            {found.data?.more && `The first ${found.data.products.length}; the file has more. `}
            <a
              href={`/api/insights/products.csv?${queryText({ ...rowQuery(row), ...period, limit: '10000' })}`}
              className={styles.file}
              download
            >
              Export CSV
            </a>
          </p>
        </>
      )}
    </section>
  );
}
