import { TextField } from '@mui/material';
import { lazy, Suspense } from 'react';
import { useShop } from '../goods/useShop.ts';
import type { DateTimeFieldProps } from './dateTime.ts';

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
