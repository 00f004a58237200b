import { TextField } from '@mui/material';

interface Props {
  readonly label: string;
  /** `YYYY-MM-DDTHH:MM` in the shop's zone; empty for none. */
  readonly value: string;
  readonly set: (value: string) => void;
}

/** A date and a time of day. */
export function TimeField({ label, value, set }: Props) {
  return (
    <TextField
      type="datetime-local"
      size="small"
      sx={{ width: 250, flex: 'none' }}
      label={label}
      value={value}
      onChange={({ target }) => {
        set(target.value);
      }}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}
