import { TextField } from '@mui/material';
import { useState } from 'react';
import type { Price } from '#core/aspects/price.ts';
import { given, type AspectProps } from './aspect.ts';
import { Choose } from '../../shared/Choose.tsx';
import { LocalisedFields } from '../../shared/LocalisedFields.tsx';
import { PriceField } from '../fields/NumberFields.tsx';

type PriceWay = 'show' | 'hide' | 'percent' | 'amount' | 'fixed';
const PRICE_WAYS: Record<PriceWay, string> = {
  show: 'is shown',
  hide: 'is hidden, or replaced by a text',
  percent: 'is changed by a percentage',
  amount: 'is changed by an amount',
  fixed: 'is a fixed price',
};

const wayOf = (price: Price | undefined): PriceWay => {
  if (price && 'adjust' in price) {
    return 'percent' in price.adjust ? 'percent' : 'amount' in price.adjust ? 'amount' : 'fixed';
  }
  return price && !price.show ? 'hide' : 'show';
};

export function PriceFields({ value, goods, onChange }: AspectProps<Price>) {
  const [way, setWay] = useState(wayOf(value));
  return (
    <>
      <Choose
        label="The price"
        words={PRICE_WAYS}
        value={way}
        onChange={(next) => {
          setWay(next);
          if (next === 'show') onChange({ show: true });
          if (next === 'hide') onChange({ show: false });
        }}
      />
      {way === 'show' && (
        <ShownPriceFields
          value={value && 'show' in value && value.show ? value : { show: true }}
          goods={goods}
          onChange={onChange}
        />
      )}
      {way === 'hide' && (
        <LocalisedFields
          label="Show instead"
          text={value && 'show' in value && !value.show ? value.text : undefined}
          locales={goods.shop.locales}
          preview
          onChange={(text) => {
            onChange(text === undefined ? { show: false } : { show: false, text });
          }}
        />
      )}
      {(way === 'percent' || way === 'amount' || way === 'fixed') && (
        <AdjustFields key={way} way={way} value={value} goods={goods} onChange={onChange} />
      )}
    </>
  );
}

type Shown = Extract<Price, { show: true }>;

function ShownPriceFields({ value, goods, onChange }: AspectProps<Shown>) {
  const shown: Shown = value ?? { show: true };
  const { locales } = goods.shop;
  return (
    <>
      <LocalisedFields
        label="Followed by"
        text={shown.suffix}
        locales={locales}
        onChange={(suffix) => {
          onChange(given({ ...shown, suffix }));
        }}
      />
      <LocalisedFields
        label="On listings, followed by"
        text={shown.onListing?.suffix}
        locales={locales}
        onChange={(suffix) => {
          onChange(given({ ...shown, onListing: suffix === undefined ? undefined : { suffix } }));
        }}
      />
      <Choose
        label="The former price"
        words={{ yes: 'is shown if it was higher', no: 'is not shown' }}
        value={shown.showWas === false ? 'no' : 'yes'}
        onChange={(choice) => {
          onChange(given({ ...shown, showWas: choice === 'no' ? false : undefined }));
        }}
      />
    </>
  );
}

interface AdjustProps extends AspectProps<Price> {
  readonly way: 'percent' | 'amount' | 'fixed';
}

function AdjustFields({ way, value, goods, onChange }: AdjustProps) {
  const before = value && 'adjust' in value ? Object.entries(value.adjust)[0]! : undefined;
  const size = before?.[0] === way ? before[1] : null;
  const [direction, setDirection] = useState<'off' | 'on'>(size !== null && size > 0 ? 'on' : 'off');
  const [amount, setAmount] = useState<number | null>(size === null ? null : Math.abs(size));
  const update = (next: number | null, side: 'off' | 'on') => {
    setAmount(next);
    setDirection(side);
    if (next === null) return;
    const signed = side === 'off' && next !== 0 ? -next : next;
    onChange({
      adjust: way === 'percent' ? { percent: signed } : way === 'amount' ? { amount: signed } : { fixed: next },
    });
  };
  return (
    <>
      {way !== 'fixed' && (
        <Choose
          label="Which way"
          words={{ off: 'subtracted', on: 'added' }}
          value={direction}
          onChange={(side) => {
            update(amount, side);
          }}
        />
      )}
      {way === 'percent' ? (
        <TextField
          label="Per cent"
          type="number"
          defaultValue={amount ?? ''}
          autoFocus
          slotProps={{ htmlInput: { min: 0, step: 'any' } }}
          onChange={({ target }) => {
            const percent = Math.round(Number(target.value) * 1e4) / 1e4;
            update(target.value !== '' && percent >= 0 && percent <= 1_000_000 ? percent : null, direction);
          }}
        />
      ) : (
        <PriceField
          label={way === 'fixed' ? 'Price' : 'Amount'}
          value={amount}
          goods={goods}
          onChange={(next) => {
            update(typeof next === 'number' ? next : null, direction);
          }}
        />
      )}
    </>
  );
}
