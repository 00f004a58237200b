import { Autocomplete, createFilterOptions, TextField } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { closest, distance } from 'fastest-levenshtein';
import { useMemo, useState } from 'react';
import type { Person, Vocabulary } from '#core/contract/shopCalls.ts';
import { NAME_COLUMNS, PRODUCT_COLUMNS, type NameColumn } from '#core/model/productColumns.ts';
import { send } from '../../api/client.ts';
import { keys } from '../../api/keys.ts';
import { Picture } from '../../goods/Picture.tsx';
import { namesFrom, titleIn, type Goods } from '../../goods/useGoods.ts';
import styles from '../fields/fields.module.css';
import { closesAtOnce, InPlace, SUGGESTIONS } from '../fields/suggestions.tsx';
import type { ValueProps } from '../fields/valueProps.ts';

interface Option {
  readonly value: string;
  readonly label: string;
  readonly count?: number;
  readonly image?: string | null;
  /** Whether nothing has it yet. */
  readonly isNew?: true;
}

const matching = createFilterOptions<Option>({ trim: true, stringify: ({ label, value }) => `${label} ${value}` });

/** Options that match the typed words, the likeliest first so that Enter takes it, and the words themselves if new names are allowed. */
function suggested(
  options: Option[],
  state: Parameters<typeof matching>[1],
  { isFree, isFiltered }: { readonly isFree: boolean; readonly isFiltered: boolean },
): Option[] {
  const typed = state.inputValue.trim();
  if (typed === '') return options;
  const rank = ({ label }: Option) => {
    const name = folded(label);
    return name === folded(typed) ? 0 : name.startsWith(folded(typed)) ? 1 : 2;
  };
  const found = isFiltered ? options : matching(options, state).sort((a, b) => rank(a) - rank(b));
  const isKnownName = options.some(
    ({ value, label }) => folded(value) === folded(typed) || folded(label) === folded(typed),
  );
  return isFree && !isKnownName ? [...found, { value: typed, label: typed, isNew: true }] : found;
}

type NamesKind = 'tags' | 'roles' | `${NameColumn}s`;
type Listing = Exclude<keyof typeof FIELD_LABELS, NamesKind>;

/** Options with the number of products or people that have them. */
const optionsFor = (kind: keyof typeof FIELD_LABELS, goods: Goods, people: readonly Person[]): Option[] =>
  kind in LISTED ? LISTED[kind as Listing](goods, people) : countedNames(goods.vocabulary[kind as NamesKind]);

const countedNames = (names: Vocabulary['tags'] | Vocabulary['roles']): Option[] =>
  names.map(({ name, count, ...one }) => ({
    value: name,
    label: ('title' in one ? one.title : null) ?? name,
    count,
  }));

/** Options other than names that the vocabulary counts. */
const LISTED: Readonly<Record<Listing, (goods: Goods, people: readonly Person[]) => Option[]>> = {
  variants: (goods) => {
    const { variant } = namesFrom(goods);
    return goods.products.flatMap(({ variants }) => variants.map(({ id }) => ({ value: id, label: variant(id) })));
  },
  locales: ({ shop }) => shop.locales.map((locale) => ({ value: locale, label: locale })),
  customers: (_goods, people) =>
    people.map(({ id, name, email }) => ({ value: id, label: [name ?? email, id].filter(Boolean).join(' · ') })),
  categories: ({ vocabulary }) =>
    vocabulary.categories.map(({ id, names, count }) => ({ value: id, label: names.join(' › '), count })),
  products: ({ products, shop }) =>
    products.map(({ id, title, image }) => ({ value: id, label: titleIn(title, shop), image })),
};

const COLUMN_LABELS = Object.fromEntries(
  NAME_COLUMNS.map((column) => [`${column}s`, `${PRODUCT_COLUMNS[column].title}s`]),
) as Readonly<Record<`${NameColumn}s`, string>>;

export const FIELD_LABELS = {
  tags: 'Tags',
  categories: 'Categories',
  products: 'Products',
  roles: 'Roles',
  ...COLUMN_LABELS,
  variants: 'Variants',
  customers: 'Customers',
  locales: 'Languages',
} as const;

/** The customers that words find, when it is customers that are asked about. */
function usePeople(isWanted: boolean, words: string): readonly Person[] {
  const { data } = useQuery({
    queryKey: keys.people(`picked ${words}`),
    queryFn: async () => (await send('GET /api/people', { query: { limit: 30, search: words } })).body.people,
    enabled: isWanted,
    placeholderData: keepPreviousData,
  });
  return data ?? [];
}

/** Kinds chosen only from existing values; others may be typed, and match once the shop has them. */
const FROM_THE_SHOP: readonly (keyof typeof FIELD_LABELS)[] = ['categories', 'products', 'variants'];
/** Kinds that the server searches, since there may be too many people to load. */
const SEARCHED: readonly (keyof typeof FIELD_LABELS)[] = ['customers'];

/** Some of the names that the shop has. */
export function NamesField({
  kind,
  value,
  goods,
  onChange,
}: ValueProps & { readonly kind: keyof typeof FIELD_LABELS }) {
  const [searched, setSearched] = useState('');
  const isOfPeople = SEARCHED.includes(kind);
  const people = usePeople(isOfPeople, searched);
  const options = optionsFor(kind, goods, people);
  const byValue = new Map(options.map((option) => [option.value, option]));
  // A new list at every render would discard the text being typed.
  const written = JSON.stringify(value ?? []);
  const chosen = useMemo(
    () => (JSON.parse(written) as string[]).map((name): Option => ({ value: name, label: name })),
    [written],
  );
  const labelOf = (option: Option) => byValue.get(option.value)?.label ?? option.label;
  const isFree = !FROM_THE_SHOP.includes(kind);
  const update = (names: readonly string[]) => {
    onChange(names.length > 0 ? [...new Set(names)] : null);
  };
  const strangers =
    isFree && !isOfPeople && options.length > 0 ? chosen.filter((one) => !isKnown(one.value, options)) : [];
  return (
    <>
      <Autocomplete<Option, true>
        multiple
        autoHighlight={searched !== ''}
        disableCloseOnSelect
        options={options}
        filterOptions={(all, state) => suggested(all, state, { isFree, isFiltered: isOfPeople })}
        open
        slots={{ popper: InPlace }}
        slotProps={{ listbox: SUGGESTIONS }}
        onKeyDown={closesAtOnce}
        onInputChange={(_event, words) => {
          setSearched(words);
        }}
        value={chosen}
        isOptionEqualToValue={(a, b) => a.value === b.value}
        getOptionLabel={labelOf}
        onChange={(_event, next) => {
          update(next.map(({ value: name }) => name));
        }}
        renderOption={({ key, ...props }, { label, count, image, isNew }) => (
          <li key={key} {...props}>
            {image !== undefined && <Picture src={image} className={styles.thumb} />}
            <span className={styles.optionLabel}>
              {isNew ? `“${label}”, which nothing in the shop has yet` : label}
            </span>
            {count !== undefined && <span className={styles.optionCount}>{count}</span>}
          </li>
        )}
        renderInput={(params) => <TextField {...params} label={FIELD_LABELS[kind]} autoFocus />}
        noOptionsText="Nothing in the shop has such a name"
      />
      {strangers.map(({ value: stranger }) => (
        <Stranger
          key={stranger}
          name={stranger}
          options={options}
          onReplace={(name) => {
            update(chosen.map((one) => (one.value === stranger ? name : one.value)));
          }}
        />
      ))}
    </>
  );
}

/** Tags, brands and attributes are one when they are so after trimming and lower-casing. */
const folded = (name: string) => name.trim().normalize('NFC').toLowerCase();
const isKnown = (name: string, options: readonly Option[]) =>
  options.some(({ value }) => folded(value) === folded(name));

interface StrangerProps {
  readonly name: string;
  readonly options: readonly Option[];
  readonly onReplace: (name: string) => void;
}

/** A name that nothing in the shop has, and the nearest that something has. */
function Stranger({ name, options, onReplace }: StrangerProps) {
  const nearest = closest(
    folded(name),
    options.map(({ value }) => folded(value)),
  );
  const found = options.find(({ value }) => folded(value) === nearest);
  const isNear = found !== undefined && distance(folded(name), nearest) <= Math.max(2, name.length / 3);
  return (
    <p className={styles.nearest}>
      Nothing in the shop has “{name}” yet.
      {isNear && (
        <>
          {' '}
          Did you mean{' '}
          <button
            type="button"
            onClick={() => {
              onReplace(found.value);
            }}
          >
            {found.label}
          </button>
          ?
        </>
      )}
    </p>
  );
}
