import { Button, Skeleton } from '@mui/material';
import { useState } from 'react';
import { Navigate } from 'react-router';
import { useMay } from '../session/useMay.ts';
import { useGoods, type Goods } from '../goods/useGoods.ts';
import { ImportDialog } from '../imports/ImportDialog.tsx';
import { CATALOG } from '../imports/targets.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FindField } from '../shared/pages.tsx';
import { Progress } from '../shared/Progress.tsx';
import { useMoment } from '../shared/useMoment.ts';
import { useFilters } from '../shared/useFilters.ts';
import styles from './catalog.module.css';
import { CatalogViews } from './CatalogViews.tsx';
import { ColumnChoice } from './ColumnChoice.tsx';
import { FilterLine } from './FilterLine.tsx';
import { askingFor, asksFor, filterOf, isFiltered, toggled, type AddressProps } from './filter.ts';
import { NewestFactChange, PastFactChanges } from './FactChanges.tsx';
import { ProductGrid } from './ProductGrid.tsx';
import { NONE_CHOSEN, SelectionBar } from './SelectionBar.tsx';
import { queryIn, useFoundProducts } from './useFoundProducts.ts';

/** The catalog as rules see it, found by conditions and by decisions. */
export function CatalogPage() {
  const goods = useGoods();
  const [search, , change] = useFilters();
  const mayImport = useMay('catalog');
  const [isImporting, setImporting] = useState(search.has('imports'));
  const { moment, isNow } = useMoment(goods.data?.shop.zone);
  const filter = { ...filterOf(search), ...(isNow ? {} : { at: new Date(moment).toISOString() }) };
  const asked = { ...queryIn(search), filter };
  // The selection belongs to the filter.
  const [ofFilter, setOfFilter] = useState('');
  const [chosen, setChosen] = useState(NONE_CHOSEN);
  if (ofFilter !== JSON.stringify(filter)) {
    setOfFilter(JSON.stringify(filter));
    setChosen(NONE_CHOSEN);
  }
  const found = useFoundProducts(asked);
  const opened = search.get('open');
  if (opened !== null) return <Navigate to={`/catalog/${encodeURIComponent(opened)}`} replace />;
  if (goods.error) return <LoadFailed error={goods.error} retry={() => void goods.refetch()} />;
  const { data } = found;
  const isEmptyShop = data?.total === 0 && !isFiltered(filter);
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Catalog</h1>
        <span className={lists.count} role="status">
          {found.error ? '' : data ? countWords(data, isFiltered(filter)) : 'looking…'}
        </span>
        <FindField
          className={lists.search}
          label="Find a product"
          placeholder="Search by title or id"
          search={search}
          set={(name, value) => {
            change({ [name]: value, page: null });
          }}
        />
        {goods.data && <ColumnChoice goods={goods.data} search={search} change={change} />}
        {mayImport && (
          <Button
            variant="contained"
            onClick={() => {
              setImporting(true);
            }}
          >
            Import
          </Button>
        )}
      </header>
      <div className={lists.columns}>
        {goods.data ? (
          <Vocabulary goods={goods.data} search={search} change={change} />
        ) : (
          <aside className={lists.aside} />
        )}
        <section className={styles.main} aria-label="Products" aria-busy={found.isFetching}>
          {goods.data && <FilterLine filter={filter} goods={goods.data} change={change} />}
          <div>
            <Progress question={found} />
            <NewestFactChange />
            {goods.data && data && (
              <SelectionBar chosen={chosen} choose={setChosen} filter={filter} total={data.total} goods={goods.data} />
            )}
          </div>
          {found.error ? (
            // The filter itself may fail: a saved view may name a deleted audience.
            <LoadFailed error={found.error} retry={() => void found.refetch()} />
          ) : !data || !goods.data ? (
            [1, 2, 3, 4, 5, 6].map((row) => <Skeleton key={row} variant="rounded" height={44} sx={{ mb: 1 }} />)
          ) : isEmptyShop ? (
            <p className={lists.empty}>There are no products yet. Import a CSV file with one row for each variant.</p>
          ) : (
            <ProductGrid
              found={data}
              isLooking={found.isPlaceholderData}
              asked={asked}
              goods={goods.data}
              search={search}
              change={change}
              chosen={chosen}
              choose={setChosen}
            />
          )}
        </section>
      </div>
      {mayImport && isImporting && (
        <ImportDialog
          target={CATALOG}
          onClose={() => {
            setImporting(false);
          }}
        />
      )}
    </main>
  );
}

const counted = (count: number, noun: string) => `${count.toLocaleString('en-GB')} ${noun}${count === 1 ? '' : 's'}`;

const countWords = ({ total, variants }: { readonly total: number; readonly variants: number }, isSome: boolean) =>
  `${counted(total, 'product')}, ${counted(variants, 'variant')}${isSome ? ' found' : ''}`;

/** The names that rules can speak of, each a filter, below the views that were saved. */
function Vocabulary({ goods: { vocabulary, shop }, search, change }: AddressProps & { readonly goods: Goods }) {
  const { where } = filterOf(search);
  const entry = (leaf: ReturnType<typeof askingFor>, label: string, count: number, depth = 0) => {
    const [value = ''] = leaf.value as readonly string[];
    return (
      <li key={value} style={{ paddingLeft: depth * 12 }}>
        <button
          type="button"
          aria-pressed={asksFor(where, leaf.fact, value)}
          onClick={() => {
            const next = toggled(where, leaf);
            change({ where: next && JSON.stringify(next), page: null });
          }}
        >
          <span>{label}</span>
          <span className={lists.number}>{count}</span>
        </button>
      </li>
    );
  };
  return (
    <aside className={lists.aside} aria-label="Views, categories and tags">
      <CatalogViews search={search} />
      <PastFactChanges shop={shop} />
      <h2>Categories</h2>
      <ul>
        {vocabulary.categories.map(({ id, names, count }) =>
          entry(askingFor('product.categories', id), names.at(-1) ?? id, count, names.length - 1),
        )}
      </ul>
      <h2>Tags</h2>
      <ul>{vocabulary.tags.map(({ name, count }) => entry(askingFor('product.tags', name), name, count))}</ul>
    </aside>
  );
}
