import { TextField } from '@mui/material';
import type { FieldError, UseFormRegisterReturn } from 'react-hook-form';
import { ApiError } from '../api/client.ts';

/** Whether somebody is asked for the code of their second factor. */
export const asksForCode = (error: Error | null): boolean =>
  error instanceof ApiError && error.is('second-factor', 'wrong-code');

interface CodeFieldProps {
  readonly field: UseFormRegisterReturn;
  readonly error: FieldError | undefined;
}

/** The code of a second factor. */
export function CodeField({ field, error }: CodeFieldProps) {
  return (
    <TextField
      label="Code"
      autoFocus
      autoComplete="one-time-code"
      error={Boolean(error)}
      helperText={error?.message ?? 'The six digits on your telephone, or a recovery code'}
      {...field}
    />
  );
}
