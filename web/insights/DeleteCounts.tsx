import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../api/client.ts';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './insights.module.css';
import { type Period } from './useInsights.ts';

const DAY_MS = 86_400_000;
const dayAfter = (day: string, days: number) =>
  day === '' ? '' : new Date(Date.parse(day) + days * DAY_MS).toISOString().slice(0, 10);

/** Deletes counts of some days, such as forged ones. */
export function DeleteCounts({ period }: { readonly period: Period }) {
  const [days, setDays] = useState<{ readonly first: string; readonly last: string } | null>(null);
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: async (asked: Period) => {
      await send('DELETE /api/insights/counts', { query: asked });
    },
    onSuccess: async () => {
      setDays(null);
      await client.invalidateQueries();
    },
  });
  const isValid = days !== null && days.first !== '' && days.first <= days.last;
  return (
    <>
      <Button
        size="small"
        onClick={() => {
          setDays({ first: period.from, last: dayAfter(period.until, -1) });
        }}
      >
        Delete counts…
      </Button>
      <Dialog
        open={days !== null}
        onClose={() => {
          setDays(null);
        }}
        aria-labelledby="delete-counts"
      >
        <DialogTitle id="delete-counts">Delete counts?</DialogTitle>
        <DialogContent>
          <p>
            What was seen, pressed, ordered and searched for on these days is deleted for good. Requests, orders and
            rules stay.
          </p>
          <div className={styles.days}>
            {(['first', 'last'] as const).map((which) => (
              <DateTimeField
                key={which}
                kind="date"
                label={which === 'first' ? 'First day' : 'Last day'}
                value={days?.[which] ?? ''}
                onChange={(day) => {
                  if (days) setDays({ ...days, [which]: day });
                }}
              />
            ))}
          </div>
          {days !== null && !isValid && <p role="alert">Choose a last day on or after the first.</p>}
          {remove.error && <ErrorNote error={remove.error} />}
        </DialogContent>
        <DialogActions>
          <Button
            variant="outlined"
            onClick={() => {
              setDays(null);
            }}
          >
            Cancel
          </Button>
          <Button
            variant="contained"
            color="error"
            disabled={!isValid}
            loading={remove.isPending}
            onClick={() => {
              if (days) remove.mutate({ from: days.first, until: dayAfter(days.last, 1) });
            }}
          >
            Delete for good
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
