import type { ImportPreview } from '#core/contract/importCalls.ts';
import styles from './imports.module.css';
import { Refused } from './Refused.tsx';
import type { ImportWays } from './useImport.ts';

interface PreviewTableProps {
  readonly preview: ImportPreview;
  readonly rows: number;
  readonly ways: ImportWays;
}

/** What an import would do, before anything of it is written. */
export function PreviewTable({ preview, rows, ways }: PreviewTableProps) {
  const { created, changed, gone, refused, refusedRows, notices, examples } = preview;
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
      {created + changed > examples.length && examples.length > 0 && (
        <p className={styles.unused}>The first {examples.length} are shown.</p>
      )}
      <Refused
        refused={refused}
        rows={refusedRows}
        is={ways.badRows === 'skip' ? 'will be left out' : 'keep all others out'}
      />
    </div>
  );
}
