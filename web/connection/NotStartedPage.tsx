import { Button } from '@mui/material';
import { Link, useSearchParams } from 'react-router';
import styles from './connection.module.css';
import { NotStarted } from './NotStarted.tsx';

/** Page shown in the shop's window if no picker starts there. */
export function NotStartedPage() {
  const [given] = useSearchParams();
  const page = given.get('page') ?? '';
  return (
    <main className={styles.notStarted}>
      <h1>Show me the control</h1>
      <NotStarted page={page} problem={given.get('problem') ?? ''} />
      <p>
        This window showed <code>{page}</code>.
      </p>
      <div className={styles.acts}>
        <Button component={Link} to="/connection" variant="contained">
          Back to Connection
        </Button>
        {/^https?:/.test(page) && <Button href={page}>Open the page again</Button>}
      </div>
    </main>
  );
}
