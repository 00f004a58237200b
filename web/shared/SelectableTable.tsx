import { Checkbox, Skeleton } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { LoadFailed } from './LoadFailed.tsx';
import lists from './lists.module.css';
import { FindField, MoreButton, type Pages } from './pages.tsx';
import type { useFilters } from './useFilters.ts';
import styles from './worklist.module.css';

interface Item {
  readonly id: string;
}

const NONE: ReadonlySet<string> = new Set();

/** Selection of rows, for actions on all of them. */
export function useChoice<T extends Item>(items: readonly T[]) {
  const [picked, setPicked] = useState(NONE);
  return {
    chosen: items.filter(({ id }) => picked.has(id)),
    has: (id: string) => picked.has(id),
    pick: (id: string, isPicked: boolean) => {
      setPicked((now) => new Set(isPicked ? [...now, id] : [...now].filter((other) => other !== id)));
    },
    pickAll: (isPicked: boolean) => {
      setPicked(isPicked ? new Set(items.map(({ id }) => id)) : NONE);
    },
    clear: () => {
      setPicked(NONE);
    },
  };
}

interface FiltersProps {
  readonly filters: ReturnType<typeof useFilters>;
  readonly label: string;
  readonly placeholder: string;
  /** All states with their names. */
  readonly states: Readonly<Record<string, string>>;
  /** Address of the matches as CSV. */
  readonly file: string;
}

/** Finds rows by words and states, which the address holds, and takes them away as a file. */
export function ListFilters({ filters: [search, set], label, placeholder, states, file }: FiltersProps) {
  const state = search.get('state');
  return (
    <div className={styles.filters}>
      <FindField className={lists.search} label={label} placeholder={placeholder} search={search} set={set} />
      {Object.entries(states).map(([name, words]) => (
        <button
          key={name}
          type="button"
          className={styles.state}
          aria-pressed={state === name}
          onClick={() => {
            set('state', state === name ? null : name);
          }}
        >
          {words}
        </button>
      ))}
      <a className={styles.file} href={file} download>
        Export CSV
      </a>
    </div>
  );
}

interface TableProps<T extends Item> {
  readonly pages: Pages<T>;
  readonly choice: ReturnType<typeof useChoice<T>>;
  readonly columns: readonly { readonly name: string; readonly isNumber?: true }[];
  /** Text shown if nothing matches. */
  readonly empty: string;
  readonly row: (item: T, isPicked: boolean, pick: (isPicked: boolean) => void) => ReactNode;
}

/** A list's rows, read page by page, each of which can be chosen. */
export function ChoosingTable<T extends Item>({ pages, choice, columns, empty, row }: TableProps<T>) {
  const { items, isPending, error, refetch } = pages;
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  if (isPending)
    return [1, 2, 3, 4].map((line) => <Skeleton key={line} variant="rounded" height={36} sx={{ mb: 1 }} />);
  if (items.length === 0) return <p className={lists.empty}>{empty}</p>;
  const count = choice.chosen.length;
  return (
    <>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col" className={styles.pick}>
              <Checkbox
                size="small"
                checked={count === items.length}
                indeterminate={count > 0 && count < items.length}
                onChange={({ target }) => {
                  choice.pickAll(target.checked);
                }}
                slotProps={{ input: { 'aria-label': 'Choose all that are shown' } }}
              />
            </th>
            {columns.map(({ name, isNumber }) => (
              <th key={name} scope="col" className={isNumber && styles.number}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {items.map((item) =>
            row(item, choice.has(item.id), (isPicked) => {
              choice.pick(item.id, isPicked);
            }),
          )}
        </tbody>
      </table>
      <MoreButton pages={pages} />
    </>
  );
}

interface PickCellProps {
  /** Name of the row's subject. */
  readonly name: string;
  readonly isPicked: boolean;
  readonly pick: (isPicked: boolean) => void;
}

/** The first cell of a row that can be chosen. */
export function PickCell({ name, isPicked, pick }: PickCellProps) {
  return (
    <td>
      <Checkbox
        size="small"
        checked={isPicked}
        onChange={({ target }) => {
          pick(target.checked);
        }}
        slotProps={{ input: { 'aria-label': `Choose ${name}` } }}
      />
    </td>
  );
}
