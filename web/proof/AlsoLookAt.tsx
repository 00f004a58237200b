import { Autocomplete, TextField } from '@mui/material';
import { titleIn, type Goods } from '../goods/useGoods.ts';
import styles from './proof.module.css';

interface Props {
  readonly goods: Pick<Goods, 'products' | 'shop'>;
  /** Ids of products. */
  readonly pinned: readonly string[];
  readonly pin: (ids: readonly string[]) => void;
}

/** Pins products to a proof, by their names. */
export function AlsoLookAt({ goods: { products, shop }, pinned, pin }: Props) {
  return (
    <Autocomplete
      multiple
      className={styles.pin}
      options={products.map(({ id }) => id)}
      getOptionLabel={(id) => titleIn(products.find((product) => product.id === id)?.title ?? id, shop)}
      value={[...pinned]}
      onChange={(_event, ids) => {
        pin(ids);
      }}
      renderInput={(params) => (
        <TextField {...params} label="Also look at" placeholder={pinned.length === 0 ? 'a product by name' : ''} />
      )}
    />
  );
}
