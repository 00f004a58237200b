import { Autocomplete, TextField, ToggleButton, ToggleButtonGroup } from '@mui/material';
import { STOCK_STATUSES } from '#core/decide/subject.ts';
import { STATUS } from '#core/rulebook/phrases.ts';
import { titleIn, type Goods } from '../../goods/useGoods.ts';
import styles from './editors.module.css';
import type { ValueKind } from './questions.ts';
import { AroundFields, BetweenFields, WeeklyFields, YearlyFields } from './TimeFields.tsx';

export interface ValueProps {
  /** Null while nothing is chosen. */
  readonly value: unknown;
  readonly goods: Goods;
  /** Told null when what is there is no value yet. */
  readonly onChange: (value: unknown) => void;
}

/** The fields for one kind of value. */
export function ValueEditor({ kind, ...props }: ValueProps & { readonly kind: ValueKind }) {
  switch (kind) {
    case 'none':
      return null;
    case 'between':
      return <BetweenFields {...props} />;
    case 'around':
      return <AroundFields {...props} />;
    case 'weekly':
      return <WeeklyFields {...props} />;
    case 'yearly':
      return <YearlyFields {...props} />;
    case 'statuses':
      return <StatusField {...props} />;
    case 'quantity':
      return <WholeNumber label="Units" value={props.value} onChange={props.onChange} />;
    case 'range':
      return <RangeFields {...props} />;
    default:
      return <NamesField kind={kind} {...props} />;
  }
}

interface Option {
  readonly value: string;
  readonly label: string;
  readonly count?: number;
}

/** What can be chosen, with how many goods or people have it. */
function optionsFor(
  kind: 'tags' | 'categories' | 'products' | 'roles',
  { vocabulary, products, shop }: Goods,
): Option[] {
  switch (kind) {
    case 'tags':
    case 'roles':
      return vocabulary[kind].map(({ name, count }) => ({ value: name, label: name, count }));
    case 'categories':
      return vocabulary.categories.map(({ id, names, count }) => ({ value: id, label: names.join(' › '), count }));
    case 'products':
      return products.map(({ id, title }) => ({ value: id, label: titleIn(title, shop) }));
  }
}

const FIELD_LABELS = { tags: 'Tags', categories: 'Categories', products: 'Products', roles: 'Roles' } as const;

function NamesField({ kind, value, goods, onChange }: ValueProps & { readonly kind: keyof typeof FIELD_LABELS }) {
  const options = optionsFor(kind, goods);
  const byValue = new Map(options.map((option) => [option.value, option]));
  const chosen = Array.isArray(value)
    ? value.map((name) => byValue.get(String(name)) ?? { value: String(name), label: String(name) })
    : [];
  const isFree = kind === 'tags' || kind === 'roles';
  return (
    <Autocomplete<Option, true, false, boolean>
      multiple
      freeSolo={isFree}
      openOnFocus
      disableCloseOnSelect
      options={options}
      value={chosen}
      isOptionEqualToValue={(a, b) => a.value === (typeof b === 'string' ? b : b.value)}
      getOptionLabel={(option) => (typeof option === 'string' ? option : option.label)}
      onChange={(_event, next) => {
        const names = next.map((option) => (typeof option === 'string' ? option.trim() : option.value)).filter(Boolean);
        onChange(names.length > 0 ? names : null);
      }}
      renderOption={({ key, ...props }, { label, count }) => (
        <li key={key} {...props}>
          <span className={styles.optionLabel}>{label}</span>
          {count !== undefined && <span className={styles.optionCount}>{count}</span>}
        </li>
      )}
      renderInput={(params) => <TextField {...params} label={FIELD_LABELS[kind]} autoFocus />}
      noOptionsText="Nothing in the shop has such a name"
    />
  );
}

function StatusField({ value, onChange }: ValueProps) {
  return (
    <ToggleButtonGroup
      orientation="vertical"
      value={value}
      aria-label="Stock"
      onChange={(_event, next: string[]) => {
        if (next.length > 0) onChange(next);
      }}
    >
      {STOCK_STATUSES.map((status) => (
        <ToggleButton key={status} value={status}>
          {STATUS[status]}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

interface WholeNumberProps {
  readonly label: string;
  readonly value: unknown;
  readonly onChange: (value: number | null) => void;
}

/** A whole number; what is no number is not told. */
export function WholeNumber({ label, value, onChange }: WholeNumberProps) {
  return (
    <TextField
      label={label}
      type="number"
      defaultValue={value ?? ''}
      onChange={({ target }) => {
        const number = Number(target.value);
        onChange(target.value !== '' && Number.isInteger(number) ? number : null);
      }}
      autoFocus
    />
  );
}

function RangeFields({ value, onChange }: ValueProps) {
  const [low, high] = Array.isArray(value) ? (value as number[]) : [1, 5];
  return (
    <div className={styles.pair}>
      <WholeNumber
        label="At least"
        value={low}
        onChange={(next) => {
          if (next !== null) onChange([next, high]);
        }}
      />
      <WholeNumber
        label="At most"
        value={high}
        onChange={(next) => {
          if (next !== null) onChange([low, next]);
        }}
      />
    </div>
  );
}
