import type { ReactNode } from 'react';
import { FEW, MoreButton, type Pages } from './pages.tsx';
import type { useFilters } from './useFilters.ts';
import lists from './lists.module.css';
import styles from './worklist.module.css';

interface Props<T> {
  readonly label: string;
  /** The noun for one of the items, as in “Find a list”. */
  readonly one: string;
  readonly pages: Pages<T>;
  readonly filters: ReturnType<typeof useFilters>;
  readonly note?: ReactNode;
  readonly children: (item: T) => ReactNode;
}

/** The column of things to choose from beside a sheet, searched by the word that the address holds as `list`. */
export function ListAside<T>({ label, one, pages, filters: [search, set], note, children }: Props<T>) {
  const words = search.get('list') ?? '';
  const { items, total } = pages;
  return (
    <aside className={lists.aside} aria-label={label}>
      {(total > FEW || words !== '') && (
        <input
          className={styles.find}
          placeholder={`Find a ${one}`}
          aria-label={`Find a ${one}`}
          defaultValue={words}
          onChange={({ target }) => {
            set('list', target.value.trim());
          }}
        />
      )}
      {note}
      <ul className={styles.lists}>{items.map(children)}</ul>
      {items.length === 0 && (
        <p className={lists.none}>{words === '' ? `There is no ${one}.` : `No ${one} has “${words}” in its name.`}</p>
      )}
      <MoreButton pages={pages} />
    </aside>
  );
}
