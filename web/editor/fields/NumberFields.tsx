import { TextField } from '@mui/material';
import { useState } from 'react';
import { parsePrice } from '#core/texts/prices.ts';
import styles from './fields.module.css';
import type { ValueProps } from './valueProps.ts';

interface WholeNumberProps {
  readonly label: string;
  readonly value: unknown;
  readonly min?: number;
  readonly autoFocus?: boolean;
  readonly onChange: (value: number | null) => void;
}

/** A whole number; other input is not reported. */
export function WholeNumber({ label, value, min, autoFocus = true, onChange }: WholeNumberProps) {
  return (
    <TextField
      label={label}
      type="number"
      defaultValue={value ?? ''}
      onChange={({ target }) => {
        const number = Number(target.value);
        const isRight = target.value !== '' && Number.isSafeInteger(number) && number >= (min ?? -Infinity);
        onChange(isRight ? number : null);
      }}
      slotProps={min === undefined ? {} : { htmlInput: { min } }}
      autoFocus={autoFocus}
    />
  );
}

export function RangeFields({ unit, value, onChange }: ValueProps & { readonly unit: string }) {
  const [low, high] = Array.isArray(value) ? (value as number[]) : [1, 5];
  return (
    <div className={styles.pair}>
      <WholeNumber
        label={`${unit}, at least`}
        value={low}
        onChange={(next) => {
          if (next !== null) onChange([next, high]);
        }}
      />
      <WholeNumber
        label={`${unit}, at most`}
        value={high}
        onChange={(next) => {
          if (next !== null) onChange([low, next]);
        }}
      />
    </div>
  );
}

/** A price as a decimal; other input is not reported. */
export function PriceField({ label, value, goods, onChange }: ValueProps & { readonly label: string }) {
  const { exponent, currency } = goods.shop;
  const [text, setText] = useState(typeof value === 'number' ? (value / 10 ** exponent).toFixed(exponent) : '');
  const isPrice = parsePrice(text, exponent) !== null;
  return (
    <TextField
      label={`${label}, ${currency}`}
      value={text}
      error={text !== '' && !isPrice}
      helperText={text === '' || isPrice ? undefined : `A decimal such as ${(14.5).toFixed(exponent)}`}
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      onChange={({ target }) => {
        setText(target.value);
        onChange(parsePrice(target.value.trim(), exponent));
      }}
      autoFocus
    />
  );
}

export function PriceRangeFields({ value, goods, onChange }: ValueProps) {
  const [range, setRange] = useState<[unknown, unknown]>(Array.isArray(value) ? [value[0], value[1]] : [null, null]);
  const set = (next: [unknown, unknown]) => {
    setRange(next);
    onChange(next.every((end) => typeof end === 'number') ? next : null);
  };
  return (
    <div className={styles.pair}>
      <PriceField
        label="From"
        value={range[0]}
        goods={goods}
        onChange={(low) => {
          set([low, range[1]]);
        }}
      />
      <PriceField
        label="To"
        value={range[1]}
        goods={goods}
        onChange={(high) => {
          set([range[0], high]);
        }}
      />
    </div>
  );
}
