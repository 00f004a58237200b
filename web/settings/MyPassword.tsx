import { Button } from '@mui/material';
import { useForm } from 'react-hook-form';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './settings.module.css';
import { useChangePassword } from './useColleagues.ts';
import { FormText } from '../shared/FormText.tsx';

interface Given {
  readonly current: string;
  readonly password: string;
}

/** Changes one's own password. */
export function MyPassword() {
  const change = useChangePassword();
  const { handleSubmit, control, reset } = useForm<Given>();
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
        <FormText
          name="current"
          label="The one you have"
          type="password"
          autoComplete="current-password"
          control={control}
          rules={{ required: 'Write your password' }}
        />
        <FormText
          name="password"
          label="A new one"
          type="password"
          autoComplete="new-password"
          control={control}
          rules={{
            required: 'Write a new password',
            minLength: { value: 10, message: 'At least 10 characters' },
          }}
          help={'At least 10 characters. Several words do well.'}
        />
        <Button type="submit" variant="outlined" loading={change.isPending}>
          Change it
        </Button>
      </form>
      {change.isSuccess && <p role="status">Changed. You are signed out everywhere else.</p>}
    </section>
  );
}
