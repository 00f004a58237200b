import { ToggleButton, ToggleButtonGroup } from '@mui/material';

interface Props<K extends string> {
  /** Options with their labels. */
  readonly options: Readonly<Record<K, string>>;
  readonly value: K;
  readonly label: string;
  readonly choose: (next: K) => void;
}

/** One of few, all of which stand beside each other. */
export function Choice<K extends string>({ options, value, label, choose }: Props<K>) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={value}
      aria-label={label}
      onChange={(_event, next: K | null) => {
        if (next) choose(next);
      }}
    >
      {(Object.entries(options) as [K, string][]).map(([option, words]) => (
        <ToggleButton key={option} value={option}>
          {words}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
