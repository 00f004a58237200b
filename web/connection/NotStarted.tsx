import { useQuery } from '@tanstack/react-query';
import type { getConnection } from '#core/contract/shopCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import styles from './connection.module.css';
import { problemWords } from './mapRows.ts';

/** Why no picker has started on a page of the shop, and what to do. */
export function NotStarted({ page, problem }: { readonly page: string; readonly problem: string }) {
  const connection = useQuery({
    queryKey: keys.connection,
    queryFn: async () => (await send<typeof getConnection>('get', '/api/connection')).body,
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
      return 'The page lacks the line for the page. Put it in the head, before the style sheets, then show the control again.';
    case 'notRun':
      return `The line is on the page, but its script has not run: the page or this browser holds it back. A content security policy must allow ${location.origin} in script-src and connect-src.`;
    case 'private':
      return `Whether the page has the line cannot be looked up: ${host} is a private address, which this server does not read. Look for the line in the page’s head. To have such pages read, start the server with UNDERSTUDY_PRIVATE_HOSTS=${host}`;
    default:
      return `Whether the page has the line cannot be looked up (${problemWords(problem)}). Look for the line in the page’s head.`;
  }
}
