import { Autocomplete, TextField } from '@mui/material';
import { useState } from 'react';
import type { Outcome, Place, Price } from '#core/rulebook/outcome.ts';
import { PLACE } from '#core/rulebook/outcomeSentence.ts';
import type { Goods } from '../../goods/useGoods.ts';
import { Choose } from './Choose.tsx';
import styles from './editors.module.css';
import { HrefField } from './HrefField.tsx';
import { Kinds } from './Kinds.tsx';
import { LocalisedFields } from './LocalisedFields.tsx';
import { PriceField, WholeNumber } from './NumberFields.tsx';

/** One aspect, or one note, being changed. */
export interface AspectProps<T> {
  readonly value: T | undefined;
  readonly goods: Goods;
  readonly onChange: (value: T) => void;
}

/** The entries that are there. */
function given<T extends object>(entries: T): T {
  return Object.fromEntries(Object.entries(entries).filter(([, value]) => value !== undefined && value !== null)) as T;
}

export function ExpressFields({ value, onChange }: AspectProps<'show' | 'hide'>) {
  return (
    <>
      <Kinds
        label="Express pay"
        kinds={[
          { value: 'hide', label: 'Hidden' },
          { value: 'show', label: 'Shown' },
        ]}
        chosen={value}
        autoFocus
        onChoose={onChange}
      />
      <p className={styles.hint}>
        Unless a rule says otherwise, it is there only where the button is a plain purchase.
      </p>
    </>
  );
}

type PriceWay = 'show' | 'hide' | 'percent' | 'amount' | 'fixed';
const PRICE_WAYS: Record<PriceWay, string> = {
  show: 'is shown',
  hide: 'is hidden, or a text stands there',
  percent: 'goes up or down by per cent',
  amount: 'goes up or down by an amount',
  fixed: 'is a price of its own',
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
          label="In its place, say"
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
        label="What it cost before"
        words={{ yes: 'is shown where it was more', no: 'is not shown' }}
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
  const tell = (next: number | null, side: 'off' | 'on') => {
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
          words={{ off: 'taken off', on: 'added' }}
          value={direction}
          onChange={(side) => {
            tell(amount, side);
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
            tell(target.value !== '' && percent >= 0 && percent <= 1_000_000 ? percent : null, direction);
          }}
        />
      ) : (
        <PriceField
          label={way === 'fixed' ? 'Price' : 'Amount'}
          value={amount}
          goods={goods}
          onChange={(next) => {
            tell(typeof next === 'number' ? next : null, direction);
          }}
        />
      )}
    </>
  );
}

export type Note = NonNullable<Outcome['notes']>[number];

/** A note: where it stands and what it says, as shoppers will read it. */
export function NoteFields({ value, goods, onChange }: AspectProps<Note>) {
  const [note, setNote] = useState<Partial<Note> & { place: Place }>(value ?? { place: 'belowControl' });
  const set = (next: typeof note) => {
    setNote(next);
    const { place, text } = next;
    if (text !== undefined) onChange({ place, text });
  };
  return (
    <>
      <Choose
        label="It stands"
        words={PLACE}
        value={note.place}
        onChange={(place) => {
          set({ ...note, place });
        }}
      />
      <LocalisedFields
        label="It says"
        text={note.text}
        locales={goods.shop.locales}
        multiline
        autoFocus
        preview
        onChange={(text) => {
          if (text !== undefined) set({ ...note, text });
        }}
      />
      <p className={styles.hint}>
        **bold**, *italics*, [a link](/terms), and {'{product.date.ships}'} or {'{product.title}'}.
      </p>
    </>
  );
}

export type Limits = NonNullable<Outcome['limits']>;

export function LimitsFields({ value, onChange }: AspectProps<Limits>) {
  const [limits, setLimits] = useState<{ [K in keyof Limits]: number | null | undefined }>(value ?? {});
  const { min, max } = limits;
  const isInverted = typeof min === 'number' && typeof max === 'number' && min > max;
  const set = (next: typeof limits) => {
    setLimits(next);
    const said = given(next) as Limits;
    if (Object.keys(said).length > 0 && (said.min ?? 1) <= (said.max ?? Infinity)) onChange(said);
  };
  return (
    <>
      <div className={styles.three}>
        {(['min', 'max', 'step'] as const).map((name, index) => (
          <WholeNumber
            key={name}
            label={{ min: 'At least', max: 'At most', step: 'In steps of' }[name]}
            value={limits[name]}
            min={1}
            autoFocus={index === 0}
            onChange={(count) => {
              set({ ...limits, [name]: count });
            }}
          />
        ))}
      </div>
      <p className={styles.hint} role={isInverted ? 'alert' : undefined}>
        {isInverted ? 'The least is more than the most.' : 'How many of a variant one order may hold.'}
      </p>
    </>
  );
}

export type Visibility = NonNullable<Outcome['visibility']>;

const STATES: Record<Visibility['state'], string> = {
  shown: 'is shown everywhere',
  offListings: 'stays off listings',
  blocked: 'has no page: it leads elsewhere',
};

export function VisibilityFields({ value, onChange }: AspectProps<Visibility>) {
  const visibility = value ?? { state: 'shown' as const };
  return (
    <>
      <Choose
        label="The product"
        words={STATES}
        value={visibility.state}
        onChange={(state) => {
          onChange(state === 'blocked' ? { ...visibility, state } : { state });
        }}
      />
      {visibility.state === 'blocked' && (
        <HrefField
          href={visibility.redirectTo}
          may="page"
          onChange={(redirectTo) => {
            onChange(given({ ...visibility, redirectTo }));
          }}
        />
      )}
    </>
  );
}

export type AfterOrder = NonNullable<Outcome['afterOrder']>;

export function AfterOrderFields({ value, goods, onChange }: AspectProps<AfterOrder>) {
  return (
    <LocalisedFields
      label="After the order, say"
      text={value?.text}
      locales={goods.shop.locales}
      multiline
      autoFocus
      preview
      onChange={(text) => {
        if (text !== undefined) onChange({ text });
      }}
    />
  );
}

const NONE: string[] = [];
const CLASS_NAME = /^-?[_a-zA-Z][\w-]*$/;

export function StyleFields({ value, onChange }: AspectProps<string[]>) {
  const [refused, setRefused] = useState<string>();
  return (
    <Autocomplete
      multiple
      freeSolo
      options={[]}
      value={value ?? NONE}
      onChange={(_event, names) => {
        const wrong = names.find((name) => !CLASS_NAME.test(name.trim()));
        setRefused(wrong);
        if (wrong === undefined && names.length > 0) onChange([...new Set(names.map((name) => name.trim()))]);
      }}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Class names"
          autoFocus
          error={refused !== undefined}
          helperText={
            refused === undefined
              ? 'The shop’s own style sheet says what they look like'
              : `“${refused}” is no class name: letters, digits, - and _ only`
          }
        />
      )}
    />
  );
}

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
    const said = given(next);
    setCheckout(said);
    const { open, submitOrder, hideMethods } = said;
    if (open !== undefined || submitOrder !== undefined || hideMethods !== undefined) onChange(said);
  };
  const { open, submitOrder, hideMethods } = checkout;
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
          label="In its place, say"
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
        freeSolo
        options={[]}
        value={hideMethods ?? NONE}
        onChange={(_event, codes) => {
          const { hideMethods: _before, ...rest } = checkout;
          set(codes.length > 0 ? { ...rest, hideMethods: codes } : rest);
        }}
        renderInput={(params) => (
          <TextField {...params} label="Hidden payment methods" helperText="Their codes in the shop" />
        )}
      />
    </>
  );
}
