import { Autocomplete, TextField } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { Person } from '#core/contract/shopCalls.ts';
import { send, type QueryOf } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import styles from './shared.module.css';

interface CustomerFieldProps {
  readonly label: string;
  /** The shop's id of theirs. */
  readonly value: string | null;
  readonly onChange: (person: Person | null) => void;
  /** Customer who is not offered. */
  readonly without?: string;
  readonly error?: string | undefined;
}

type Option = Pick<Person, 'id' | 'name' | 'email'>;

const LIMIT = 20;

/** A customer's name, address and id. */
export const customerWords = ({ id, name, email }: Option): string =>
  [name ?? email ?? id, name === null ? null : email, name === null && email === null ? null : id]
    .filter((part) => part !== null)
    .join(' · ');

const find = async (query: QueryOf<'GET /api/people'>) =>
  (await send('GET /api/people', { query: { limit: LIMIT, ...query } })).body.people;

/** One customer, found by part of a name, an address or an id. */
export function CustomerField({ label, value, onChange, without, error }: CustomerFieldProps) {
  const [words, setWords] = useState('');
  const search = { search: useDeferredValue(words) };
  const found = useQuery({
    queryKey: keys.customers(search),
    queryFn: () => find(search),
    placeholderData: keepPreviousData,
  });
  const chosen = useQuery({
    queryKey: keys.customers(value ?? ''),
    queryFn: () => find({ id: value ?? '' }),
    enabled: value !== null,
  });
  const person: Option | null = value === null ? null : (chosen.data?.[0] ?? { id: value, name: null, email: null });
  const options: Option[] = (found.data ?? []).filter(({ id }) => id !== without);
  return (
    <Autocomplete
      fullWidth
      options={options}
      value={person}
      loading={found.isFetching}
      noOptionsText="No customers match"
      filterOptions={(options) => options}
      getOptionLabel={customerWords}
      getOptionKey={({ id }) => id}
      isOptionEqualToValue={(one, other) => one.id === other.id}
      renderOption={({ key, ...props }, { id, name, email }) => (
        <li key={key} {...props}>
          <span>
            {name ?? email ?? id}
            <small className={styles.second}>{[name === null ? null : email, id].filter(Boolean).join(' · ')}</small>
          </span>
        </li>
      )}
      onInputChange={(_event, input, reason) => {
        if (reason === 'input') setWords(input.trim());
      }}
      onChange={(_event, option) => {
        onChange(found.data?.find(({ id }) => id === option?.id) ?? null);
      }}
      renderInput={(input) => (
        <TextField {...input} label={label} error={error !== undefined} helperText={error} placeholder="Search" />
      )}
    />
  );
}
