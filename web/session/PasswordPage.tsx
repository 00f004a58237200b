import { Button } from '@mui/material';
import { useForm } from 'react-hook-form';
import { Link, Navigate, useSearchParams } from 'react-router';
import { ApiError } from '../api/client.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { asksForCode, CodeField } from './CodeField.tsx';
import { Door } from './Door.tsx';
import { useAskForLetter, useChoosePassword, useSession } from './useSession.ts';
import { FormText } from '../shared/FormText.tsx';

/** Chooses a password by a link, or asks for one. */
export function PasswordPage() {
  const [search] = useSearchParams();
  const token = search.get('token');
  return token === null ? <AskForLetter /> : <Choose token={token} />;
}

function Choose({ token }: { readonly token: string }) {
  const choose = useChoosePassword();
  const { register, handleSubmit, formState, control } = useForm<{ password: string; code?: string }>();
  if (choose.data) return <Navigate to="/today" replace />;
  return (
    <Door title="Choose a password">
      <form
        noValidate
        onSubmit={(event) =>
          void handleSubmit((given) => {
            choose.mutate({ token, ...given });
          })(event)
        }
      >
        {choose.error && <ErrorNote error={choose.error} />}
        {asksForCode(choose.error) && (
          <CodeField field={register('code', { required: 'Write the code' })} error={formState.errors.code} />
        )}
        <FormText
          name="password"
          label="A password"
          type="password"
          autoComplete="new-password"
          autoFocus
          control={control}
          rules={{
            required: 'Write a password',
            minLength: { value: 10, message: 'At least 10 characters' },
          }}
          help={'At least 10 characters. Several words do well.'}
        />
        <Button type="submit" variant="contained" size="medium" loading={choose.isPending}>
          Sign in with it
        </Button>
      </form>
      {choose.error instanceof ApiError && choose.error.status === 403 && (
        <p>
          <Link to="/password">Ask for another link</Link>
        </p>
      )}
    </Door>
  );
}

function AskForLetter() {
  const session = useSession();
  const ask = useAskForLetter();
  const { handleSubmit, control } = useForm<{ email: string }>();
  if (session.data && !session.data.sendsLetters)
    return (
      <Door title="A new password">
        <p>
          This Understudy has no way to send letters. Ask an owner of the shop: under Colleagues they can let you go and
          invite you again.
        </p>
        <p>
          <Link to="/">Back to signing in</Link>
        </p>
      </Door>
    );
  return (
    <Door title="A new password">
      {ask.isSuccess ? (
        <p role="status">
          If this is a colleague’s address, a letter with a link is on its way. The link is good for an hour.
        </p>
      ) : (
        <form
          noValidate
          onSubmit={(event) =>
            void handleSubmit((given) => {
              ask.mutate(given);
            })(event)
          }
        >
          {ask.error && <ErrorNote error={ask.error} />}
          <FormText
            name="email"
            label="Your e-mail"
            type="email"
            autoComplete="username"
            autoFocus
            control={control}
            rules={{ required: 'Write your e-mail address' }}
          />
          <Button type="submit" variant="contained" size="medium" loading={ask.isPending}>
            Send me a link
          </Button>
        </form>
      )}
      <p>
        <Link to="/">Back to signing in</Link>
      </p>
    </Door>
  );
}
