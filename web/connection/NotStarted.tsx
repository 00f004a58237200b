import { useQuery } from '@tanstack/react-query';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import styles from './connection.module.css';
import { problemWords } from './mapRows.ts';

/** Explains why the picker did not start on a page, and what to do. */
export function NotStarted({ page, problem }: { readonly page: string; readonly problem: string }) {
  const connection = useQuery({
    queryKey: keys.connection,
    queryFn: async () => (await send('GET /api/connection')).body,
  });
  const host = URL.canParse(page) ? new URL(page).host : page;
  return (
    <div className={styles.alarm} role="alert">
      <h3>The picker has not started</h3>
      <p>{reason(problem, host)}</p>
      {connection.data && problem !== 'notRun' && (
        <CopyLine text={connection.data.embedLine} label="the line for the page" />
      )}
    </div>
  );
}

function reason(problem: string, host: string): string {
  switch (problem) {
    case 'noLine':
      return 'The page does not have the line yet. Put it in the page’s head, before the style sheets, then show the control again.';
    case 'notRun':
      return `The line is on the page, but its script has not run: the page or this browser holds it back. A content security policy must allow ${location.origin} in script-src and connect-src.`;
    case 'private':
      return `Look for the line in the page’s head. This server cannot look for you, since ${host} is a private address: started with UNDERSTUDY_PRIVATE_HOSTS=${host}, it can.`;
    default:
      return `Look for the line in the page’s head. This server could not look for you: ${problemWords(problem)}.`;
  }
}
