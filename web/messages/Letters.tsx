import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import { useSession } from '../session/useSession.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './messages.module.css';
import { useTryMail } from './useSettings.ts';

/** Whether letters go out, and a test of it. */
export function Letters() {
  const session = useSession();
  const trial = useTryMail();
  const [to, setTo] = useState(session.data?.user?.email ?? '');
  if (!session.data) return null;
  return (
    <section aria-labelledby="letters" className={styles.section}>
      <h2 id="letters">Letters</h2>
      {session.data.sendsLetters ? (
        <form
          className={styles.letters}
          onSubmit={(event) => {
            event.preventDefault();
            trial.mutate(to);
          }}
        >
          <TextField
            label="A test letter to"
            type="email"
            value={to}
            onChange={({ target }) => {
              setTo(target.value);
            }}
          />
          <Button type="submit" variant="outlined" loading={trial.isPending} disabled={to === ''}>
            Send it
          </Button>
          {trial.data && (
            <p role="status">
              {trial.data.isTaken ? 'The mail server took it: ' : 'The mail server did not take it: '}
              <q>{trial.data.answer}</q>
            </p>
          )}
          {trial.error && <ErrorNote error={trial.error} />}
        </form>
      ) : (
        <p role="status">
          Understudy has no way to send letters, so nobody is told anything by e-mail, and waitlists take only those who
          are signed in to the shop. Start it with <code>SMTP_URL</code>, which names the mail server to send by.
        </p>
      )}
    </section>
  );
}
