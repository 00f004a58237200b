import { Button, TextField } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import type { Person } from '#core/contract/shopCalls.ts';
import { send } from '../api/client.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './people.module.css';
import { FormText } from '../shared/FormText.tsx';

interface PersonDetailsProps {
  /** Null for one who is not there yet. */
  readonly person: Person | null;
  /** Is given the shop's id of theirs, once it is saved. */
  readonly done: (id: string) => void;
}

interface Given {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly phone: string;
}

const orNull = (text: string) => text.trim() || null;

/** A customer's name, address and number, to be written or changed. */
export function PersonDetails({ person, done }: PersonDetailsProps) {
  const client = useQueryClient();
  const { register, handleSubmit, formState, control } = useForm<Given>({
    defaultValues: { id: '', name: person?.name ?? '', email: person?.email ?? '', phone: person?.phone ?? '' },
  });
  const save = useMutation({
    mutationFn: async ({ id, ...given }: Given) => {
      const body = {
        name: orNull(given.name),
        email: orNull(given.email),
        phone: orNull(given.phone.replace(/[\s().-]/g, '')),
      };
      if (person) {
        await send('PATCH /api/people/{id}', { params: { id: person.id }, body });
        return person.id;
      }
      const theirs = orNull(id);
      const added = await send('POST /api/people', {
        body: { ...body, ...(theirs === null ? {} : { id: theirs }), roles: [] },
      });
      return added.body.id;
    },
    onSuccess: async (id) => {
      await client.invalidateQueries();
      done(id);
    },
  });
  return (
    <form
      className={styles.details}
      noValidate
      onSubmit={(event) =>
        void handleSubmit((given) => {
          save.mutate(given);
        })(event)
      }
    >
      <FormText
        name="name"
        label="Name"
        autoFocus={person === null}
        control={control}
        rules={{
          validate: (name, { email }) =>
            name.trim() !== '' || email.trim() !== '' || 'Write a name or an e-mail address',
        }}
      />
      <FormText
        name="email"
        label="E-mail"
        type="email"
        control={control}
        rules={{
          validate: (email) =>
            email.trim() === '' ||
            /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(email.trim()) ||
            'Write an address such as name@shop.example',
        }}
      />
      <FormText
        name="phone"
        label="Telephone"
        type="tel"
        control={control}
        rules={{
          validate: (phone) =>
            phone.trim() === '' ||
            /^\+[1-9]\d{5,14}$/.test(phone.replace(/[\s().-]/g, '')) ||
            'Begin with + and the country, such as +351 210 000 000',
        }}
      />
      {person ? (
        <TextField label="Id in your shop" value={person.id} disabled />
      ) : (
        <TextField
          label="Id in your shop"
          helperText="As your shop knows them. Without one they can be merged later with the account that they open."
          {...register('id')}
        />
      )}
      {save.error && <ErrorNote error={save.error} />}
      <Button
        type="submit"
        variant={person ? 'outlined' : 'contained'}
        loading={save.isPending}
        disabled={person !== null && !formState.isDirty}
      >
        {person ? 'Save details' : 'Add the customer'}
      </Button>
    </form>
  );
}
