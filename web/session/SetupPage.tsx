import { Button, TextField } from '@mui/material';
import { useForm } from 'react-hook-form';
import { Navigate, useSearchParams } from 'react-router';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Door } from './Door.tsx';
import styles from './Door.module.css';
import { useSession, useSetup } from './useSession.ts';

interface SetupForm {
  readonly shopName: string;
  readonly zone: string;
  readonly locales: string;
  readonly currency: string;
  readonly name: string;
  readonly email: string;
  readonly password: string;
}

/** Makes the shop and its first owner, from the one-time link. */
export function SetupPage() {
  const [search] = useSearchParams();
  const session = useSession();
  const setup = useSetup();
  const { register, handleSubmit, formState } = useForm<SetupForm>({
    defaultValues: { zone: Intl.DateTimeFormat().resolvedOptions().timeZone, locales: 'en', currency: 'EUR' },
  });
  if (session.data?.setUp) return <Navigate to="/rules" replace />;

  const field = (name: keyof SetupForm, label: string, rules: Parameters<typeof register>[1] = {}, type = 'text') => (
    <TextField
      label={label}
      type={type}
      error={Boolean(formState.errors[name])}
      helperText={formState.errors[name]?.message}
      {...register(name, { required: 'Please fill this in', ...rules })}
    />
  );
  const submit = handleSubmit(({ shopName, zone, locales, currency, ...owner }) => {
    const languages = locales.split(/[\s,]+/).filter((tag) => tag !== '');
    setup.mutate({
      token: search.get('token') ?? '',
      shop: { name: shopName, zone, locales: languages, currency: currency.toUpperCase() },
      owner,
    });
  });
  return (
    <Door title="Your shop">
      <form noValidate onSubmit={(event) => void submit(event)}>
        {setup.error && <ErrorNote error={setup.error} />}
        {field('shopName', 'Shop’s name')}
        {field('zone', 'Time zone, such as Europe/Lisbon')}
        <div className={styles.pair}>
          {field('locales', 'Languages, the default first')}
          {field('currency', 'Currency', {
            pattern: { value: /^[A-Za-z]{3}$/, message: 'Three letters, such as EUR' },
          })}
        </div>
        {field('name', 'Your name')}
        {field('email', 'Your e-mail', {}, 'email')}
        {field('password', 'A password', { minLength: { value: 10, message: 'At least 10 characters' } }, 'password')}
        <Button type="submit" variant="contained" size="medium" loading={setup.isPending}>
          Open the shop’s rules
        </Button>
      </form>
    </Door>
  );
}
