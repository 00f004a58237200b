import { MenuItem, TextField } from '@mui/material';
import { useState } from 'react';
import { parseDuration } from '#core/model/calendar.ts';
import styles from './fields.module.css';

const UNITS = ['hours', 'days', 'weeks', 'months'] as const;
type Unit = (typeof UNITS)[number];

/** A length of time in one unit. */
export interface Span {
  readonly count: string;
  readonly unit: Unit;
}

/** An ISO 8601 duration in its own unit, or in days if it has several. */
export function spanOf(written: string | undefined): Span {
  const duration = written === undefined ? null : parseDuration(written);
  if (!duration) return { count: '', unit: 'days' };
  const { months, days, exact } = duration;
  if (months !== 0) return { count: String(Math.abs(months)), unit: 'months' };
  if (days === 0 && exact !== 0) return { count: String(Math.abs(exact) / 3_600_000), unit: 'hours' };
  return { count: String(Math.abs(days)), unit: 'days' };
}

/** ISO 8601 without a sign; null when it is no whole number. */
export function writtenSpan({ count, unit }: Span): string | null {
  if (!/^\d{1,4}$/.test(count)) return null;
  return {
    hours: `PT${Number(count)}H`,
    days: `P${Number(count)}D`,
    weeks: `P${Number(count)}W`,
    months: `P${Number(count)}M`,
  }[unit];
}

interface SpanFieldsProps {
  readonly label: string;
  readonly span: Span;
  readonly disabled?: boolean;
  readonly autoFocus?: boolean;
  readonly onChange: (span: Span) => void;
}

/** A count and its unit, side by side. */
export function SpanFields({ label, span, disabled = false, autoFocus, onChange }: SpanFieldsProps) {
  return (
    <>
      <TextField
        label={label}
        type="number"
        value={span.count}
        disabled={disabled}
        autoFocus={autoFocus === true}
        slotProps={{ htmlInput: { min: 0, max: 9999 } }}
        onChange={({ target }) => {
          onChange({ ...span, count: target.value });
        }}
      />
      <TextField
        select
        label={`${label}, unit`}
        value={span.unit}
        disabled={disabled}
        onChange={({ target }) => {
          onChange({ ...span, unit: target.value as Unit });
        }}
      >
        {UNITS.map((unit) => (
          <MenuItem key={unit} value={unit}>
            {unit}
          </MenuItem>
        ))}
      </TextField>
    </>
  );
}

interface TimeSpanFieldProps {
  readonly label: string;
  /** ISO 8601. */
  readonly span: string | undefined;
  readonly onChange: (span: string) => void;
}

export function TimeSpanField({ label, span, onChange }: TimeSpanFieldProps) {
  const [parts, setParts] = useState(() => spanOf(span));
  return (
    <div className={styles.pair}>
      <SpanFields
        label={label}
        span={parts}
        autoFocus
        onChange={(next) => {
          setParts(next);
          const written = writtenSpan(next);
          if (written !== null) onChange(written);
        }}
      />
    </div>
  );
}
