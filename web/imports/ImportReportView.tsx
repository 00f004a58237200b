import type { ImportReport } from '#core/contract/importCalls.ts';
import styles from './imports.module.css';
import { Refused } from './Refused.tsx';

/** Report of an import. */
export function ImportReportView({ report }: { readonly report: ImportReport }) {
  const { rows, created, changed, archived, refused, refusedRows, notices } = report;
  const asTheyWere = rows - refusedRows - created - changed;
  return (
    <div role="status" className={styles.report}>
      <p>
        <b>
          {rows - refusedRows} of {rows} rows are in.
        </b>{' '}
        {created} new, {changed} changed, {archived} archived{asTheyWere > 0 ? `, ${asTheyWere} as they were` : ''}.
      </p>
      {notices.map((notice) => (
        <p key={notice}>{notice}</p>
      ))}
      <Refused refused={refused} rows={refusedRows} is={refusedRows === 1 ? 'was refused' : 'were refused'} />
    </div>
  );
}
