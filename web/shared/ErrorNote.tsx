import { ApiError } from '../api/client.ts';
import styles from './shared.module.css';

/** Error with its advice and all its details. */
export function ErrorNote({ error }: { readonly error: Error }) {
  const faults = error instanceof ApiError ? (error.problem.errors ?? []) : [];
  return (
    <div className={styles.error} role="alert">
      <p>{error.message}</p>
      {faults.length > 0 && (
        <ul>
          {faults.map(({ pointer, found, allowed }) => (
            <li key={`${pointer} ${allowed}`}>
              <code>{pointer}</code> has {found}; allowed is {allowed}.
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
