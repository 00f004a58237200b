import { IconButton, TextField, Tooltip } from '@mui/material';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { useMay } from '../session/useMay.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { withMoment } from '../shared/useMoment.ts';
import styles from './catalog.module.css';
import { filterOf, isFiltered, VIEW_PARTS } from './filter.ts';
import { queryOf, queryText } from '../shared/useFilters.ts';
import { useCatalogViews } from './useFoundProducts.ts';

/** Saved views of the catalog, and a name for the open one. */
export function CatalogViews({ search }: { readonly search: URLSearchParams }) {
  const { views, save } = useCatalogViews();
  const mayKeep = useMay('draft');
  const [name, setName] = useState<string | null>(null);
  const query = queryText(queryOf(search, VIEW_PARTS));
  const open = views.find((view) => view.query === query);
  const canSave = mayKeep && !open && (isFiltered(filterOf(search)) || search.has('sort'));
  if (views.length === 0 && !canSave) return null;
  return (
    <section aria-label="Saved views">
      <h2>Views</h2>
      <ul className={styles.views}>
        {views.map((view) => (
          <li key={view.name}>
            <Link
              to={withMoment(`/catalog?${view.query}`, search)}
              aria-current={view === open ? 'page' : undefined}
              replace
            >
              {view.name}
            </Link>
            {mayKeep && (
              <Tooltip title="Forget this view">
                <IconButton
                  size="small"
                  aria-label={`Forget the view “${view.name}”`}
                  onClick={() => {
                    save.mutate(views.filter((other) => other !== view));
                  }}
                >
                  <X size={13} aria-hidden />
                </IconButton>
              </Tooltip>
            )}
          </li>
        ))}
      </ul>
      {save.error && <ErrorNote error={save.error} />}
      {canSave &&
        (name === null ? (
          <button
            type="button"
            className={styles.clear}
            onClick={() => {
              setName('');
            }}
          >
            Save this view…
          </button>
        ) : (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              const called = name.trim();
              if (called === '') return;
              save.mutate([...views.filter((view) => view.name !== called), { name: called, query }], {
                onSuccess: () => {
                  setName(null);
                },
              });
            }}
          >
            <TextField
              label="Name of the view"
              autoFocus
              value={name}
              helperText="Enter saves it; one of the same name is replaced"
              slotProps={{ htmlInput: { maxLength: 100 } }}
              onChange={({ target }) => {
                setName(target.value);
              }}
              onKeyDown={({ key }) => {
                if (key === 'Escape') setName(null);
              }}
            />
          </form>
        ))}
    </section>
  );
}
