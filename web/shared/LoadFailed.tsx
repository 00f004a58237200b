import { Button } from '@mui/material';
import { useRouteError } from 'react-router';
import { ErrorNote } from './ErrorNote.tsx';
import styles from './shared.module.css';

/** Stands where something could not be shown, with a way to try again. */
export function LoadFailed({ error, retry }: { readonly error?: Error; readonly retry?: () => void }) {
  const routeError = useRouteError();
  const shown = error ?? (routeError instanceof Error ? routeError : new Error('This could not be shown.'));
  return (
    <div className={styles.failed}>
      <ErrorNote error={shown} />
      <Button
        variant="outlined"
        onClick={
          retry ??
          (() => {
            location.reload();
          })
        }
      >
        Try again
      </Button>
    </div>
  );
}
