import { Button, Checkbox, TextField } from '@mui/material';
import { useState } from 'react';
import type { Product } from '#core/contract/shopCalls.ts';
import { Allowed } from '../session/Allowed.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './product.module.css';
import { useProductActs, type StockChange } from './useProduct.ts';

const stockOf = ({ id, stock }: Product['variants'][number]): StockChange => ({ variantId: id, ...stock });

/** The stock of each variant, changed by hand. */
export function ProductStock({ product }: { readonly product: Product }) {
  const before = product.variants.map(stockOf);
  const [rows, setRows] = useState<readonly StockChange[]>(before);
  const { saveStock } = useProductActs(product.id);
  const changed = rows.filter((row, index) => JSON.stringify(row) !== JSON.stringify(before[index]));
  const set = (index: number, change: Partial<StockChange>) => {
    setRows(rows.map((row, place) => (place === index ? { ...row, ...change } : row)));
  };
  return (
    <section aria-labelledby="stock-heading">
      <h2 id="stock-heading">Stock</h2>
      <Allowed permission="catalog">
        <form
          onSubmit={(event) => {
            event.preventDefault();
            saveStock.mutate(changed);
          }}
        >
          <table className={styles.stock}>
            <thead>
              <tr>
                <th scope="col">Variant</th>
                <th scope="col">In stock</th>
                <th scope="col">Tracked</th>
                <th scope="col">Oversold allowed</th>
              </tr>
            </thead>
            <tbody>
              {product.variants.map(({ id, title }, index) => {
                const row = rows[index];
                const name = title || 'the only one';
                return (
                  row && (
                    <tr key={id}>
                      <th scope="row">
                        {title || 'The only one'} <code>{id}</code>
                      </th>
                      <td>
                        <TextField
                          type="number"
                          size="small"
                          value={row.quantity}
                          disabled={!row.tracked}
                          slotProps={{ htmlInput: { 'aria-label': `In stock of ${name}`, step: 1 } }}
                          sx={{ width: 96 }}
                          onChange={({ target }) => {
                            set(index, { quantity: Math.trunc(Number(target.value)) });
                          }}
                        />
                      </td>
                      <td>
                        <Checkbox
                          size="small"
                          checked={row.tracked}
                          slotProps={{ input: { 'aria-label': `Stock of ${name} is tracked` } }}
                          onChange={({ target }) => {
                            set(index, { tracked: target.checked });
                          }}
                        />
                      </td>
                      <td>
                        <Checkbox
                          size="small"
                          checked={row.sellPastZero}
                          disabled={!row.tracked}
                          slotProps={{ input: { 'aria-label': `${name} may be oversold` } }}
                          onChange={({ target }) => {
                            set(index, { sellPastZero: target.checked });
                          }}
                        />
                      </td>
                    </tr>
                  )
                );
              })}
            </tbody>
          </table>
          {saveStock.error && <ErrorNote error={saveStock.error} />}
          {changed.length > 0 && (
            <div className={styles.acts}>
              <Button type="submit" variant="contained" loading={saveStock.isPending}>
                Save stock
              </Button>
              <Button
                onClick={() => {
                  setRows(before);
                }}
              >
                Discard
              </Button>
            </div>
          )}
        </form>
      </Allowed>
    </section>
  );
}
