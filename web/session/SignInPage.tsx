import { Button } from '@mui/material';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { asksForCode, CodeField } from './CodeField.tsx';
import { Door } from './Door.tsx';
import { useSignIn, type Credentials } from './useSession.ts';
import { FormText } from '../shared/FormText.tsx';

export function SignInPage() {
  const signIn = useSignIn();
  const { register, handleSubmit, formState, control } = useForm<Credentials>();
  return (
    <Door title="Sign in">
      <form
        noValidate
        onSubmit={(event) =>
          void handleSubmit((given) => {
            signIn.mutate(asksForCode(signIn.error) ? given : { email: given.email, password: given.password });
          })(event)
        }
      >
        {signIn.error && <ErrorNote error={signIn.error} />}
        {asksForCode(signIn.error) && (
          <CodeField field={register('code', { required: 'Write the code' })} error={formState.errors.code} />
        )}
        <FormText
          name="email"
          label="E-mail"
          type="email"
          autoComplete="username"
          autoFocus
          control={control}
          rules={{ required: 'Write your e-mail address' }}
        />
        <FormText
          name="password"
          label="Password"
          type="password"
          autoComplete="current-password"
          control={control}
          rules={{ required: 'Write your password' }}
        />
        <Button type="submit" variant="contained" size="medium" loading={signIn.isPending}>
          Sign in
        </Button>
      </form>
      <p>
        <Link to="/password">I have forgotten my password</Link>
      </p>
    </Door>
  );
}
