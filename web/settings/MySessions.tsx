import { Button, Skeleton } from '@mui/material';
import { useEndSessions, useSessions } from '../session/useSession.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { momentWords } from '../shared/times.ts';
import { useShop } from '../goods/useShop.ts';
import styles from './settings.module.css';

/** Sessions of the signed-in user, each of which can be ended. */
export function MySessions() {
  const sessions = useSessions();
  const end = useEndSessions();
  const zone = useShop()?.zone;
  return (
    <section aria-labelledby="sessions-heading">
      <h2 id="sessions-heading">Where you are signed in</h2>
      {(sessions.error ?? end.error) && <ErrorNote error={(sessions.error ?? end.error)!} />}
      {!sessions.data ? (
        <Skeleton variant="rounded" height={90} />
      ) : (
        <>
          <table className={styles.people}>
            <tbody>
              {sessions.data.map(({ id, browser, startedAt, isThis }) => (
                <tr key={id}>
                  <th scope="row">
                    {browser}
                    <small>
                      {startedAt && zone
                        ? `since ${momentWords(Date.parse(startedAt), zone)}`
                        : 'since an earlier version'}
                    </small>
                  </th>
                  <td className={styles.acts}>
                    {isThis ? (
                      'this one'
                    ) : (
                      <Button
                        aria-label={`Sign out of ${browser}`}
                        onClick={() => {
                          end.mutate(id);
                        }}
                      >
                        Sign out
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {sessions.data.length > 1 && (
            <p>
              <Button
                variant="outlined"
                loading={end.isPending}
                onClick={() => {
                  end.mutate(null);
                }}
              >
                Sign out everywhere else
              </Button>
            </p>
          )}
        </>
      )}
    </section>
  );
}
