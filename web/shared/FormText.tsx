import { TextField, type TextFieldProps } from '@mui/material';
import {
  useController,
  type Control,
  type FieldPath,
  type FieldValues,
  type UseControllerProps,
} from 'react-hook-form';

type FormTextProps<Form extends FieldValues, Name extends FieldPath<Form>> = Pick<
  UseControllerProps<Form, Name>,
  'name' | 'rules'
> &
  Omit<TextFieldProps, 'name' | 'defaultValue' | 'error' | 'helperText'> & {
    readonly control: Control<Form>;
    /** Shown below the field while it has no fault. */
    readonly help?: string;
  };

/** A text field of a form, with its fault below it. */
export function FormText<Form extends FieldValues, Name extends FieldPath<Form>>({
  name,
  control,
  rules,
  help,
  ...more
}: FormTextProps<Form, Name>) {
  const {
    field: { ref, value, ...field },
    fieldState: { error },
  } = useController({ name, control, ...(rules && { rules }) });
  return (
    <TextField
      {...field}
      value={value ?? ''}
      {...more}
      inputRef={ref}
      error={error !== undefined}
      helperText={error?.message ?? help}
    />
  );
}
