import { MenuItem, Skeleton, TextField } from '@mui/material';
import type { ReactNode } from 'react';
import { LoadFailed } from './LoadFailed.tsx';
import { FindField, MoreButton, type ReadablePages, useNamed } from './pages.tsx';
import type { useFilters } from './useFilters.ts';
import lists from './lists.module.css';
import styles from './letters.module.css';

interface Item {
  readonly id: string;
}

interface Props<T extends Item> {
  readonly title: string;
  /** Noun for one item, also the address's parameter for the open one. */
  readonly one: string;
  readonly findBy: string;
  readonly filters: ReturnType<typeof useFilters>;
  readonly pages: ReadablePages<T>;
  /** Count shown beside the title. */
  readonly counted: string;
  /** All states with their names. */
  readonly states: Readonly<Record<string, string>>;
  /** Further filter. */
  readonly about?: { readonly name: string; readonly options: readonly (readonly [value: string, words: string])[] };
  /** Text of the empty list. */
  readonly none: string;
  readonly acts?: ReactNode;
  readonly row: (item: T) => { readonly title: string; readonly more: ReactNode };
  readonly children: (shown: T) => ReactNode;
}

/** A work list filtered by the address, beside the open item: the first until another is chosen. */
export function WorkPage<T extends Item>(props: Props<T>) {
  const { title, one, findBy, filters, pages, counted, states, about, none, acts, row, children } = props;
  const [search, set] = filters;
  const named = useNamed(pages, search.get(one));
  if (pages.error) return <LoadFailed error={pages.error} retry={() => void pages.refetch()} />;
  const shown = named === null ? pages.items[0] : named;
  const isFiltered = ['search', 'state', about?.name ?? 'state'].some((name) => search.get(name));
  return (
    <main className={lists.page}>
      <header className={lists.head} data-screen-only>
        <h1>{title}</h1>
        <span className={lists.count} role="status">
          {pages.isPending ? 'looking…' : counted}
        </span>
        <FindField
          className={lists.search}
          label={`Find ${/^[aeiou]/.test(one) ? 'an' : 'a'} ${one}`}
          placeholder={`Find by ${findBy}`}
          search={search}
          set={set}
        />
        {acts}
      </header>
      <div className={styles.columns}>
        <section className={styles.list} aria-label={title} aria-busy={pages.isPending} data-screen-only>
          <div className={styles.filters}>
            {Object.entries(states).map(([state, name]) => (
              <button
                key={state}
                type="button"
                aria-pressed={search.get('state') === state}
                onClick={() => {
                  set('state', search.get('state') === state ? null : state);
                }}
              >
                {name}
              </button>
            ))}
            {about && (
              <TextField
                select
                hiddenLabel
                value={search.get(about.name) ?? ''}
                slotProps={{ select: { displayEmpty: true, SelectDisplayProps: { 'aria-label': 'About' } } }}
                onChange={({ target }) => {
                  set(about.name, target.value);
                }}
              >
                <MenuItem value="">about anything</MenuItem>
                {about.options.map(([value, words]) => (
                  <MenuItem key={value} value={value}>
                    {words}
                  </MenuItem>
                ))}
              </TextField>
            )}
          </div>
          {pages.isPending ? (
            [1, 2, 3, 4].map((line) => <Skeleton key={line} variant="rounded" height={44} sx={{ m: 1 }} />)
          ) : pages.items.length === 0 ? (
            <p className={lists.empty}>{isFiltered ? `No ${one} fits. Take a filter off.` : none}</p>
          ) : (
            <ul>
              {pages.items.map((item) => {
                const { title: words, more } = row(item);
                return (
                  <li key={item.id} className={item === shown ? styles.chosen : undefined}>
                    <button
                      type="button"
                      aria-current={item === shown}
                      onClick={() => {
                        set(one, item.id);
                      }}
                    >
                      <b>{words}</b>
                      <small>{more}</small>
                    </button>
                  </li>
                );
              })}
            </ul>
          )}
          <MoreButton pages={pages} />
        </section>
        {shown && (
          <div
            className={styles.shown}
            data-printed
            // Puts the open item into the address once it has the focus, so that a change which takes it off the list leaves it open.
            onFocusCapture={() => {
              if (search.get(one) !== shown.id) set(one, shown.id);
            }}
          >
            {children(shown)}
          </div>
        )}
      </div>
    </main>
  );
}
