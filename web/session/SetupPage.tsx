import { Button } from '@mui/material';
import { useMemo } from 'react';
import { useForm } from 'react-hook-form';
import { Navigate, useSearchParams } from 'react-router';
import { ApiError } from '../api/client.ts';
import { OneOf, Several } from '../shared/FromList.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { currencies, fromBrowser, languages, zones } from '../shared/choices.ts';
import { Door } from './Door.tsx';
import styles from './Door.module.css';
import { useSession, useSetup } from './useSession.ts';
import { FormText } from '../shared/FormText.tsx';

interface SetupForm {
  readonly shopName: string;
  readonly zone: string;
  readonly locales: readonly string[];
  readonly currency: string;
  readonly name: string;
  readonly email: string;
  readonly password: string;
}

/** Pointers of the fields in the server's errors. */
const PLACES: Readonly<Record<string, keyof SetupForm>> = {
  '/shop/name': 'shopName',
  '/shop/zone': 'zone',
  '/shop/locales': 'locales',
  '/shop/currency': 'currency',
  '/owner/name': 'name',
  '/owner/email': 'email',
  '/owner/password': 'password',
};

/** Makes the shop and its first owner, from the one-time link. */
export function SetupPage() {
  const [search] = useSearchParams();
  const session = useSession();
  const setup = useSetup();
  const lists = useMemo(() => ({ zones: zones(), currencies: currencies(), languages: languages() }), []);
  const { handleSubmit, control, setError } = useForm<SetupForm>({
    defaultValues: (({ zone, currency, language }) => ({ zone, currency, locales: [language] }))(fromBrowser()),
  });
  if (session.data?.setUp) return <Navigate to="/today" replace />;

  const field = (name: keyof SetupForm, label: string, missing: string, type = 'text') => (
    <FormText
      name={name}
      label={label}
      type={type}
      control={control}
      rules={{
        required: missing,
        ...(type === 'password' ? { minLength: { value: 10, message: 'At least 10 characters' } } : {}),
        ...(type === 'email'
          ? { pattern: { value: /^\S+@\S+\.\S+$/, message: 'Write it like name@shop.example' } }
          : {}),
      }}
    />
  );
  const submit = handleSubmit(({ shopName, zone, locales, currency, ...owner }) => {
    const body = {
      token: search.get('token') ?? '',
      shop: { name: shopName, zone, locales: [...locales], currency },
      owner,
    };
    setup.mutate(body, {
      onError: (error) => {
        const faults = error instanceof ApiError ? (error.problem.errors ?? []) : [];
        for (const { pointer, allowed } of faults) {
          const place = PLACES[pointer.split('/').slice(0, 3).join('/')];
          if (place) setError(place, { message: `Choose ${allowed}` });
        }
      },
    });
  });
  const isOfFields =
    setup.error instanceof ApiError &&
    (setup.error.problem.errors ?? []).length > 0 &&
    (setup.error.problem.errors ?? []).every(({ pointer }) => pointer.split('/').slice(0, 3).join('/') in PLACES);
  return (
    <Door title="Your shop">
      <form noValidate onSubmit={(event) => void submit(event)}>
        {setup.error && !isOfFields && <ErrorNote error={setup.error} />}
        {field('shopName', 'Shop’s name', 'Write what the shop is called')}
        <OneOf name="zone" label="Time zone" options={lists.zones} control={control} />
        <OneOf name="currency" label="Currency" options={lists.currencies} control={control} />
        <Several
          name="locales"
          label="Languages"
          help="The first is the default"
          options={lists.languages}
          control={control}
        />
        {field('name', 'Your name', 'Write your name')}
        {field('email', 'Your e-mail', 'Write your e-mail address', 'email')}
        {field('password', 'A password', 'Choose a password', 'password')}
        {session.data && !session.data.sendsLetters && (
          <p className={styles.note}>
            Understudy has no way to send letters yet. You can go on without: start it with <code>SMTP_URL</code> when
            you have a mail server.
          </p>
        )}
        <Button type="submit" variant="contained" size="medium" loading={setup.isPending}>
          Open the shop’s rules
        </Button>
      </form>
    </Door>
  );
}
