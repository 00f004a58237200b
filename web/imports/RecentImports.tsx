import { Button } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Import, ImportState } from '#core/contract/importCalls.ts';
import { ApiError, send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useShop } from '../goods/useShop.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { momentWords } from '../shared/times.ts';
import styles from './imports.module.css';

const POLL_MS = 1000;
const SHOWN = 5;

const UNDER_WAY: readonly ImportState[] = ['reading', 'previewing', 'waiting', 'running', 'undoing'];
export const isUnderWay = ({ state }: { readonly state: ImportState }): boolean => UNDER_WAY.includes(state);

const counted = ({ created, changed, archived }: Import) =>
  `${created} new, ${changed} changed${archived > 0 ? `, ${archived} archived` : ''}`;

/** State of an import, in words. */
export function stateWords(one: Import): string {
  switch (one.state) {
    case 'reading':
      return 'being read';
    case 'previewing':
      return `${one.rowsDone} of ${one.rows} rows looked at`;
    case 'previewed':
      return 'looked at, not started';
    case 'waiting':
      return 'waits for its turn';
    case 'running':
      return `${one.rowsDone} of ${one.rows} rows`;
    case 'undoing':
      return 'being undone';
    case 'done':
      return counted(one);
    case 'cancelled':
      return `stopped after ${one.rowsDone} of ${one.rows} rows: ${counted(one)}`;
    case 'interrupted':
      return 'interrupted: the server stopped while it read the file. Import it again';
    case 'failed':
      return `failed: ${one.error ?? 'for an unknown reason'}`;
    case 'undone':
      return 'undone';
  }
}

/** The newest imports with their results, to stop or undo. */
export function RecentImports({ target }: { readonly target: Import['target'] }) {
  const client = useQueryClient();
  const shop = useShop();
  const recent = useQuery({
    queryKey: keys.imports(target),
    queryFn: async () => (await send('GET /api/imports', { query: { target } })).body.imports,
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? POLL_MS : false),
  });
  const act = useMutation({
    mutationFn: ({ id, how }: { id: string; how: 'start' | 'confirmed' | 'cancellation' | 'undoing' }) =>
      how === 'confirmed'
        ? send('POST /api/imports/{id}/start', { params: { id }, query: { archive: 'true' } })
        : send(`POST /api/imports/{id}/${how}`, { params: { id } }),
    onError: (error, { id }) => {
      if (error instanceof ApiError && error.is('needs-confirmation')) setConfirming({ id, what: error.message });
    },
    onSettled: () => client.invalidateQueries(),
  });
  /** An import that archives so much that it must be confirmed, and why. */
  const [confirming, setConfirming] = useState<{ readonly id: string; readonly what: string } | null>(null);
  const [undoing, setUndoing] = useState<string | null>(null);
  if (!recent.data || recent.data.length === 0 || !shop) return null;
  return (
    <section aria-labelledby="recent-imports">
      <h3 id="recent-imports">Recent imports</h3>
      {act.error && confirming === null && <ErrorNote error={act.error} />}
      <ul className={styles.recent}>
        {recent.data.slice(0, SHOWN).map((one) => (
          <li key={one.id} className={one.state === 'failed' || one.state === 'interrupted' ? styles.bad : undefined}>
            <time dateTime={one.createdAt}>{momentWords(Date.parse(one.createdAt), shop.zone)}</time>
            <span>
              {stateWords(one)}
              {one.refused > 0 && `, ${one.refused} refused`}
            </span>
            {one.state === 'previewed' && confirming?.id === one.id ? (
              <Confirmation
                label="Confirm this import"
                text={confirming.what}
                action="Import and archive"
                isPending={act.isPending}
                confirm={() => {
                  setConfirming(null);
                  act.mutate({ id: one.id, how: 'confirmed' });
                }}
                cancel={() => {
                  setConfirming(null);
                }}
              />
            ) : one.state === 'previewed' ? (
              <div className={styles.confirm} role="group" aria-label="This import">
                <Button
                  size="small"
                  disabled={act.isPending}
                  onClick={() => {
                    act.mutate({ id: one.id, how: 'start' });
                  }}
                >
                  Import it
                </Button>
                <Button
                  size="small"
                  disabled={act.isPending}
                  onClick={() => {
                    act.mutate({ id: one.id, how: 'cancellation' });
                  }}
                >
                  Drop it
                </Button>
              </div>
            ) : one.state === 'waiting' || one.state === 'running' ? (
              <Button
                size="small"
                disabled={act.isPending}
                onClick={() => {
                  act.mutate({ id: one.id, how: 'cancellation' });
                }}
              >
                Stop
              </Button>
            ) : undoing === one.id ? (
              <Confirmation
                label="Undo this import"
                text="Put back what it changed, and archive what is new?"
                action="Undo the import"
                isPending={act.isPending}
                confirm={() => {
                  setUndoing(null);
                  act.mutate({ id: one.id, how: 'undoing' });
                }}
                cancel={() => {
                  setUndoing(null);
                }}
              />
            ) : (
              one.canUndo && (
                <Button
                  size="small"
                  disabled={act.isPending}
                  onClick={() => {
                    setUndoing(one.id);
                  }}
                >
                  Undo…
                </Button>
              )
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

interface ConfirmationProps {
  readonly label: string;
  readonly text: string;
  readonly action: string;
  readonly isPending: boolean;
  readonly confirm: () => void;
  readonly cancel: () => void;
}

/** Asks in place before an import is undone, or archives much. */
function Confirmation({ label, text, action, isPending, confirm, cancel }: ConfirmationProps) {
  return (
    <div className={styles.confirm} role="group" aria-label={label}>
      <span>{text}</span>
      <Button size="small" variant="contained" disabled={isPending} onClick={confirm}>
        {action}
      </Button>
      <Button size="small" onClick={cancel}>
        Cancel
      </Button>
    </div>
  );
}
