import { Button, Chip, Dialog, DialogActions, DialogContent, DialogTitle, Skeleton } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { MOST_AUDIENCES } from '#core/contract/audienceCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useDraft } from '../draft/useDraft.ts';
import { useGoods, type Goods } from '../goods/useGoods.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './audiences.module.css';
import { AudienceFields } from './AudienceFields.tsx';
import { audienceOf, faultsOf, rowOf, suggestions, type AudienceRow } from './rows.ts';

interface AudiencesDialogProps {
  readonly onClose: () => void;
}

/** Makes, changes, orders and removes the audiences to look through. */
export function AudiencesDialog({ onClose }: AudiencesDialogProps) {
  const goods = useGoods();
  return (
    <Dialog open fullWidth maxWidth="md" onClose={onClose} aria-labelledby="audiences-title">
      <DialogTitle id="audiences-title">Audiences</DialogTitle>
      {goods.data ? (
        <Rows goods={goods.data} onClose={onClose} />
      ) : (
        <DialogContent>
          {goods.error ? <ErrorNote error={goods.error} /> : <Skeleton variant="rounded" height={180} />}
        </DialogContent>
      )}
    </Dialog>
  );
}

function Rows({ goods: { audiences, vocabulary }, onClose }: AudiencesDialogProps & { readonly goods: Goods }) {
  const client = useQueryClient();
  const { rulebook } = useDraft();
  const [rows, setRows] = useState<readonly AudienceRow[]>(() => audiences.map(rowOf));
  const [nextKey, setNextKey] = useState(audiences.length);
  const [isTried, setTried] = useState(false);
  const save = useMutation({
    mutationFn: () => send('PUT /api/audiences', { body: rows.map(audienceOf) }),
    onSuccess: async () => {
      // Every proof, finding and impact is through these.
      await client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== keys.draft[0] });
      onClose();
    },
  });
  const add = (row: Omit<AudienceRow, 'key'>) => {
    setRows([...rows, { ...row, key: nextKey }]);
    setNextKey(nextKey + 1);
  };
  const swap = (from: number, to: number) => {
    const next = [...rows];
    const [row] = next.splice(from, 1);
    if (row) next.splice(to, 0, row);
    setRows(next);
  };
  const faults = rows.map((row) => faultsOf(row, rows));
  const isFull = rows.length >= MOST_AUDIENCES;
  const suggested = isFull ? [] : suggestions(rows, rulebook, vocabulary);
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        setTried(true);
        if (faults.every((fault) => Object.keys(fault).length === 0)) save.mutate();
      }}
    >
      <DialogContent>
        <p className={styles.hint}>
          Every proof has a column for each audience. Impact, findings and the calendar check all of them.
        </p>
        <ol className={styles.rows}>
          {rows.map((row, index) => (
            <AudienceFields
              key={row.key}
              row={row}
              faults={isTried ? (faults[index] ?? {}) : {}}
              roles={vocabulary.roles}
              change={(next) => {
                setRows(rows.map((one) => (one.key === row.key ? next : one)));
              }}
              remove={
                rows.length > 1
                  ? () => {
                      setRows(rows.filter((one) => one.key !== row.key));
                    }
                  : null
              }
              up={
                index > 0
                  ? () => {
                      swap(index, index - 1);
                    }
                  : null
              }
              down={
                index < rows.length - 1
                  ? () => {
                      swap(index, index + 1);
                    }
                  : null
              }
            />
          ))}
        </ol>
        <div className={styles.more}>
          <Button
            variant="outlined"
            disabled={isFull}
            onClick={() => {
              add({ name: '', kind: 'signedIn', roles: [], customer: null });
            }}
          >
            Add an audience
          </Button>
          {suggested.length > 0 && <span className={styles.hint}>Suggestions:</span>}
          {suggested.map((row) => (
            <Chip
              key={row.name}
              label={row.name}
              variant="outlined"
              aria-label={`Add ${row.name}`}
              onClick={() => {
                add(row);
              }}
            />
          ))}
          {isFull && <span className={styles.hint}>There are {MOST_AUDIENCES}, which is as many as there can be.</span>}
        </div>
        {save.error && <ErrorNote error={save.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" variant="contained" loading={save.isPending}>
          Save audiences
        </Button>
      </DialogActions>
    </form>
  );
}
