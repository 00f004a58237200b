import { Button, IconButton, MenuItem, TextField, Tooltip } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import type { Product } from '#core/contract/shopCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useGoods } from '../goods/useGoods.ts';
import { useSeller } from '../goods/whose.ts';
import work from '../shared/worklist.module.css';
import { lineOf } from './AddVariant.tsx';
import { editedLine, faultOf, formTotal, lineTotal, type PricingForm } from './pricing.ts';
import { FormText } from '../shared/FormText.tsx';

/** Lines of a quote as a table of fields, within a form (`PricingForm`). */
export function EditedLines({ shop }: { readonly shop: ShopFacts }) {
  const { control } = useFormContext<PricingForm>();
  const [lines, delivery] = useWatch({ control, name: ['lines', 'delivery'] });
  const total = formTotal({ lines, delivery }, shop);
  return (
    <table className={`${work.table} ${work.fields}`}>
      <thead>
        <tr>
          <th scope="col">Product</th>
          <th scope="col" className={work.number}>
            Stock
          </th>
          <th scope="col" className={work.number}>
            Today
          </th>
          <th scope="col">Units</th>
          <th scope="col">Your price</th>
          <th scope="col" className={work.number}>
            Total
          </th>
          <td />
        </tr>
      </thead>
      <tbody>
        {lines.map(({ variant, isRemoved }, index) =>
          isRemoved ? (
            <RemovedLine key={variant} index={index} />
          ) : (
            <EditedLineRow key={variant} index={index} shop={shop} />
          ),
        )}
        <tr>
          <th scope="row" colSpan={5}>
            Total{delivery.trim() === '' ? '' : ', delivery included'}
          </th>
          <td className={work.number}>
            <b>{total === null ? '–' : formatPrice(total, shop, 'en')}</b>
          </td>
          <td />
        </tr>
      </tbody>
    </table>
  );
}

interface RowProps {
  /** Place of the line in the form. */
  readonly index: number;
}

function RemovedLine({ index }: RowProps) {
  const { control, setValue } = useFormContext<PricingForm>();
  const { title, note } = useWatch({ control, name: `lines.${index}` });
  return (
    <tr className={work.removed}>
      <th scope="row" colSpan={6}>
        <s>{title}</s>
        <small>{note}</small>
      </th>
      <td>
        <Button
          size="small"
          aria-label={`Restore ${title}`}
          onClick={() => {
            setValue(`lines.${index}.isRemoved`, false, { shouldDirty: true });
          }}
        >
          Restore
        </Button>
      </td>
    </tr>
  );
}

function EditedLineRow({ index, shop }: RowProps & { readonly shop: ShopFacts }) {
  const { control, setValue, clearErrors } = useFormContext<PricingForm>();
  const line = useWatch({ control, name: `lines.${index}` });
  const { title, note, stock, today } = line;
  const total = lineTotal(line, shop);
  return (
    <tr>
      <th scope="row">
        {title}
        <small>{note}</small>
        <SizeField index={index} shop={shop} />
      </th>
      <td className={work.number}>{stock ?? 'untracked'}</td>
      <td className={work.number}>{formatPrice(today, shop, 'en')}</td>
      <td>
        <FormText
          name={`lines.${index}.units`}
          type="number"
          slotProps={{ htmlInput: { min: 1, step: 1, 'aria-label': `Units of ${title}` } }}
          sx={{ width: 88 }}
          control={control}
          rules={{ validate: faultOf.units }}
        />
      </td>
      <td>
        <FormText
          name={`lines.${index}.price`}
          type="number"
          slotProps={{ htmlInput: { min: 0, step: 10 ** -shop.exponent, 'aria-label': `Price of ${title}` } }}
          sx={{ width: 96 }}
          control={control}
          rules={{ validate: (text) => faultOf.price(text, shop) }}
        />
      </td>
      <td className={work.number}>{total === null ? '–' : formatPrice(total, shop, 'en')}</td>
      <td>
        <Tooltip title="Remove">
          <IconButton
            size="small"
            aria-label={`Remove ${title}`}
            onClick={() => {
              clearErrors(`lines.${index}`);
              setValue(`lines.${index}.isRemoved`, true, { shouldDirty: true });
            }}
          >
            <X size={15} aria-hidden />
          </IconButton>
        </Tooltip>
      </td>
    </tr>
  );
}

/** Reads one product; undefined while it is being read. */
function useProduct(id: string, isWanted: boolean): Product | undefined {
  const isSeller = useSeller() !== null;
  const own = useGoods({ isWanted: isSeller && isWanted }).data?.products;
  const found = useQuery({
    queryKey: keys.products(`sizes of ${id}`),
    queryFn: async () => {
      const where = { fact: 'product.id', op: 'in', value: [id] } as const;
      const { body } = await send('POST /api/products/find', { body: { where, limit: 1 } });
      return 'products' in body ? (body.products[0] ?? null) : null;
    },
    enabled: isWanted && !isSeller,
  });
  return isSeller ? own?.find((one) => one.id === id) : (found.data ?? undefined);
}

/** Replaces a line by another size of its product, at that size's price. */
function SizeField({ index, shop }: RowProps & { readonly shop: ShopFacts }) {
  const { control, setValue } = useFormContext<PricingForm>();
  const lines = useWatch({ control, name: 'lines' });
  const line = lines[index];
  const [isOpen, setOpen] = useState(false);
  const product = useProduct(line?.product ?? '', isOpen);
  if (!line) return null;
  const taken = new Set(lines.flatMap(({ variant }, other) => (other === index ? [] : variant)));
  const sizes = product?.variants.filter(({ id }) => !taken.has(id)) ?? [];
  return (
    <TextField
      select
      variant="standard"
      value=""
      slotProps={{
        select: {
          open: isOpen,
          onOpen: () => {
            setOpen(true);
          },
          onClose: () => {
            setOpen(false);
          },
          displayEmpty: true,
          disableUnderline: true,
          renderValue: () => 'Change the size',
          SelectDisplayProps: { 'aria-label': `Size of ${line.title}` },
        },
      }}
      sx={{ '& .MuiSelect-select': { font: '500 12.5px/1.4 var(--font-interface)', color: 'var(--ink-soft)' } }}
      onChange={({ target }) => {
        const size = sizes.find(({ id }) => id === target.value);
        if (!product || !size) return;
        const { units, note } = line;
        setValue(
          `lines.${index}`,
          { ...editedLine({ ...lineOf(product, size, shop), note }, shop), units },
          { shouldDirty: true, shouldValidate: true },
        );
      }}
    >
      {product === undefined && <MenuItem disabled>Looking…</MenuItem>}
      {sizes.map(({ id, title }) => (
        <MenuItem key={id} value={id} selected={id === line.variant}>
          {title || id}
        </MenuItem>
      ))}
    </TextField>
  );
}
