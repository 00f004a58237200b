import { Button } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './connection.module.css';

/** Replaces the visitors' secret without signing anybody out: both are valid until the old one is ended. */
export function ReplaceSecret({ oldIsValid }: { readonly oldIsValid: boolean }) {
  const client = useQueryClient();
  const [isAsking, setAsking] = useState(false);
  const onSuccess = () => {
    setAsking(false);
    return client.invalidateQueries({ queryKey: keys.connection });
  };
  const replace = useMutation({
    mutationFn: () => send('POST /api/secrets/visitor'),
    onSuccess,
  });
  const end = useMutation({
    mutationFn: () => send('DELETE /api/secrets/visitor/old'),
    onSuccess,
  });
  const error = replace.error ?? end.error;
  return (
    <div className={styles.secret}>
      {oldIsValid ? (
        <>
          <p>
            The secret was replaced, and the one before is still valid. End it once the shop’s server signs with the new
            one: tokens that it signed are then those of guests.
          </p>
          <Button
            variant="outlined"
            color="error"
            loading={end.isPending}
            onClick={() => {
              end.mutate();
            }}
          >
            End the old secret
          </Button>
        </>
      ) : isAsking ? (
        <>
          <p>Both secrets are valid until you end the old one, so nobody is signed out meanwhile.</p>
          <div>
            <Button
              variant="contained"
              loading={replace.isPending}
              onClick={() => {
                replace.mutate();
              }}
            >
              Replace the secret
            </Button>{' '}
            <Button
              onClick={() => {
                setAsking(false);
              }}
            >
              Cancel
            </Button>
          </div>
        </>
      ) : (
        <Button
          onClick={() => {
            setAsking(true);
          }}
        >
          Replace the secret…
        </Button>
      )}
      {error && <ErrorNote error={error} />}
    </div>
  );
}
