import { Button, Dialog, LinearProgress, MenuItem, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import Papa from 'papaparse';
import { useState } from 'react';
import type { getJob, importCatalog, ImportReport } from '#core/contract/importCalls.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { Choose } from '../shared/Choose.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { FileButton } from '../shared/FileButton.tsx';
import { saveAs } from '../shared/save.ts';
import styles from './imports.module.css';
import { isUnderWay, RecentImports } from './RecentImports.tsx';
import { matched, type ImportTarget } from './targets.ts';

interface ChosenFile {
  readonly name: string;
  readonly headers: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

interface ImportDialogProps {
  readonly target: ImportTarget;
  readonly onClose: () => void;
}

const PREVIEWED = 4;
const POLL_MS = 700;

/** Brings a CSV file in: its columns matched, a look at what will be read, progress, and what was refused and why. */
export function ImportDialog({ target, onClose }: ImportDialogProps) {
  const client = useQueryClient();
  const [file, setFile] = useState<ChosenFile | null>(null);
  const [columns, setColumns] = useState<readonly (string | null)[]>([]);
  const [mode, setMode] = useState<'merge' | 'replace'>('merge');
  const [badRows, setBadRows] = useState<'skip' | 'refuseAll'>('skip');
  const [unreadable, setUnreadable] = useState<string | null>(null);
  const sending = useMutation({
    mutationFn: async (chosen: ChosenFile) => {
      const address = `${target.address}?mode=${mode}&badRows=${badRows}`;
      const { body } = await send<typeof importCatalog>('post', address, { csv: asOurs(chosen, columns) });
      return body;
    },
    onSuccess: () => client.invalidateQueries(),
  });
  const job = sending.data && 'id' in sending.data ? sending.data : null;
  const progress = useQuery({
    queryKey: keys.job(job?.id ?? ''),
    queryFn: async () => {
      const { body } = await send<typeof getJob>('get', `/api/jobs/${job?.id ?? ''}`);
      if (!isUnderWay(body)) await client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'job' });
      return body;
    },
    enabled: job !== null,
    refetchInterval: ({ state }) => (state.data && !isUnderWay(state.data) ? false : POLL_MS),
  });
  const running = job && (progress.data ?? job);
  const report = sending.data && !('id' in sending.data) ? sending.data : running?.report;

  const choose = async (chosen: File) => {
    const { data, errors } = Papa.parse<string[]>((await chosen.text()).replace(/^\uFEFF/, ''), {
      skipEmptyLines: true,
    });
    const [headers, ...rows] = data;
    const isReadable = headers !== undefined && rows.length > 0;
    setUnreadable(
      isReadable ? null : `${chosen.name} has no rows below a header${errors[0] ? `: ${errors[0].message}` : ''}.`,
    );
    setFile(isReadable ? { name: chosen.name, headers, rows } : null);
    setColumns(isReadable ? matched(headers, target) : []);
    sending.reset();
  };
  const [needed = ''] = Object.keys(target.columns);
  const lacksKey = !columns.includes(needed);
  const isDone = report !== null && report !== undefined;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="import-title">
      <div className={styles.dialog}>
        <h2 id="import-title">{target.title}</h2>
        {!isDone && !running && (
          <p className={styles.choose}>
            <FileButton
              variant={file ? 'outlined' : 'contained'}
              accept=".csv,text/csv"
              onChoose={(chosen) => void choose(chosen)}
            >
              {file ? 'Choose another file' : 'Choose a CSV file'}
            </FileButton>
            <span>
              {file
                ? `${file.name}: ${file.rows.length} rows, ${file.headers.length} columns`
                : `One row a ${target.rowIs}, with a header row.`}
            </span>
          </p>
        )}
        {unreadable !== null && <p role="alert">{unreadable}</p>}
        {file && !isDone && !running && (
          <>
            <Columns file={file} columns={columns} target={target} onChange={setColumns} />
            {lacksKey && (
              <p role="alert" className={styles.lacking}>
                Say which column is <code>{needed}</code>: without it no row can be told from another.
              </p>
            )}
            <div className={styles.ways}>
              <Choose
                label={`What the file does not name`}
                words={{ merge: 'stays as it is', replace: 'is archived' }}
                value={mode}
                onChange={setMode}
              />
              <Choose
                label="Rows with a fault"
                words={{ skip: 'are left out, the others go in', refuseAll: 'keep all rows out' }}
                value={badRows}
                onChange={setBadRows}
              />
            </div>
          </>
        )}
        {sending.error && <ErrorNote error={sending.error} />}
        {(sending.isPending || (running && isUnderWay(running))) && (
          <div role="status">
            <p>
              {running ? `${running.rowsDone} of ${running.rows} rows are in. You can leave; it goes on.` : 'Sending…'}
            </p>
            <LinearProgress
              aria-label="Imported rows"
              variant={running ? 'determinate' : 'indeterminate'}
              value={running ? (running.rowsDone / Math.max(1, running.rows)) * 100 : 0}
            />
          </div>
        )}
        {running?.state === 'failed' && <p role="alert">It failed: {running.error}.</p>}
        {running?.state === 'cancelled' && <p role="status">It was stopped. What is in can be undone below.</p>}
        {isDone && <Report report={report} />}
        {!file || running || isDone ? <RecentImports target={target.name} /> : null}
        <footer>
          <Button onClick={onClose}>{isDone || running ? 'Close' : 'Cancel'}</Button>
          {file && !isDone && !running && (
            <Button
              variant="contained"
              disabled={lacksKey || sending.isPending}
              onClick={() => {
                sending.mutate(file);
              }}
            >
              Import {file.rows.length} rows
            </Button>
          )}
        </footer>
      </div>
    </Dialog>
  );
}

/** The file under our own headers, without the columns that mean nothing to us. */
function asOurs({ rows }: ChosenFile, columns: readonly (string | null)[]): string {
  const kept = columns.flatMap((column, index) => (column === null ? [] : [{ column, index }]));
  return Papa.unparse([
    kept.map(({ column }) => column),
    ...rows.map((row) => kept.map(({ index }) => row[index] ?? '')),
  ]);
}

interface ColumnsProps {
  readonly file: ChosenFile;
  readonly columns: readonly (string | null)[];
  readonly target: ImportTarget;
  readonly onChange: (columns: readonly (string | null)[]) => void;
}

/** Each column of the file: what it is called there, what it is to us, and its first rows. */
function Columns({ file, columns, target, onChange }: ColumnsProps) {
  return (
    <div className={styles.scroll}>
      <table className={styles.columns}>
        <thead>
          <tr>
            <th scope="col">In the file</th>
            <th scope="col">Is</th>
            <th scope="col" colSpan={PREVIEWED}>
              First rows
            </th>
          </tr>
        </thead>
        <tbody>
          {file.headers.map((header, index) => (
            <tr key={`${index} ${header}`} className={columns[index] === null ? styles.unused : undefined}>
              <th scope="row">{header}</th>
              <td>
                <TextField
                  select
                  value={columns[index] ?? ''}
                  slotProps={{ htmlInput: { 'aria-label': `What ${header} is` }, select: { displayEmpty: true } }}
                  onChange={({ target: { value } }) => {
                    onChange(
                      columns.map((column, at) => (at === index ? value || null : column === value ? null : column)),
                    );
                  }}
                >
                  <MenuItem value="">left out</MenuItem>
                  {Object.entries(target.columns).map(([column, holds]) => (
                    <MenuItem key={column} value={column}>
                      <span>
                        {column} <small className={styles.holds}>{holds}</small>
                      </span>
                    </MenuItem>
                  ))}
                </TextField>
              </td>
              {file.rows.slice(0, PREVIEWED).map((row, at) => (
                <td key={at} className={styles.value}>
                  {row[index]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What came of it. */
function Report({ report }: { readonly report: ImportReport }) {
  const { rows, created, changed, archived, refused, notices } = report;
  const asTheyWere = rows - refused.length - created - changed;
  return (
    <div role="status" className={styles.report}>
      <p>
        <b>
          {rows - refused.length} of {rows} rows are in.
        </b>{' '}
        {created} new, {changed} changed, {archived} archived{asTheyWere > 0 ? `, ${asTheyWere} as they were` : ''}.
      </p>
      {notices.map((notice) => (
        <p key={notice}>{notice}</p>
      ))}
      {refused.length > 0 && (
        <>
          <h3>
            {refused.length} row{refused.length === 1 ? ' was' : 's were'} refused
          </h3>
          <div className={styles.scroll}>
            <table className={styles.columns}>
              <thead>
                <tr>
                  <th scope="col">Line</th>
                  <th scope="col">Column</th>
                  <th scope="col">Why</th>
                </tr>
              </thead>
              <tbody>
                {refused.slice(0, 200).map(({ line, column, reason }) => (
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
              saveAs('refused.csv', 'text/csv', Papa.unparse([...refused]));
            }}
          >
            Download what was refused
          </Button>
        </>
      )}
    </div>
  );
}
