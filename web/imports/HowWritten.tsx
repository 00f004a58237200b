import type { DateForm, Encoding, FileReading, Separator } from '#core/imports/fileReading.ts';
import { Choose } from '../shared/Choose.tsx';
import styles from './imports.module.css';

const SEPARATOR_WORDS: Readonly<Record<Separator, string>> = {
  ',': 'a comma ,',
  ';': 'a semicolon ;',
  '\t': 'a tab',
  '|': 'a bar |',
};
const ENCODING_WORDS: Readonly<Record<Encoding, string>> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16',
  'utf-16be': 'UTF-16, high byte first',
  'windows-1252': 'Windows-1252',
};
const DATE_WORDS: Readonly<Record<DateForm, string>> = {
  dmy: '31/12/2026',
  mdy: '12/31/2026',
  ymd: '2026-12-31',
};

interface HowWrittenProps {
  readonly reading: FileReading;
  readonly asksForDates: boolean;
  readonly onChange: (reading: FileReading) => void;
}

/** Detected file format, which can be corrected. */
export function HowWritten({ reading, asksForDates, onChange }: HowWrittenProps) {
  return (
    <>
      {asksForDates && (
        <p role="alert" className={styles.lacking}>
          Which is the month in the file’s dates? Both numbers could be: choose how they are written.
        </p>
      )}
      <div className={styles.written}>
        <Choose
          label="Cells end at"
          words={SEPARATOR_WORDS}
          value={reading.separator}
          onChange={(separator) => {
            onChange({ ...reading, separator });
          }}
        />
        <Choose
          label="Signs are in"
          words={ENCODING_WORDS}
          value={reading.encoding}
          onChange={(encoding) => {
            onChange({ ...reading, encoding });
          }}
        />
        <Choose
          label="Numbers look like"
          words={{ '.': '1,234.50', ',': '1.234,50' }}
          value={reading.decimal}
          onChange={(decimal) => {
            onChange({ ...reading, decimal });
          }}
        />
        <Choose<DateForm | ''>
          label="Dates look like"
          words={{ '': 'choose', ...DATE_WORDS }}
          value={asksForDates ? '' : reading.dates}
          onChange={(dates) => {
            if (dates !== '') onChange({ ...reading, dates });
          }}
        />
      </div>
    </>
  );
}
