import { Button } from '@mui/material';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ImportPreview } from '#core/contract/importCalls.ts';
import { send } from '../api/client.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import work from '../shared/worklist.module.css';
import styles from './imports.module.css';
import { Refused } from './Refused.tsx';
import type { ImportWays } from './useImport.ts';

interface PreviewTableProps {
  /** The import's. */
  readonly id: string;
  readonly preview: ImportPreview;
  readonly rows: number;
  readonly ways: ImportWays;
}

/** Kinds of rows that can be shown alone, and how the server is asked for them. */
const KINDS = {
  all: { label: 'All', query: {} },
  new: { label: 'New', query: { kind: 'new' } },
  changed: { label: 'Changed', query: { kind: 'changed' } },
} as const;
type Kind = keyof typeof KINDS;
/** Rows that a browser holds without becoming slow. */
const MOST_SHOWN = 300;

/** Preview of an import. */
export function PreviewTable({ id, preview, rows, ways }: PreviewTableProps) {
  const { created, changed, gone, refused, refusedRows, notices } = preview;
  const [kind, setKind] = useState<Kind>('all');
  const { query } = KINDS[kind];
  const isOfAll = !('kind' in query);
  const pages = useInfiniteQuery({
    queryKey: ['import-examples', id, kind],
    initialPageParam: 0,
    queryFn: async ({ pageParam }) => {
      const asked = { ...query, from: pageParam };
      return (await send('GET /api/imports/{id}/examples', { params: { id }, query: asked })).body;
    },
    getNextPageParam: ({ next }) => next,
    // The first page of all came with the preview.
    enabled: !isOfAll || created + changed > preview.examples.length,
  });
  const examples = pages.data?.pages.flatMap((page) => page.examples) ?? (isOfAll ? preview.examples : []);
  const counts = { all: created + changed, new: created, changed };
  const asTheyAre = rows - refusedRows - created - changed;
  return (
    <div role="status" className={styles.report}>
      <p>
        <b>
          {created} new, {changed} changed{ways.mode === 'replace' ? `, ${gone} archived` : ''}
        </b>
        {asTheyAre > 0 ? `, ${asTheyAre} as they are` : ''}. Nothing is written yet.
      </p>
      {notices.map((notice) => (
        <p key={notice}>{notice}</p>
      ))}
      {created > 0 && changed > 0 && (
        <div role="group" aria-label="Show" className={styles.kinds}>
          {(Object.keys(KINDS) as Kind[]).map((one) => (
            <button
              key={one}
              type="button"
              className={work.state}
              aria-pressed={one === kind}
              onClick={() => {
                setKind(one);
              }}
            >
              {KINDS[one].label} {counts[one]}
            </button>
          ))}
        </div>
      )}
      {pages.error && <ErrorNote error={pages.error} />}
      {examples.length > 0 && (
        <div className={styles.scroll} role="region" aria-label="What will change" tabIndex={0}>
          <table className={`${styles.columns} ${styles.changes}`}>
            <tbody>
              {examples.map(({ key, title, isNew, fields }) => (
                <tr key={key}>
                  <th scope="row">
                    {title || key}
                    {title !== '' && <small className={styles.holds}>{key}</small>}
                  </th>
                  <td>{isNew ? 'new' : 'changed'}</td>
                  <td>
                    {fields.map(({ column, before, after }) => (
                      <span key={column} className={styles.field}>
                        <small>{column}</small> {before !== '' && <del>{before}</del>} {after || 'nothing'}
                      </span>
                    ))}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {pages.hasNextPage && examples.length < counts[kind] && (
        <Button
          variant="outlined"
          sx={{ justifySelf: 'start' }}
          disabled={pages.isFetchingNextPage || examples.length >= MOST_SHOWN}
          onClick={() => void pages.fetchNextPage()}
        >
          {examples.length >= MOST_SHOWN
            ? `The first ${MOST_SHOWN} are shown`
            : `Show more (${examples.length} of ${counts[kind]})`}
        </Button>
      )}
      <Refused
        refused={refused}
        rows={refusedRows}
        is={ways.badRows === 'skip' ? 'will be left out' : 'keep all others out'}
      />
    </div>
  );
}
