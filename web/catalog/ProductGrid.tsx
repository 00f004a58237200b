import { DataGrid, type GridRowSelectionModel, type GridSortModel } from '@mui/x-data-grid';
import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import { useDraft } from '../draft/useDraft.ts';
import { compiledFor } from '../goods/compiledFor.ts';
import type { Goods } from '../goods/useGoods.ts';
import { useMoment, withMoment } from '../shared/useMoment.ts';
import { STYLE_NONCE } from '../theme/nonce.ts';
import styles from './catalog.module.css';
import type { AddressProps } from './filter.ts';
import { columnsChosen, columnsOf } from './productColumns.tsx';
import type { Asked, FoundProducts } from './useFoundProducts.ts';

interface ProductGridProps extends AddressProps {
  readonly found: FoundProducts;
  /** Whether the rows are from the previous query. */
  readonly isLooking: boolean;
  readonly asked: Asked;
  readonly goods: Goods;
  readonly chosen: GridRowSelectionModel;
  readonly choose: (chosen: GridRowSelectionModel) => void;
}

/** The products that fit, a page at a time; the server finds and sorts them. */
export function ProductGrid({ found, isLooking, asked, goods, search, change, chosen, choose }: ProductGridProps) {
  const { rulebook } = useDraft();
  const navigate = useNavigate();
  const { shop } = goods;
  const { moment } = useMoment(shop.zone);
  const compiled = useMemo(() => rulebook && compiledFor(rulebook, goods), [rulebook, goods]);
  const columns = useMemo(
    () => columnsOf(goods, compiled ? { rulebook: compiled, moment } : null),
    [goods, compiled, moment],
  );
  const shown = columnsChosen(search, columns);
  const { sort, descending, page, size } = asked;
  return (
    <div className={styles.grid}>
      <DataGrid
        aria-label="Products"
        nonce={STYLE_NONCE}
        rows={found.products}
        columns={columns}
        columnVisibilityModel={Object.fromEntries(columns.map(({ field }) => [field, shown.has(field)]))}
        loading={isLooking}
        rowHeight={46}
        columnHeaderHeight={36}
        disableColumnMenu
        disableColumnFilter
        disableColumnSelector
        disableRowSelectionOnClick
        hideFooterSelectedRowCount
        checkboxSelection
        keepNonExistentRowsSelected
        rowSelectionModel={chosen}
        onRowSelectionModelChange={(next) => {
          // The box on top is of this page; all that are found are chosen beside it.
          const isOfPage = chosen.type === 'include' && next.type === 'exclude';
          const ids = found.products.map(({ id }) => id);
          choose(isOfPage ? { type: 'include', ids: new Set([...chosen.ids, ...ids]) } : next);
        }}
        sortingMode="server"
        sortingOrder={['asc', 'desc']}
        sortModel={[{ field: sort, sort: descending ? 'desc' : 'asc' }]}
        onSortModelChange={([next]: GridSortModel) => {
          change({ sort: next ? `${next.sort === 'desc' ? '-' : ''}${next.field}` : null, page: null });
        }}
        paginationMode="server"
        rowCount={found.total}
        pageSizeOptions={[size]}
        paginationModel={{ page, pageSize: size }}
        onPaginationModelChange={(next) => {
          if (next.page !== page) change({ page: next.page === 0 ? null : String(next.page + 1) });
        }}
        onCellKeyDown={({ id, field }, event) => {
          if (event.key === 'Enter' && field !== '__check__')
            void navigate(withMoment(`/catalog/${encodeURIComponent(id)}`, search));
        }}
        localeText={{ noRowsLabel: 'No products match. Remove a filter or try another word.' }}
      />
    </div>
  );
}
