import { Button, Checkbox, Dialog, FormControlLabel, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { isColumn, KEYS } from '#core/imports/columns.ts';
import type { FileReading } from '#core/imports/fileReading.ts';
import { guessReading } from '#core/imports/guessReading.ts';
import type { Sample } from '#core/imports/sample.ts';
import { Choose } from '../shared/Choose.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { FileButton } from '../shared/FileButton.tsx';
import { ColumnsTable } from './ColumnsTable.tsx';
import { sampleOfFile } from './fileSample.ts';
import { Feeds } from './Feeds.tsx';
import { HowWritten } from './HowWritten.tsx';
import { ImportReportView } from './ImportReportView.tsx';
import styles from './imports.module.css';
import { PreviewTable } from './PreviewTable.tsx';
import { isUnderWay, RecentImports } from './RecentImports.tsx';
import type { ImportTarget } from './targets.ts';
import { readingOf, useImport, type ImportWays } from './useImport.ts';

interface ChosenFile {
  readonly file: File;
  readonly sample: Sample;
  readonly reading: FileReading;
  /** Nobody can tell which number of its dates is the month. */
  readonly asksForDates: boolean;
  /** Whether an earlier file with these headings says how to read this one. */
  readonly isRemembered: boolean;
}

const importWords = (rows: number) => `Import ${rows} ${rows === 1 ? 'row' : 'rows'}`;

interface ImportDialogProps {
  readonly target: ImportTarget;
  readonly onClose: () => void;
}

/** Imports a CSV file: columns, preview, progress, and refused rows with reasons. */
export function ImportDialog({ target, onClose }: ImportDialogProps) {
  const [chosen, setChosen] = useState<ChosenFile | null>(null);
  const [ways, setWays] = useState<ImportWays>({ mode: 'merge', badRows: 'skip' });
  /** The import whose archiving was confirmed. */
  const [confirmed, setConfirmed] = useState<string | null>(null);
  const [unreadable, setUnreadable] = useState<string | null>(null);
  const { job, isSending, error, look, start, drop } = useImport(target);

  const read = async (file: File, known?: Partial<Pick<FileReading, 'encoding' | 'separator'>>) => {
    drop();
    try {
      const sample = await sampleOfFile(file, known);
      if (sample.rows.length === 0) throw new Error(`${file.name} has no rows below a header.`);
      const remembered = known ? null : await readingOf(target, sample.headings);
      const guess = guessReading(target.name, sample);
      setUnreadable(null);
      setChosen({
        file,
        sample: remembered ? await sampleOfFile(file, remembered) : sample,
        reading: remembered ?? guess.reading,
        asksForDates: remembered === null && guess.asksForDates,
        isRemembered: remembered !== null,
      });
    } catch (reason) {
      setChosen(null);
      setUnreadable(reason instanceof Error ? reason.message : `${file.name} could not be read.`);
    }
  };
  const change = (reading: FileReading) => {
    drop();
    setChosen(chosen && { ...chosen, reading, asksForDates: false });
  };
  const lacksKey = chosen !== null && !KEYS[target.name].some((key) => chosen.reading.columns.includes(key));
  const isOdd = chosen?.reading.columns.some((column) => column !== null && !isColumn(target.name, column)) ?? false;
  const isMatching = chosen !== null && !job;
  const isBusy = isSending || (job !== undefined && isUnderWay(job));
  const close = () => {
    drop();
    onClose();
  };
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="import-title">
      <div className={styles.dialog}>
        <h2 id="import-title">{target.title}</h2>
        {(!job || job.state === 'previewed') && (
          <p className={styles.choose}>
            <FileButton
              variant={chosen ? 'outlined' : 'contained'}
              accept=".csv,.tsv,.txt,text/csv,text/plain,text/tab-separated-values"
              onChoose={(file) => void read(file)}
            >
              {chosen ? 'Choose another file' : 'Choose a CSV file'}
            </FileButton>
            <span>
              {chosen
                ? `${chosen.file.name}: ${chosen.sample.headings.length} columns${chosen.isRemembered ? ', matched as last time' : ''}`
                : `One row a ${target.rowIs}, with a header row, from whatever program writes yours.`}
            </span>
          </p>
        )}
        {unreadable !== null && <p role="alert">{unreadable}</p>}
        {isMatching && (
          <>
            <ColumnsTable target={target.name} sample={chosen.sample} reading={chosen.reading} onChange={change} />
            {lacksKey && (
              <p role="alert" className={styles.lacking}>
                Say which column is {target.keyWords}: without one of them no row can be told from another.
              </p>
            )}
            <HowWritten
              reading={chosen.reading}
              asksForDates={chosen.asksForDates}
              onChange={(reading) => {
                const { encoding, separator } = reading;
                const isOtherwise = encoding !== chosen.reading.encoding || separator !== chosen.reading.separator;
                if (isOtherwise) void read(chosen.file, { encoding, separator });
                else change(reading);
              }}
            />
            <div className={styles.ways}>
              <Choose
                label="What the file does not name"
                words={{ merge: 'stays as it is', replace: 'is archived' }}
                value={ways.mode}
                onChange={(mode) => {
                  setWays({ ...ways, mode });
                }}
              />
              <Choose
                label="Rows with a fault"
                words={{ skip: 'are left out, the others go in', refuseAll: 'keep all rows out' }}
                value={ways.badRows}
                onChange={(badRows) => {
                  setWays({ ...ways, badRows });
                }}
              />
            </div>
          </>
        )}
        {error && <ErrorNote error={error} />}
        {isBusy && (
          <div role="status">
            <p>
              {!job
                ? 'Sending…'
                : job.state === 'previewing'
                  ? `${job.rowsDone} of ${job.rows} rows are looked at. Nothing is written yet.`
                  : `${job.rowsDone} of ${job.rows} rows are in. You can leave; it goes on.`}
            </p>
            <LinearProgress
              aria-label="Rows"
              variant={job ? 'determinate' : 'indeterminate'}
              value={job ? (job.rowsDone / Math.max(1, job.rows)) * 100 : 0}
            />
          </div>
        )}
        {job?.state === 'previewed' && job.preview && (
          <PreviewTable id={job.id} preview={job.preview} rows={job.rows} ways={ways} />
        )}
        {job?.state === 'previewed' && job.preview?.needsConfirmation && (
          <FormControlLabel
            control={
              <Checkbox
                checked={confirmed === job.id}
                onChange={(_event, isChecked) => {
                  setConfirmed(isChecked ? job.id : null);
                }}
              />
            }
            label={`Archive ${job.preview.gone}, more than a tenth of what there is`}
          />
        )}
        {job?.state === 'failed' && <p role="alert">It failed: {job.error}.</p>}
        {job?.state === 'cancelled' && <p role="status">It was stopped. What is in can be undone below.</p>}
        {job?.report && <ImportReportView report={job.report} />}
        {(!chosen || (job && job.state !== 'previewed' && job.state !== 'previewing')) && (
          <>
            <RecentImports target={target.name} />
            <Feeds target={target.name} />
          </>
        )}
        <footer>
          {job?.state === 'previewed' && <Button onClick={drop}>Back to the columns</Button>}
          <Button onClick={close}>{job && job.state !== 'previewed' ? 'Close' : 'Cancel'}</Button>
          {isMatching && (
            <Button
              variant="contained"
              disabled={lacksKey || isOdd || chosen.asksForDates}
              loading={isSending}
              onClick={() => {
                const { file, reading, sample } = chosen;
                look({ file, reading, headings: sample.headings, ...ways });
              }}
            >
              See what will change
            </Button>
          )}
          {job?.state === 'previewed' && job.preview && (
            <Button
              variant="contained"
              disabled={
                (ways.badRows === 'refuseAll' && job.preview.refusedRows > 0) ||
                (job.preview.needsConfirmation && confirmed !== job.id)
              }
              onClick={start}
            >
              {importWords(job.rows - job.preview.refusedRows)}
            </Button>
          )}
        </footer>
      </div>
    </Dialog>
  );
}
