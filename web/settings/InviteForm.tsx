import { Button, MenuItem, TextField } from '@mui/material';
import { Controller, useForm } from 'react-hook-form';
import { STAFF_ROLES, type StaffRole } from '#core/contract/permissions.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { ROLE_WORDS } from './roles.ts';
import styles from './settings.module.css';
import { useInvite } from './useColleagues.ts';
import { FormText } from '../shared/FormText.tsx';

interface Given {
  readonly name: string;
  readonly email: string;
  readonly role: StaffRole;
}

/** Invites a colleague, by a letter where letters can be sent. */
export function InviteForm() {
  const invite = useInvite();
  const { handleSubmit, control, reset } = useForm<Given>({
    defaultValues: { name: '', email: '', role: 'editor' },
  });
  const submit = handleSubmit((given) => {
    invite.mutate(given, {
      onSuccess: () => {
        reset();
      },
    });
  });
  return (
    <section aria-labelledby="invite-heading">
      <h2 id="invite-heading">Invite a colleague</h2>
      <form className={styles.form} noValidate onSubmit={(event) => void submit(event)}>
        {invite.error && <ErrorNote error={invite.error} />}
        <FormText name="name" label="Name" control={control} rules={{ required: 'Write their name' }} />
        <FormText
          name="email"
          label="E-mail"
          type="email"
          control={control}
          rules={{ required: 'Write their e-mail address' }}
        />
        <Controller
          name="role"
          control={control}
          render={({ field }) => (
            <TextField select label="Role" helperText={ROLE_WORDS[field.value].may} {...field}>
              {STAFF_ROLES.map((role) => (
                <MenuItem key={role} value={role}>
                  {ROLE_WORDS[role].name}
                </MenuItem>
              ))}
            </TextField>
          )}
        />
        <Button type="submit" variant="contained" loading={invite.isPending}>
          Invite
        </Button>
      </form>
      {invite.data && <Sent email={invite.variables.email} link={invite.data.link} />}
    </section>
  );
}

/** Instructions for an invitation. */
function Sent({ email, link }: { readonly email: string; readonly link: string | null }) {
  if (link === null) return <p role="status">An invitation is on its way to {email}. Its link is good for a week.</p>;
  return (
    <div role="status">
      <p>Understudy has no way to send letters (SMTP_URL). Hand this link over yourself; it is good for a week.</p>
      <CopyLine text={link} label="the invitation" />
    </div>
  );
}
