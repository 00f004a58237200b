import { Button } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { isMadeUpId } from '#core/contract/peopleCalls.ts';
import type { Person } from '#core/contract/shopCalls.ts';
import { send } from '../api/client.ts';
import { CustomerField, customerWords } from '../shared/CustomerField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './people.module.css';

interface MergePeopleProps {
  readonly person: Person;
  /** Is given the id of who is left. */
  readonly done: (id: string) => void;
}

/** The shop's id takes precedence over one made by Understudy, which files and pages do not know. */
const mayKeep = (kept: Person, gone: Person) => !isMadeUpId(kept.id) || isMadeUpId(gone.id);

/** Makes one of two customers who are the same person. */
export function MergePeople({ person, done }: MergePeopleProps) {
  const [isOpen, setOpen] = useState(false);
  const [other, setOther] = useState<Person | null>(null);
  const client = useQueryClient();
  const merge = useMutation({
    mutationFn: async ({ kept, gone }: { readonly kept: string; readonly gone: string }) => {
      await send('POST /api/people/{id}/merge', { params: { id: kept }, body: { other: gone } });
      return kept;
    },
    onSuccess: async (kept) => {
      setOpen(false);
      await client.invalidateQueries();
      done(kept);
    },
  });
  const keep = (kept: Person, gone: Person) => (
    <Button
      variant="outlined"
      loading={merge.isPending}
      onClick={() => {
        merge.mutate({ kept: kept.id, gone: gone.id });
      }}
    >
      Keep {kept.id}
    </Button>
  );
  return (
    <section aria-labelledby="merge-heading">
      <h3 id="merge-heading">The same person twice</h3>
      {isOpen ? (
        <div className={styles.merge}>
          <CustomerField label="The other customer" value={other?.id ?? null} without={person.id} onChange={setOther} />
          {other && (
            <>
              <p>
                <b>{customerWords(person)}</b> and <b>{customerWords(other)}</b> become one, with the roles, places on
                waitlists, pre-orders, quotes and enquiries of both. Whose id is kept keeps their name, e-mail and
                telephone too; what they lack is taken from the other. The other id goes on meaning the same customer.
                This cannot be undone.
              </p>
              <div className={styles.acts}>
                {mayKeep(person, other) && keep(person, other)}
                {mayKeep(other, person) && keep(other, person)}
              </div>
            </>
          )}
          {merge.error && <ErrorNote error={merge.error} />}
          <Button
            onClick={() => {
              setOpen(false);
            }}
          >
            Cancel
          </Button>
        </div>
      ) : (
        <Button
          variant="outlined"
          onClick={() => {
            setOther(null);
            setOpen(true);
          }}
        >
          Merge with another customer…
        </Button>
      )}
    </section>
  );
}
