import { Button, MenuItem, TextField } from '@mui/material';
import { useState } from 'react';
import { keptAudience, type Goods } from '../goods/useGoods.ts';
import { useMoment } from '../shared/useMoment.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './rehearsal.module.css';
import { usePreview } from './useRehearsal.ts';

/** Opens the shop itself by the draft, as an audience, at the moment that is looked at. */
export function ShopPreview({ goods: { shop, audiences } }: { readonly goods: Goods }) {
  const { moment, isNow } = useMoment(shop.zone);
  const [name, setName] = useState(audiences[0]?.name ?? '');
  const preview = usePreview();
  const audience = audiences.find((one) => one.name === name);
  return (
    <div className={styles.preview}>
      <TextField
        select
        size="small"
        label="See the shop as"
        value={name}
        onChange={({ target }) => {
          setName(target.value);
        }}
      >
        {audiences.map((one) => (
          <MenuItem key={one.name} value={one.name}>
            {one.name}
          </MenuItem>
        ))}
      </TextField>
      <Button
        variant="outlined"
        disabled={!audience}
        loading={preview.isPending}
        onClick={() => {
          if (!audience) return;
          preview.mutate({
            source: 'draft',
            audience: keptAudience(audience),
            at: isNow ? null : new Date(moment).toISOString(),
            page: '/',
          });
        }}
      >
        Open the preview
      </Button>
      {preview.error && <ErrorNote error={preview.error} />}
    </div>
  );
}
