import { Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Person } from '#core/contract/shopCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { saveAs } from '../shared/save.ts';

/** Exports, or deletes for good, everything that is kept of a customer. */
export function PersonData({
  person: { id, name, email },
  done,
}: {
  readonly person: Person;
  /** Once they are deleted. */
  readonly done: () => void;
}) {
  const [isAsking, setAsking] = useState(false);
  const [includesOthers, setIncludesOthers] = useState(false);
  const client = useQueryClient();
  const query = { search: email ?? '' };
  const found = useQuery({
    queryKey: keys.customers(query),
    queryFn: async () => (await send('GET /api/people', { query })).body.people,
    enabled: email !== null,
  });
  const others = (found.data ?? []).filter(
    (other) => other.id !== id && other.email?.toLowerCase() === email?.toLowerCase(),
  );
  const body = includesOthers && email !== null ? { email } : { customer: id };
  const take = useMutation({
    mutationFn: async () => {
      const { body: data } = await send('POST /api/people/export', { body });
      saveAs(`${id}.json`, 'application/json', JSON.stringify(data, null, 2));
    },
  });
  const erase = useMutation({
    mutationFn: async () => {
      await send('POST /api/people/erasure', { body });
    },
    onSuccess: async () => {
      setAsking(false);
      done();
      await client.invalidateQueries();
    },
  });
  const who = includesOthers ? `everyone with the address ${email ?? ''}` : (name ?? id);
  return (
    <section aria-labelledby="kept-heading">
      <h3 id="kept-heading">Personal data</h3>
      {others.length > 0 && (
        <>
          <p>
            {new Intl.ListFormat('en').format(others.map((other) => `${other.name ?? 'A customer'} (${other.id})`))}{' '}
            {others.length === 1 ? 'has' : 'have'} the same e-mail address.
          </p>
          <FormControlLabel
            sx={{ display: 'flex' }}
            control={
              <Checkbox
                checked={includesOthers}
                onChange={(_event, isChecked) => {
                  setIncludesOthers(isChecked);
                }}
              />
            }
            label={`Export or delete everything for ${email ?? ''}`}
          />
        </>
      )}
      <Button
        loading={take.isPending}
        aria-label={`Export the data of ${who}`}
        onClick={() => {
          take.mutate();
        }}
      >
        Export data
      </Button>
      <Button
        color="error"
        aria-label={`Delete ${who} for good`}
        onClick={() => {
          setAsking(true);
        }}
      >
        Delete for good…
      </Button>
      {take.error && <ErrorNote error={take.error} />}
      <Dialog
        open={isAsking}
        onClose={() => {
          setAsking(false);
        }}
        aria-labelledby={`delete-${id}`}
      >
        <DialogTitle id={`delete-${id}`}>Delete {who} for good?</DialogTitle>
        <DialogContent>
          This deletes their name, address, telephone number, roles, waitlist entries, enquiries and messages, also from
          the history of imports. Quotes and pre-orders stay in the books, without their name.
          {erase.error && <ErrorNote error={erase.error} />}
        </DialogContent>
        <DialogActions>
          <Button
            variant="outlined"
            onClick={() => {
              setAsking(false);
            }}
          >
            Cancel
          </Button>
          <Button
            variant="contained"
            color="error"
            loading={erase.isPending}
            onClick={() => {
              erase.mutate();
            }}
          >
            Delete for good
          </Button>
        </DialogActions>
      </Dialog>
    </section>
  );
}
