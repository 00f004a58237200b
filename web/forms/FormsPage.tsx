import { Button, Skeleton, TextField } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { Allowed } from '../session/Allowed.tsx';
import { useShop } from '../goods/useShop.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import letters from '../shared/letters.module.css';
import lists from '../shared/lists.module.css';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { useFilters } from '../shared/useFilters.ts';
import { FormEditor } from './FormEditor.tsx';
import styles from './forms.module.css';
import { useForms, useSaveForm } from './useForms.ts';

/** Forms for enquiries and requests for a price. */
export function FormsPage() {
  const forms = useForms();
  const shop = useShop();
  const [search, set] = useFilters();
  if (forms.error) return <LoadFailed error={forms.error} retry={() => void forms.refetch()} />;
  if (!forms.data || !shop) return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;
  const chosen = forms.data.find(({ code }) => code === search.get('form')) ?? forms.data[0];
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Forms</h1>
        <span className={lists.count} />
        <Button variant="outlined" component={Link} to={chosen?.code === 'quote' ? '/quotes' : '/enquiries'}>
          Back to the enquiries
        </Button>
      </header>
      <div className={styles.columns}>
        <nav className={letters.list} aria-label="Forms">
          <ul>
            {forms.data.map(({ code, rules, fields }) => (
              <li key={code} className={code === chosen?.code ? letters.chosen : undefined}>
                <button
                  type="button"
                  aria-current={code === chosen?.code}
                  onClick={() => {
                    set('form', code);
                  }}
                >
                  <b>{code}</b>
                  <small>
                    {fields.length} {fields.length === 1 ? 'field' : 'fields'}
                    {code === 'quote' ? ' · the quote sheet' : rules.length === 0 ? ' · not shown yet' : ''}
                  </small>
                </button>
              </li>
            ))}
          </ul>
          <Allowed permission="publish" quiet>
            <NewForm
              taken={forms.data.map(({ code }) => code)}
              made={(code) => {
                set('form', code);
              }}
            />
          </Allowed>
        </nav>
        {chosen && (
          <Allowed permission="publish">
            <FormEditor key={chosen.code} form={chosen} shop={shop} />
          </Allowed>
        )}
      </div>
    </main>
  );
}

function NewForm({ taken, made }: { readonly taken: readonly string[]; readonly made: (code: string) => void }) {
  const [code, setCode] = useState('');
  const save = useSaveForm();
  const isFree = /^[\w-]{1,60}$/.test(code) && !taken.includes(code);
  return (
    <form
      className={styles.new}
      onSubmit={(event) => {
        event.preventDefault();
        const question = { name: 'question', kind: 'longText', required: true, label: 'Your question' } as const;
        const form = { fields: [question], sentText: null, emptyText: null, goTo: null };
        save.mutate(
          { code, form },
          {
            onSuccess: () => {
              setCode('');
              made(code);
            },
          },
        );
      }}
    >
      <TextField
        label="Name of another form"
        value={code}
        error={code !== '' && !isFree}
        helperText={code !== '' && !isFree ? 'A name that is not used yet: letters, digits, _ and -' : undefined}
        onChange={({ target }) => {
          setCode(target.value);
        }}
      />
      {save.error && <ErrorNote error={save.error} />}
      <Button type="submit" variant="outlined" disabled={!isFree} loading={save.isPending}>
        Create
      </Button>
    </form>
  );
}
