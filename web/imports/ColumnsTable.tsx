import { MenuItem, TextField } from '@mui/material';
import { OUR_COLUMNS, PARTS } from '#core/imports/columns.ts';
import {
  namedColumn,
  NAMED_KINDS,
  type FileReading,
  type NamedKind,
  type TargetName,
} from '#core/imports/fileReading.ts';
import type { Sample } from '#core/imports/sample.ts';
import styles from './imports.module.css';

interface ColumnsTableProps {
  readonly target: TargetName;
  readonly sample: Sample;
  readonly reading: FileReading;
  readonly onChange: (reading: FileReading) => void;
}

const SHOWN = 4;
const KIND_WORDS: Readonly<Record<NamedKind, string>> = {
  attribute: 'a property of its own',
  date: 'a date of its own',
  option: 'a choice, such as a size',
};

/** The file's columns: heading, meaning, and first rows. */
export function ColumnsTable({ target, sample, reading, onChange }: ColumnsTableProps) {
  const { headings, rows } = sample;
  const ours: Readonly<Record<string, string>> = { ...OUR_COLUMNS[target], ...PARTS[target] };
  const change = (index: number, value: string | null) => {
    // No column is taken twice.
    const columns = reading.columns.map((column, at) => (at === index ? value : column === value ? null : column));
    onChange({ ...reading, columns });
  };
  return (
    <div className={styles.scroll}>
      <table className={styles.columns}>
        <thead>
          <tr>
            <th scope="col">In the file</th>
            <th scope="col">Is</th>
            <th scope="col" colSpan={SHOWN}>
              First rows
            </th>
          </tr>
        </thead>
        <tbody>
          {headings.map((heading, index) => {
            const column = reading.columns[index] ?? null;
            const kind = namedColumn(column ?? '')?.kind;
            return (
              <tr key={`${index} ${heading}`} className={column === null ? styles.unused : undefined}>
                <th scope="row">{heading}</th>
                <td>
                  <TextField
                    select
                    value={kind ?? column ?? ''}
                    slotProps={{ htmlInput: { 'aria-label': `What ${heading} is` }, select: { displayEmpty: true } }}
                    onChange={({ target: { value } }) => {
                      const isKind = (NAMED_KINDS as readonly string[]).includes(value);
                      change(index, isKind ? `${value}:${heading}` : value || null);
                    }}
                  >
                    <MenuItem value="">left out</MenuItem>
                    {Object.entries(ours).map(([name, holds]) => (
                      <MenuItem key={name} value={name}>
                        <span>
                          {name} <small className={styles.holds}>{holds}</small>
                        </span>
                      </MenuItem>
                    ))}
                    {target === 'catalog' &&
                      heading !== '' &&
                      NAMED_KINDS.map((one) => (
                        <MenuItem key={one} value={one}>
                          <span>
                            {heading} <small className={styles.holds}>{KIND_WORDS[one]}</small>
                          </span>
                        </MenuItem>
                      ))}
                  </TextField>
                </td>
                {Array.from({ length: SHOWN }, (_, at) => (
                  <td key={at} className={styles.value}>
                    {rows[at]?.[index]}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
