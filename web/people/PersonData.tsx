import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { erasePerson, exportPerson } from '#core/contract/peopleCalls.ts';
import type { Person } from '#core/contract/shopCalls.ts';
import { send } from '../api/client.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { saveAs } from '../shared/save.ts';

/** Exports, or deletes for good, everything that is kept of a customer. */
export function PersonData({
  person: { id, name },
  done,
}: {
  readonly person: Person;
  /** Once they are deleted. */
  readonly done: () => void;
}) {
  const [isAsking, setAsking] = useState(false);
  const client = useQueryClient();
  const body = { customer: id };
  const take = useMutation({
    mutationFn: async () => {
      const { body: data } = await send<typeof exportPerson>('post', '/api/people/export', { body });
      saveAs(`${id}.json`, 'application/json', JSON.stringify(data, null, 2));
    },
  });
  const erase = useMutation({
    mutationFn: async () => {
      await send<typeof erasePerson>('post', '/api/people/erasure', { body });
    },
    onSuccess: async () => {
      setAsking(false);
      done();
      await client.invalidateQueries();
    },
  });
  const who = name ?? id;
  return (
    <section aria-labelledby="kept-heading">
      <h3 id="kept-heading">What is kept of them</h3>
      <Button
        loading={take.isPending}
        aria-label={`Export the data of ${who}`}
        onClick={() => {
          take.mutate();
        }}
      >
        Export their data
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
          Their name, address, roles, places on waitlists, questions and messages are lost for good. What they reserved
          or ordered stays, without their name.
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
