import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Skeleton } from '@mui/material';
import { useState } from 'react';
import type { ProgramKey } from '#core/contract/keyCalls.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { MoreButton, useFirstOf } from '../shared/pages.tsx';
import { momentWords } from '../shared/times.ts';
import { useShop } from '../goods/useShop.ts';
import { KeyForm } from './KeyForm.tsx';
import { SCOPE_WORDS } from './roles.ts';
import styles from './settings.module.css';
import { useKeys, useRevokeKey } from './useKeys.ts';

/** The keys with which programs act for the shop. */
export function KeysPage() {
  const programs = useKeys();
  if (programs.error) return <LoadFailed error={programs.error} retry={() => void programs.refetch()} />;
  if (!programs.data) return <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />;
  return (
    <div className={styles.columns}>
      <section aria-label="Keys">
        {programs.data.length === 0 ? (
          <p className={styles.hint}>
            No program has a key yet. A till, a warehouse or a pipeline each get one of their own, so that one can be
            revoked and the others go on.
          </p>
        ) : (
          <KeysTable programs={programs.data} />
        )}
      </section>
      <aside className={styles.aside}>
        <KeyForm isFirst={programs.data.length === 0} />
      </aside>
    </div>
  );
}

function KeysTable({ programs }: { readonly programs: readonly ProgramKey[] }) {
  const first = useFirstOf(programs);
  return (
    <>
      <table className={styles.people}>
        <thead>
          <tr>
            <th scope="col">Program</th>
            <th scope="col">Good for</th>
            <th scope="col">Last used</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {first.items.map((one) => (
            <Row key={one.id} one={one} />
          ))}
        </tbody>
      </table>
      <MoreButton pages={first} />
    </>
  );
}

function Row({ one }: { readonly one: ProgramKey }) {
  const { name, scopes, ending, madeBy, madeAt, usedAt, revokedAt, revokedBy } = one;
  const zone = useShop()?.zone;
  const revoke = useRevokeKey();
  const [isAsking, setAsking] = useState(false);
  const when = (instant: string) => (zone ? momentWords(Date.parse(instant), zone) : '');
  const close = () => {
    setAsking(false);
  };
  return (
    <tr className={revokedAt === null ? undefined : styles.over}>
      <th scope="row">
        {name}
        <small>
          …{ending}, made by {madeBy}, {when(madeAt)}
        </small>
      </th>
      <td>{scopes.map((scope) => SCOPE_WORDS[scope].name).join(', ')}</td>
      <td>{usedAt === null ? 'Not yet' : when(usedAt)}</td>
      <td className={styles.acts}>
        {revokedAt === null ? (
          <Button
            color="error"
            aria-label={`Revoke ${name}`}
            loading={revoke.isPending}
            onClick={() => {
              setAsking(true);
            }}
          >
            Revoke
          </Button>
        ) : (
          <>
            Revoked
            <small>
              by {revokedBy}, {when(revokedAt)}
            </small>
          </>
        )}
        {revoke.error && <ErrorNote error={revoke.error} />}
        <Dialog open={isAsking} onClose={close}>
          <DialogTitle>Revoke the key of {name}?</DialogTitle>
          <DialogContent>
            The program is refused from its next call on. This cannot be undone: make another key to let it in again.
          </DialogContent>
          <DialogActions>
            <Button onClick={close}>Keep it</Button>
            <Button
              variant="contained"
              color="error"
              onClick={() => {
                close();
                revoke.mutate(one);
              }}
            >
              Revoke
            </Button>
          </DialogActions>
        </Dialog>
      </td>
    </tr>
  );
}
