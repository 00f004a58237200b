import { Autocomplete, MenuItem, TextField, ToggleButton, ToggleButtonGroup } from '@mui/material';
import { useState } from 'react';
import { parseYearDay } from '#core/model/calendar.ts';
import type { ValueOf } from '#core/facts/facts.ts';
import { DateTimeField } from '../../shared/DateTimeField.tsx';
import styles from '../fields/fields.module.css';
import { closesAtOnce, InPlace, SUGGESTIONS } from '../fields/suggestions.tsx';
import { SpanFields, spanOf, writtenSpan, type Span } from '../fields/TimeSpanField.tsx';
import type { ValueProps } from '../fields/valueProps.ts';

type Bounds = ValueOf<'moment', 'between'>;

/** From and until, either of which may be left open. */
export function BetweenFields({ value, goods, onChange }: ValueProps) {
  const [bounds, setBounds] = useState<Bounds>((value ?? {}) as Bounds);
  const set = (end: 'from' | 'until', text: string) => {
    const next: Bounds = { ...bounds, [end]: text === '' ? undefined : text };
    setBounds(next);
    onChange(next.from === undefined && next.until === undefined ? null : ordered(next));
  };
  const isInverted = bounds.from !== undefined && bounds.until !== undefined && bounds.from >= bounds.until;
  return (
    <>
      {(['from', 'until'] as const).map((end) => (
        <DateTimeField
          key={end}
          kind="moment"
          label={end === 'from' ? `From, ${goods.shop.zone.name} time` : 'Until'}
          value={withTime(bounds[end])}
          clearable
          error={end === 'until' && isInverted}
          helperText={end === 'until' && isInverted ? 'This is before it begins, so the rule never applies' : undefined}
          onChange={(text) => {
            set(end, text);
          }}
        />
      ))}
    </>
  );
}

/** A date without a time is its midnight. */
const withTime = (written: string | undefined) => (written?.length === 10 ? `${written}T00:00` : (written ?? ''));

const ordered = ({ from, until }: Bounds): Bounds => ({
  ...(from === undefined ? {} : { from }),
  ...(until === undefined ? {} : { until }),
});

type Around = ValueOf<'moment', 'around'>;
interface Side {
  readonly span: Span;
  readonly side: 'before' | 'after' | 'open';
}

/** Time before or after a date that each product has of its own. */
export function AroundFields({ value, goods, onChange }: ValueProps) {
  const given = value as Around | null;
  const [date, setDate] = useState(given?.date ?? goods.vocabulary.dates[0]?.name ?? '');
  const [from, setFrom] = useState<Side>(() =>
    given ? sideOf(given.from) : { span: { count: '120', unit: 'days' }, side: 'before' },
  );
  const [until, setUntil] = useState<Side>(() =>
    given ? sideOf(given.until) : { span: { count: '0', unit: 'days' }, side: 'before' },
  );
  const update = (name: string, start: Side, end: Side) => {
    const bounds = { from: durationOf(start), until: durationOf(end) };
    const isComplete =
      name.trim() !== '' &&
      bounds.from !== null &&
      bounds.until !== null &&
      (bounds.from ?? bounds.until) !== undefined;
    onChange(
      isComplete
        ? {
            date: name.trim(),
            ...(bounds.from === undefined ? {} : { from: bounds.from }),
            ...(bounds.until === undefined ? {} : { until: bounds.until }),
          }
        : null,
    );
  };
  return (
    <>
      <Autocomplete
        freeSolo
        autoHighlight
        open
        slots={{ popper: InPlace }}
        slotProps={{ listbox: SUGGESTIONS }}
        onKeyDown={closesAtOnce}
        options={goods.vocabulary.dates.map(({ name }) => name)}
        inputValue={date}
        onInputChange={(_event, name, reason) => {
          if (reason === 'reset' && name === '') return;
          setDate(name);
          update(name, from, until);
        }}
        renderInput={(params) => <TextField {...params} label="The product’s date" autoFocus />}
      />
      <SideFields
        label="From"
        side={from}
        onChange={(next) => {
          setFrom(next);
          update(date, next, until);
        }}
      />
      <SideFields
        label="Until"
        side={until}
        onChange={(next) => {
          setUntil(next);
          update(date, from, next);
        }}
      />
    </>
  );
}

function SideFields({
  label,
  side,
  onChange,
}: {
  readonly label: string;
  readonly side: Side;
  readonly onChange: (side: Side) => void;
}) {
  return (
    <div className={styles.three}>
      <SpanFields
        label={label}
        span={side.span}
        disabled={side.side === 'open'}
        onChange={(span) => {
          onChange({ ...side, span });
        }}
      />
      <TextField
        select
        label={`${label}, side`}
        value={side.side}
        onChange={({ target }) => {
          onChange({ ...side, side: target.value as Side['side'] });
        }}
      >
        <MenuItem value="before">before it</MenuItem>
        <MenuItem value="after">after it</MenuItem>
        <MenuItem value="open">open</MenuItem>
      </TextField>
    </div>
  );
}

function sideOf(written: string | undefined): Side {
  if (written === undefined) return { span: { count: '0', unit: 'days' }, side: 'open' };
  return { span: spanOf(written), side: written.startsWith('-') || isNow(written) ? 'before' : 'after' };
}

const isNow = (written: string) => /^-?P[^1-9]*$/.test(written);

/** ISO 8601; undefined when open, null when it is no whole number. */
function durationOf({ span, side }: Side): string | null | undefined {
  if (side === 'open') return undefined;
  const size = writtenSpan(span);
  return size === null || isNow(size) || side === 'after' ? size : `-${size}`;
}

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

export function WeeklyFields({ value, onChange }: ValueProps) {
  const [weekly, setWeekly] = useState(value as ValueOf<'moment', 'weekly'>);
  const set = (next: typeof weekly) => {
    setWeekly(next);
    onChange(next.days.length > 0 && next.from && next.until ? next : null);
  };
  return (
    <>
      <ToggleButtonGroup
        value={weekly.days}
        aria-label="Days"
        onChange={(_event, days: number[]) => {
          set({ ...weekly, days: [...days].sort((a, b) => a - b) });
        }}
      >
        {DAYS.map((name, index) => (
          <ToggleButton key={name} value={index + 1} sx={{ px: 0.8 }}>
            {name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <div className={styles.pair}>
        {(['from', 'until'] as const).map((end) => (
          <DateTimeField
            key={end}
            kind="time"
            label={end === 'from' ? 'From' : 'Until'}
            value={weekly[end]}
            onChange={(time) => {
              set({ ...weekly, [end]: time });
            }}
          />
        ))}
      </div>
    </>
  );
}

export function YearlyFields({ value, onChange }: ValueProps) {
  const [yearly, setYearly] = useState(value as ValueOf<'moment', 'yearly'>);
  const isComplete = (next: typeof yearly) =>
    parseYearDay(next.from) && parseYearDay(next.until) && next.from !== next.until;
  return (
    <div className={styles.pair}>
      {(['from', 'until'] as const).map((end) => (
        <DateTimeField
          key={end}
          kind="yearDay"
          label={end === 'from' ? 'From' : 'Until'}
          value={yearly[end]}
          onChange={(day) => {
            const next = { ...yearly, [end]: day };
            setYearly(next);
            onChange(isComplete(next) ? next : null);
          }}
        />
      ))}
    </div>
  );
}
