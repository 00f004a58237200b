import { Skeleton, TextField } from '@mui/material';
import { useDeferredValue } from 'react';
import { Link } from 'react-router';
import { DEMAND_BY, DEMANDS, type Demand, type DemandKind, type DemandRow } from '#core/contract/demandCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { oneOf, useFilters, queryText } from '../shared/useFilters.ts';
import work from '../shared/worklist.module.css';
import { InsightsHead } from './InsightsHead.tsx';
import styles from './insights.module.css';
import { ServedAside } from './ServedAside.tsx';
import { PERIOD_NAMES, useDemand, usePeriod } from './useInsights.ts';

const KINDS: Readonly<Record<DemandKind, { readonly name: string; readonly one: string; readonly many: string }>> = {
  waiting: { name: 'Waiting', one: 'person waits', many: 'people wait' },
  reserved: { name: 'Reserved', one: 'unit is reserved', many: 'units are reserved' },
  asked: { name: 'Asked', one: 'unit on quote sheets', many: 'units on quote sheets' },
  enquired: { name: 'Enquired', one: 'open enquiry', many: 'open enquiries' },
  refused: { name: 'Refused', one: 'order was refused', many: 'orders were refused' },
};
const BY_NAMES: Readonly<Record<(typeof DEMAND_BY)[number], string>> = {
  product: 'Products',
  tag: 'Tags',
  category: 'Categories',
};
const SORTS = { ...KINDS, worth: null };

/** Screen of unmet demand by product, kind and value. */
export function DemandPage() {
  const [search, set, change] = useFilters();
  const within = usePeriod();
  const { goods, period, chosen } = within;
  const by = DEMAND_BY.find((one) => one === search.get('by')) ?? 'product';
  const sort = oneOf(SORTS, search.get('sort')) ?? 'worth';
  const words = useDeferredValue(search.get('search') ?? '');
  const asked = { by, sort, ...(words === '' ? {} : { search: words }) };
  const demand = useDemand(period, asked);
  const error = goods.error ?? demand.error;
  if (error) return <LoadFailed error={error} retry={() => void demand.refetch()} />;
  const money = (amount: number) => (goods.data ? formatPrice(amount, goods.data.shop, 'en') : '');
  return (
    <main className={lists.page}>
      <InsightsHead within={within} counted={demand.data ? `${money(demand.data.all.worth)} waits` : 'looking…'} />
      <div className={styles.both}>
        <section className={lists.main} aria-label="Unmet demand" aria-busy={demand.isPending}>
          {!demand.data || !goods.data ? (
            <Skeleton variant="rounded" height={280} />
          ) : demand.data.all.worth === 0 && demand.data.total === 0 && words === '' ? (
            <p className={lists.empty}>
              Nobody waits for anything, has reserved, or asks; and nothing was refused in {PERIOD_NAMES[chosen]}. A
              rule can take pre-orders, keep a waitlist, or let shoppers ask for a price:{' '}
              <Link to="/rules">write one</Link>.
            </p>
          ) : (
            <>
              <Totals
                all={demand.data.all}
                money={money}
                sort={sort}
                choose={(kind) => {
                  set('sort', kind === sort ? null : kind);
                }}
              />
              <div className={styles.over}>
                <div className={styles.periods} role="group" aria-label="By">
                  {DEMAND_BY.map((one) => (
                    <button
                      key={one}
                      type="button"
                      className={work.state}
                      aria-pressed={one === by}
                      onClick={() => {
                        change({ by: one === 'product' ? null : one, search: null });
                      }}
                    >
                      {BY_NAMES[one]}
                    </button>
                  ))}
                </div>
                <TextField
                  key={by}
                  size="small"
                  sx={{ width: 200 }}
                  placeholder={`Find ${BY_NAMES[by].toLowerCase()}`}
                  defaultValue={search.get('search') ?? ''}
                  slotProps={{ htmlInput: { 'aria-label': `Find ${BY_NAMES[by].toLowerCase()}` } }}
                  onChange={({ target }) => {
                    set('search', target.value);
                  }}
                />
                <a
                  className={styles.file}
                  href={`/api/insights/demand.csv?${queryText({ ...period, ...asked, limit: '10000' })}`}
                  download
                >
                  Export CSV
                </a>
              </div>
              {demand.data.rows.length === 0 ? (
                <p className={lists.empty}>
                  {words === '' ? 'None of it is of this kind.' : `Nothing that is wanted has “${words}” in its name.`}{' '}
                  <button
                    type="button"
                    className={styles.name}
                    onClick={() => {
                      change({ search: null, sort: null });
                    }}
                  >
                    Show all
                  </button>
                </p>
              ) : (
                <DemandTable demand={demand.data} by={by} sort={sort} shop={goods.data.shop} />
              )}
            </>
          )}
        </section>
        <ServedAside period={period} />
      </div>
    </main>
  );
}

interface TotalsProps {
  readonly all: Demand['all'];
  readonly money: (amount: number) => string;
  readonly sort: DemandKind | 'worth';
  readonly choose: (kind: DemandKind) => void;
}

/** Totals by kind; pressing one sorts by it. */
function Totals({ all, money, sort, choose }: TotalsProps) {
  return (
    <ul className={styles.totals} aria-label="In all">
      {DEMANDS.map((kind) => {
        const { units, worth } = all[kind];
        const { name, one, many } = KINDS[kind];
        return (
          <li key={kind}>
            <button
              type="button"
              aria-pressed={kind === sort}
              title={`The most ${name.toLowerCase()} first`}
              disabled={units === 0}
              onClick={() => {
                choose(kind);
              }}
            >
              <b>{units.toLocaleString('en-GB')}</b>
              <span>{units === 1 ? one : many}</span>
              <small>{units === 0 ? ' ' : money(worth)}</small>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

interface DemandTableProps {
  readonly demand: Demand;
  readonly by: (typeof DEMAND_BY)[number];
  readonly sort: DemandKind | 'worth';
  readonly shop: ShopFacts;
}

function DemandTable({ demand: { rows, total }, by, sort, shop }: DemandTableProps) {
  const most = Math.max(...rows.map(({ worth }) => worth), 1);
  return (
    <>
      <div className={styles.table}>
        <table className={`${work.table} ${styles.demand}`}>
          <thead>
            <tr>
              <th scope="col">{BY_NAMES[by].replace(/ies$/, 'y').replace(/s$/, '')}</th>
              {DEMANDS.map((kind) => (
                <th key={kind} scope="col" className={work.number} aria-sort={kind === sort ? 'descending' : undefined}>
                  {KINDS[kind].name}
                </th>
              ))}
              <th scope="col" aria-sort={sort === 'worth' ? 'descending' : undefined}>
                Worth today
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.key}>
                <th scope="row">
                  <Link to={goodsOf(row, by)}>{row.title}</Link>
                  {row.within !== null && <small className={styles.within}>in {row.within}</small>}
                </th>
                {DEMANDS.map((kind) => (
                  <td key={kind} className={work.number}>
                    <Units row={row} kind={kind} by={by} />
                  </td>
                ))}
                <td className={styles.bar}>
                  <span aria-hidden style={{ inlineSize: `${(100 * row.worth) / most}%` }} />
                  <b>{formatPrice(row.worth, shop, 'en')}</b>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {total > rows.length && (
        <p className={styles.below}>
          The first {rows.length} of {total.toLocaleString('en-GB')}; the file has all.
        </p>
      )}
    </>
  );
}

/** Number of units, as a link to their list. */
function Units({ row, kind, by }: { readonly row: DemandRow; readonly kind: DemandKind; readonly by: string }) {
  const { units } = row[kind];
  if (units === 0) return null;
  const said = units.toLocaleString('en-GB');
  const place = {
    waiting: `/waitlists?${queryText({ list: row.title, product: row.key })}`,
    reserved: `/preorders?${queryText({ product: row.key })}`,
    asked: `/quotes?${queryText({ product: row.key })}`,
    enquired: `/enquiries?${queryText({ product: row.key, state: 'open' })}`,
    refused: null,
  }[kind];
  if (by !== 'product' || place === null) return said;
  return <Link to={place}>{said}</Link>;
}

/** Address of a row's products. */
function goodsOf({ key }: DemandRow, by: (typeof DEMAND_BY)[number]): string {
  if (by === 'product') return `/catalog/${encodeURIComponent(key)}`;
  const where =
    by === 'tag'
      ? { fact: 'product.tags', op: 'hasAny', value: [key] }
      : { fact: 'product.categories', op: 'within', value: [key] };
  return `/catalog?${queryText({ where: JSON.stringify(where) })}`;
}
