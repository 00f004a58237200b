import { TextField } from '@mui/material';
import { lazy, Suspense } from 'react';
import { useShop } from '../goods/useGoods.ts';

/** What a field holds, written: a date `YYYY-MM-DD`, a moment `YYYY-MM-DDTHH:MM`, a time of day `HH:MM`, a day of every year `MM-DD`. */
export type DateTimeKind = 'date' | 'moment' | 'time' | 'yearDay';

export interface DateTimeFieldProps {
  readonly kind: DateTimeKind;
  readonly label: string;
  /** As its kind is written, in the shop's zone; empty for none. */
  readonly value: string;
  /** Called with the empty text while what is typed is not yet whole. */
  readonly onChange: (value: string) => void;
  /** May it be emptied again by a button? */
  readonly clearable?: boolean;
  readonly error?: boolean;
  readonly helperText?: string | undefined;
  readonly autoFocus?: boolean;
}

const Pickers = lazy(async () => ({ default: (await import('./DateTimePickers.tsx')).DateTimePickers }));

/** A date, a moment or a time, in the shop's zone and the owner's order of day and month; loaded where one is shown. */
export function DateTimeField(props: DateTimeFieldProps) {
  const shop = useShop();
  const waiting = <TextField label={props.label} disabled slotProps={{ inputLabel: { shrink: true } }} />;
  return shop ? (
    <Suspense fallback={waiting}>
      <Pickers {...props} zone={shop.zone.name} />
    </Suspense>
  ) : (
    waiting
  );
}
