import { Button, TextField } from '@mui/material';
import { useForm } from 'react-hook-form';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './settings.module.css';
import { useChangePassword } from './useColleagues.ts';

interface Given {
  readonly current: string;
  readonly password: string;
}

/** Changes one's own password. */
export function MyPassword() {
  const change = useChangePassword();
  const { register, handleSubmit, formState, reset } = useForm<Given>();
  const submit = handleSubmit((given) => {
    change.mutate(given, {
      onSuccess: () => {
        reset();
      },
    });
  });
  return (
    <section aria-labelledby="password-heading">
      <h2 id="password-heading">Your password</h2>
      <form className={styles.form} noValidate onSubmit={(event) => void submit(event)}>
        {change.error && <ErrorNote error={change.error} />}
        <TextField
          label="The one you have"
          type="password"
          autoComplete="current-password"
          error={Boolean(formState.errors.current)}
          helperText={formState.errors.current?.message}
          {...register('current', { required: 'Write your password' })}
        />
        <TextField
          label="A new one"
          type="password"
          autoComplete="new-password"
          error={Boolean(formState.errors.password)}
          helperText={formState.errors.password?.message ?? 'At least 10 characters. Several words do well.'}
          {...register('password', {
            required: 'Write a new password',
            minLength: { value: 10, message: 'At least 10 characters' },
          })}
        />
        <Button type="submit" variant="outlined" loading={change.isPending}>
          Change it
        </Button>
      </form>
      {change.isSuccess && <p role="status">Changed. You are signed out everywhere else.</p>}
    </section>
  );
}
