import { Button, Checkbox, Menu, MenuItem } from '@mui/material';
import { Columns3 } from 'lucide-react';
import { useState } from 'react';
import type { Goods } from '../goods/useGoods.ts';
import type { AddressProps } from './filter.ts';
import { columnsChosen, columnsOf } from './productColumns.tsx';

/** Chooses the list's columns, which are kept in the address. */
export function ColumnChoice({ goods, search, change }: AddressProps & { readonly goods: Goods }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const all = columnsOf(goods);
  const chosen = columnsChosen(search, all);
  return (
    <>
      <Button
        variant="outlined"
        aria-haspopup="menu"
        startIcon={<Columns3 size={15} aria-hidden />}
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        Columns
      </Button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
      >
        {all.map(({ field, headerName }) => (
          <MenuItem
            key={field}
            dense
            role="menuitemcheckbox"
            aria-checked={chosen.has(field)}
            onClick={() => {
              const next = all.map((column) => column.field).filter((one) => chosen.has(one) !== (one === field));
              change({ columns: next.join(',') });
            }}
          >
            <Checkbox size="small" checked={chosen.has(field)} tabIndex={-1} disableRipple inert />
            {headerName}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
