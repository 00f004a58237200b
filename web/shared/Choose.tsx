import { MenuItem, TextField } from '@mui/material';

interface ChooseProps<T extends string> {
  readonly label: string;
  readonly words: Readonly<Record<T, string>>;
  readonly value: T;
  readonly onChange: (value: T) => void;
}

/** One of a few, from a list. */
export function Choose<T extends string>({ label, words, value, onChange }: ChooseProps<T>) {
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={({ target }) => {
        onChange(target.value as T);
      }}
    >
      {Object.entries<string>(words).map(([choice, name]) => (
        <MenuItem key={choice} value={choice}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}
