import { Autocomplete, TextField } from '@mui/material';
import { Controller, type Control, type FieldPath, type FieldValues } from 'react-hook-form';
import type { Option } from './choices.ts';

interface FromListProps<Form extends FieldValues> {
  readonly name: FieldPath<Form>;
  readonly label: string;
  readonly help?: string;
  readonly options: readonly Option[];
  readonly control: Control<Form>;
}

/** One of a long list, found by typing. */
export function OneOf<Form extends FieldValues>({ name, label, help, options, control }: FromListProps<Form>) {
  return (
    <Controller
      name={name}
      control={control}
      rules={{ required: 'Choose one' }}
      render={({ field: { value, onChange, ref }, fieldState }) => (
        <Autocomplete
          fullWidth
          options={options}
          value={options.find(({ code }) => code === value) ?? null}
          getOptionLabel={(option) => option.name}
          getOptionKey={(option) => option.code}
          onChange={(_event, option) => {
            onChange(option?.code ?? '');
          }}
          renderInput={(input) => (
            <TextField
              {...input}
              inputRef={ref}
              label={label}
              error={Boolean(fieldState.error)}
              helperText={fieldState.error?.message ?? help}
            />
          )}
        />
      )}
    />
  );
}

/** Several of a long list, in the order in which they are chosen. */
export function Several<Form extends FieldValues>({ name, label, help, options, control }: FromListProps<Form>) {
  return (
    <Controller
      name={name}
      control={control}
      rules={{ validate: (codes: readonly string[]) => codes.length > 0 || 'Choose at least one' }}
      render={({ field: { value, onChange, ref }, fieldState }) => (
        <Autocomplete
          fullWidth
          multiple
          disableCloseOnSelect
          options={options}
          value={(value as readonly string[]).flatMap((code) => options.find((option) => option.code === code) ?? [])}
          getOptionLabel={(option) => option.name}
          getOptionKey={(option) => option.code}
          onChange={(_event, chosen) => {
            onChange(chosen.map(({ code }) => code));
          }}
          renderInput={(input) => (
            <TextField
              {...input}
              inputRef={ref}
              label={label}
              error={Boolean(fieldState.error)}
              helperText={fieldState.error?.message ?? help}
            />
          )}
        />
      )}
    />
  );
}
