import { Button, Skeleton, ToggleButton, ToggleButtonGroup } from '@mui/material';
import { useState } from 'react';
import type { listProducts } from '#core/contract/shopCalls.ts';
import { useMay } from '../session/useMay.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useGoods, type Goods } from '../goods/useGoods.ts';
import { ImportDialog } from '../imports/ImportDialog.tsx';
import { CATALOG } from '../imports/targets.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FindField, MoreButton, usePages } from '../shared/pages.tsx';
import { queryOf, useFilters } from '../shared/useFilters.ts';
import { ProductEntry } from './ProductEntry.tsx';

const PAGE = 40;

/** What the rules see of the goods: every product and variant with every fact, the category tree, tags with counts. */
export function CatalogPage() {
  const goods = useGoods();
  const [search, set] = useFilters();
  const mayImport = useMay('catalog');
  const [isImporting, setImporting] = useState(search.has('imports'));
  const query = queryOf(search, ['search', 'tag', 'category', 'stock']);
  const pages = usePages(keys.products(query), async (after) => {
    const { body } = await send<typeof listProducts>('get', `/api/products?limit=${PAGE}&${query}${after}`);
    return { ...body, items: body.products };
  });
  const error = goods.error ?? pages.error;
  if (error) return <LoadFailed error={error} retry={() => void Promise.all([goods.refetch(), pages.refetch()])} />;
  const { items: products, total } = pages;
  const isFiltered = query !== '';
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Catalog</h1>
        <span className={lists.count} role="status">
          {pages.isPending ? 'looking…' : `${total} product${total === 1 ? '' : 's'}${isFiltered ? ' found' : ''}`}
        </span>
        <FindField
          className={lists.search}
          label="Find a product"
          placeholder="Search by title or id"
          search={search}
          set={set}
        />
        <ToggleButtonGroup
          exclusive
          value={search.get('stock') ?? 'any'}
          aria-label="Stock"
          onChange={(_event, next: string | null) => {
            if (next !== null) set('stock', next === 'any' ? null : next);
          }}
        >
          <ToggleButton value="any">Any stock</ToggleButton>
          <ToggleButton value="in">In stock</ToggleButton>
          <ToggleButton value="out">Out of stock</ToggleButton>
        </ToggleButtonGroup>
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
        {goods.data ? <Vocabulary goods={goods.data} search={search} set={set} /> : <aside className={lists.aside} />}
        <section className={lists.main} aria-label="Products" aria-busy={pages.isPending}>
          {pages.isPending || !goods.data ? (
            [1, 2, 3, 4, 5, 6].map((row) => <Skeleton key={row} variant="rounded" height={54} sx={{ mb: 1 }} />)
          ) : products.length === 0 ? (
            <p className={lists.empty}>
              {isFiltered
                ? 'No products match. Remove a filter or try another word.'
                : 'There are no products yet. Import a CSV file with one row for each variant.'}
            </p>
          ) : (
            <ul className={lists.list}>
              {products.map((product) => (
                <ProductEntry
                  key={product.id}
                  product={product}
                  goods={goods.data}
                  isOpen={search.get('open') === product.id}
                  onOpen={(isOpen) => {
                    set('open', isOpen ? product.id : null);
                  }}
                  onTag={(tag) => {
                    set('tag', tag);
                  }}
                />
              ))}
            </ul>
          )}
          <MoreButton pages={pages} />
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

interface VocabularyProps {
  readonly goods: Goods;
  readonly search: URLSearchParams;
  readonly set: (name: string, value: string | null) => void;
}

/** The names that rules can speak of, each a filter. */
function Vocabulary({ goods: { vocabulary }, search, set }: VocabularyProps) {
  const filter = (name: string, value: string, label: string, count: number, depth = 0) => {
    const isOn = search.get(name) === value;
    return (
      <li key={value} style={{ paddingLeft: depth * 12 }}>
        <button
          type="button"
          aria-pressed={isOn}
          onClick={() => {
            set(name, isOn ? null : value);
          }}
        >
          <span>{label}</span>
          <span className={lists.number}>{count}</span>
        </button>
      </li>
    );
  };
  return (
    <aside className={lists.aside} aria-label="Categories and tags">
      <h2>Categories</h2>
      <ul>
        {vocabulary.categories.map(({ id, names, count }) =>
          filter('category', id, names.at(-1) ?? id, count, names.length - 1),
        )}
      </ul>
      <h2>Tags</h2>
      <ul>{vocabulary.tags.map(({ name, count }) => filter('tag', name, name, count))}</ul>
    </aside>
  );
}
