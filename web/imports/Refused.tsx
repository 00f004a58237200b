import { Button } from '@mui/material';
import Papa from 'papaparse';
import type { ImportReport } from '#core/contract/importCalls.ts';
import { saveAs } from '../shared/save.ts';
import styles from './imports.module.css';

const SHOWN = 200;

/** Problems of refused rows. */
export function Refused({ refused, rows, is }: { refused: ImportReport['refused']; rows: number; is: string }) {
  if (rows === 0) return null;
  return (
    <>
      <h3>
        {rows} row{rows === 1 ? '' : 's'} {is}
      </h3>
      <div className={styles.scroll} role="region" aria-label="Refused rows" tabIndex={0}>
        <table className={styles.columns}>
          <thead>
            <tr>
              <th scope="col">Line</th>
              <th scope="col">Column</th>
              <th scope="col">Why</th>
            </tr>
          </thead>
          <tbody>
            {refused.slice(0, SHOWN).map(({ line, column, reason }) => (
              <tr key={`${line} ${column ?? ''} ${reason}`}>
                <td>{line}</td>
                <td>{column}</td>
                <td>{reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button
        variant="outlined"
        sx={{ justifySelf: 'start' }}
        onClick={() => {
          saveAs('refused.csv', 'text/csv', Papa.unparse([...refused], { escapeFormulae: true }));
        }}
      >
        Download what was refused
      </Button>
    </>
  );
}
