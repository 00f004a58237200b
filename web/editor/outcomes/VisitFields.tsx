import { Autocomplete, TextField } from '@mui/material';
import { useState } from 'react';
import type { Outcome } from '#core/aspects/outcome.ts';
import { given, NONE, type AspectProps } from './aspect.ts';
import { Choose } from '../../shared/Choose.tsx';
import styles from '../fields/fields.module.css';
import { HrefField } from './HrefField.tsx';
import { Kinds } from '../fields/Kinds.tsx';
import { LocalisedFields } from '../../shared/LocalisedFields.tsx';
import { closesAtOnce, InPlace, SUGGESTIONS } from '../fields/suggestions.tsx';

export type Cart = NonNullable<Outcome['cart']>;
const OPEN = { closed: 'is closed', open: 'stays open' } as const;

export function CartFields({ value, onChange }: AspectProps<Cart>) {
  const isClosed = value?.open === false;
  return (
    <>
      <Kinds
        label="The cart"
        kinds={[
          { value: 'closed', label: 'Closed' },
          { value: 'open', label: 'Open' },
        ]}
        chosen={value && (value.open ? 'open' : 'closed')}
        autoFocus
        onChoose={(choice) => {
          onChange({ open: choice === 'open' });
        }}
      />
      {isClosed && (
        <HrefField
          href={value.redirectTo}
          may="page"
          label="Its page leads to"
          onChange={(redirectTo) => {
            onChange(given({ open: false, redirectTo }));
          }}
        />
      )}
      <p className={styles.hint}>
        Closed, its page leads elsewhere, links to it are hidden, and the shop’s server refuses every line.
      </p>
    </>
  );
}

export type Checkout = NonNullable<Outcome['checkout']>;

export function CheckoutFields({ value, goods, onChange }: AspectProps<Checkout>) {
  const [checkout, setCheckout] = useState<Checkout>(value ?? {});
  const set = (next: Checkout) => {
    const visit = given(next);
    setCheckout(visit);
    const { open, submitOrder, hideMethods } = visit;
    const isSet = open !== undefined || submitOrder !== undefined || hideMethods !== undefined;
    onChange(isSet ? visit : undefined);
  };
  const { open, submitOrder, hideMethods } = checkout;
  const methods = goods.vocabulary.paymentMethods;
  const nameOf = (code: string) => methods.find((method) => method.code === code)?.name ?? code;
  return (
    <>
      <Choose
        label="The checkout"
        words={{ unsaid: 'is left as it is', ...OPEN }}
        value={open === undefined ? 'unsaid' : open ? 'open' : 'closed'}
        onChange={(way) => {
          const { open: _open, redirectTo, ...rest } = checkout;
          if (way === 'unsaid') set(rest);
          else set({ ...rest, open: way === 'open', ...(way === 'closed' && redirectTo ? { redirectTo } : {}) });
        }}
      />
      {open === false && (
        <HrefField
          href={checkout.redirectTo}
          may="page"
          label="Its page leads to"
          onChange={(redirectTo) => {
            set({ ...checkout, redirectTo });
          }}
        />
      )}
      <Choose
        label="The order button"
        words={{ unsaid: 'is left as it is', hide: 'is hidden', show: 'is shown' }}
        value={submitOrder === undefined ? 'unsaid' : submitOrder.show ? 'show' : 'hide'}
        onChange={(way) => {
          const { submitOrder: before, ...rest } = checkout;
          set(way === 'unsaid' ? rest : { ...rest, submitOrder: { ...before, show: way === 'show' } });
        }}
      />
      {submitOrder?.show === false && (
        <LocalisedFields
          label="Show instead"
          text={submitOrder.text}
          locales={goods.shop.locales}
          preview
          onChange={(text) => {
            set({ ...checkout, submitOrder: given({ show: false, text }) });
          }}
        />
      )}
      <Autocomplete
        multiple
        freeSolo={methods.length === 0}
        options={methods.map(({ code }) => code)}
        getOptionLabel={nameOf}
        open
        slots={{ popper: InPlace }}
        slotProps={{ listbox: SUGGESTIONS }}
        onKeyDown={closesAtOnce}
        value={hideMethods ?? NONE}
        onChange={(_event, codes) => {
          const { hideMethods: _before, ...rest } = checkout;
          set(codes.length > 0 ? { ...rest, hideMethods: codes } : rest);
        }}
        renderInput={(params) => (
          <TextField
            {...params}
            label="Hidden payment methods"
            helperText={
              methods.length > 0
                ? 'As the picker found them at the checkout, or as they are named in Settings'
                : 'Their codes in the shop; press one with the picker at the checkout, and they are chosen from a list'
            }
          />
        )}
      />
    </>
  );
}
