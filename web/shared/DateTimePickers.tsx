import { AdapterLuxon } from '@mui/x-date-pickers/AdapterLuxon';
import { DateField } from '@mui/x-date-pickers/DateField';
import { DesktopDatePicker } from '@mui/x-date-pickers/DesktopDatePicker';
import { DesktopDateTimePicker } from '@mui/x-date-pickers/DesktopDateTimePicker';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { TimeField } from '@mui/x-date-pickers/TimeField';
import { DateTime } from 'luxon';
import { useState, type KeyboardEvent, type ReactNode } from 'react';
import type { DateTimeFieldProps, DateTimeKind } from './dateTime.ts';

interface Props extends DateTimeFieldProps {
  /** An IANA name. */
  readonly zone: string;
}

/** A year that has every day. */
const LEAP_YEAR = '2028';

/** Year added to a written value that has none. */
const YEAR: Readonly<Record<DateTimeKind, string>> = { date: '', moment: '', time: '', yearDay: `${LEAP_YEAR}-` };

const WRITTEN: Readonly<Record<DateTimeKind, string>> = {
  date: 'yyyy-LL-dd',
  moment: "yyyy-LL-dd'T'HH:mm",
  time: 'HH:mm',
  yearDay: 'LL-dd',
};

/** The parts of a day in the order that the owner's browser has them; months by name, so that no order misleads. */
function ordered(parts: Readonly<Partial<Record<Intl.DateTimeFormatPartTypes, string>>>): string {
  const asWritten = new Intl.DateTimeFormat(navigator.language, { year: 'numeric', month: 'short', day: 'numeric' });
  return asWritten
    .formatToParts()
    .flatMap(({ type }) => parts[type] ?? [])
    .join(' ');
}

const DAY = { day: 'dd', month: 'LLL' };
const SHOWN: Readonly<Record<DateTimeKind, string>> = {
  date: ordered({ ...DAY, year: 'yyyy' }),
  moment: `${ordered({ ...DAY, year: 'yyyy' })} HH:mm`,
  time: 'HH:mm',
  yearDay: ordered(DAY),
};

/** Placeholders of empty fields. */
const EMPTY = {
  fieldYearPlaceholder: () => 'year',
  fieldMonthPlaceholder: () => 'month',
  fieldDayPlaceholder: () => 'day',
  fieldHoursPlaceholder: () => 'hh',
  fieldMinutesPlaceholder: () => 'mm',
};

/** MUI's fields and calendars over the text that rules and calls hold. */
export function DateTimePickers({
  kind,
  label,
  value,
  onChange,
  clearable,
  error,
  helperText,
  autoFocus,
  zone,
}: Props) {
  const read = (written: string): DateTime | null =>
    written === '' ? null : DateTime.fromISO(YEAR[kind] + written, { zone });
  const [given, setGiven] = useState(value);
  const [reported, setReported] = useState(value);
  const [at, setAt] = useState<DateTime | null>(() => read(value));
  if (given !== value) {
    setGiven(value);
    // Ignores the value that comes back while somebody is typing.
    if (value !== reported) setAt(read(value));
  }
  const [isOpen, setOpen] = useState(false);
  const closesCalendar = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    setOpen(false);
  };
  const field = {
    label,
    value: at,
    format: SHOWN[kind],
    timezone: zone,
    autoFocus: autoFocus ?? false,
    onChange: (next: DateTime | null, { validationError }: { readonly validationError: string | null }) => {
      const text = validationError === null ? written(next, kind) : '';
      setAt(next);
      setReported(text);
      onChange(text);
    },
  };
  const outlined = {
    helperText,
    size: 'small',
    fullWidth: true,
    ...(error ? { error } : {}),
  } as const;
  const calendar = {
    open: isOpen,
    onOpen: () => {
      setOpen(true);
    },
    onClose: () => {
      setOpen(false);
    },
    slotProps: {
      textField: outlined,
      field: { clearable: clearable ?? false },
      // Escape closes the calendar, not the dialog around it.
      popper: { onKeyDown: closesCalendar },
      desktopTransition: { timeout: 0 },
    },
  };
  const drawn: Readonly<Record<DateTimeKind, () => ReactNode>> = {
    moment: () => <DesktopDateTimePicker {...field} ampm={false} timeSteps={{ minutes: 15 }} {...calendar} />,
    date: () => <DesktopDatePicker {...field} {...calendar} />,
    time: () => <TimeField {...field} {...outlined} ampm={false} />,
    yearDay: () => (
      <DateField {...field} {...outlined} referenceDate={DateTime.fromISO(`${LEAP_YEAR}-01-01`, { zone })} />
    ),
  };
  return (
    <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale="en-GB" localeText={EMPTY}>
      {drawn[kind]()}
    </LocalizationProvider>
  );
}

const written = (at: DateTime | null, kind: DateTimeKind) => (at?.isValid ? at.toFormat(WRITTEN[kind]) : '');
