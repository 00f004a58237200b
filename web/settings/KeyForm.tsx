import { Button, Checkbox, FormControlLabel, FormHelperText } from '@mui/material';
import { Controller, useForm } from 'react-hook-form';
import { KEY_SCOPES, type KeyScope } from '#core/contract/permissions.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { SCOPE_WORDS } from './roles.ts';
import styles from './settings.module.css';
import { useMakeKey } from './useKeys.ts';
import { FormText } from '../shared/FormText.tsx';

interface Given {
  readonly name: string;
  readonly scopes: KeyScope[];
}

/** Makes a key and shows it this once. */
export function KeyForm({ isFirst }: { readonly isFirst: boolean }) {
  const make = useMakeKey();
  const { handleSubmit, control, reset } = useForm<Given>({
    defaultValues: { name: '', scopes: [] },
  });
  const submit = handleSubmit((given) => {
    make.mutate(given, {
      onSuccess: () => {
        reset();
      },
    });
  });
  return (
    <section aria-labelledby="key-heading">
      <h2 id="key-heading">Make a key</h2>
      <form className={styles.form} noValidate onSubmit={(event) => void submit(event)}>
        {make.error && <ErrorNote error={make.error} />}
        <FormText
          name="name"
          label="Which program is it for?"
          control={control}
          rules={{ required: 'Write what the program is called' }}
        />
        <Controller
          name="scopes"
          control={control}
          rules={{ validate: (scopes) => scopes.length > 0 || 'Choose at least one' }}
          render={({ field, fieldState }) => (
            <fieldset className={styles.scopes}>
              <legend>What may it do?</legend>
              {KEY_SCOPES.map((scope) => (
                <FormControlLabel
                  key={scope}
                  label={
                    <>
                      {SCOPE_WORDS[scope].name}
                      <small>{SCOPE_WORDS[scope].may}</small>
                    </>
                  }
                  control={
                    <Checkbox
                      size="small"
                      checked={field.value.includes(scope)}
                      onChange={({ target }) => {
                        field.onChange(
                          target.checked ? [...field.value, scope] : field.value.filter((one) => one !== scope),
                        );
                      }}
                    />
                  }
                />
              ))}
              {fieldState.error && <FormHelperText error>{fieldState.error.message}</FormHelperText>}
            </fieldset>
          )}
        />
        <Button type="submit" variant="contained" loading={make.isPending}>
          Make the key
        </Button>
        {isFirst && (
          <p className={styles.hint}>
            With the first key, the owner’s key that the server may have been started with (UNDERSTUDY_OWNER_KEY) ends.
          </p>
        )}
      </form>
      {make.data && (
        <div role="status">
          <p>The key of {make.variables.name}. Copy it now: it is not shown again.</p>
          <CopyLine text={make.data.key} label={`the key of ${make.variables.name}`} />
        </div>
      )}
    </section>
  );
}
