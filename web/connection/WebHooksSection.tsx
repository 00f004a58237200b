import { Autocomplete, Button, Skeleton, Switch, TextField } from '@mui/material';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import type { WebHook } from '#core/contract/channelCalls.ts';
import { HOOK_CODES } from '#core/texts/messageEvents.ts';
import { EVENT_NAMES } from '../messages/eventNames.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './connection.module.css';
import { useAddHook, useChangeHook, useRemoveHook, useTryHook, useWebHooks, type HookIs } from './useWebHooks.ts';
import { FormText } from '../shared/FormText.tsx';

/** Web hooks: programs that receive events. */
export function WebHooksSection() {
  const hooks = useWebHooks();
  const add = useAddHook();
  const [isAdding, setAdding] = useState(false);
  return (
    <section className={styles.mapSection} aria-labelledby="hooks">
      <h2 id="hooks">Web hooks</h2>
      <p className={styles.hint}>
        Your programs are notified of events by a POST of JSON, signed as Standard Webhooks describes and sent again
        until it is delivered.
      </p>
      {hooks.error && <ErrorNote error={hooks.error} />}
      {add.data !== undefined && (
        <div className={styles.show}>
          <p>The secret that the program checks signatures with. It is shown this once.</p>
          <CopyLine text={add.data} label="the hook’s secret" />
        </div>
      )}
      {hooks.isPending ? (
        <Skeleton variant="rounded" height={48} />
      ) : (
        <ul className={styles.hooks}>
          {hooks.data?.map((hook) => (
            <Hook key={hook.id} hook={hook} />
          ))}
        </ul>
      )}
      {isAdding ? (
        <HookForm
          error={add.error}
          isSaving={add.isPending}
          save={(hook) => {
            add.mutate(hook, {
              onSuccess: () => {
                setAdding(false);
              },
            });
          }}
          leave={() => {
            setAdding(false);
          }}
        />
      ) : (
        <div className={styles.acts}>
          <Button
            variant="outlined"
            onClick={() => {
              setAdding(true);
            }}
          >
            Add a web hook
          </Button>
        </div>
      )}
    </section>
  );
}

function Hook({ hook }: { readonly hook: WebHook }) {
  const { id, url, events, isOn, sent, failed, lastError } = hook;
  const [mode, setMode] = useState<'shown' | 'changing' | 'removing'>('shown');
  const change = useChangeHook();
  const remove = useRemoveHook();
  const trial = useTryHook();
  const shown = () => {
    setMode('shown');
  };
  if (mode === 'changing')
    return (
      <li>
        <HookForm
          hook={hook}
          error={change.error}
          isSaving={change.isPending}
          save={(changed) => {
            change.mutate({ id, isOn, ...changed }, { onSuccess: shown });
          }}
          leave={shown}
        />
      </li>
    );
  const error = change.error ?? remove.error ?? trial.error;
  return (
    <li>
      <div className={styles.hook}>
        <Switch
          checked={isOn}
          slotProps={{ input: { 'aria-label': `Notify ${url}` } }}
          onChange={({ target }) => {
            change.mutate({ id, url, events, isOn: target.checked });
          }}
        />
        <p>
          <code>{url}</code>
          <small>
            {events.map((event) => EVENT_NAMES[event]).join(' · ')}
            <br />
            {sent} delivered{failed > 0 && `, ${failed} failed`}
            {lastError !== null && `, last: ${lastError}`}
          </small>
        </p>
        <Button
          loading={trial.isPending}
          onClick={() => {
            trial.mutate(id);
          }}
        >
          {trial.isSuccess ? 'Sent; try again' : 'Try'}
        </Button>
        <Button
          onClick={() => {
            setMode('changing');
          }}
        >
          Change
        </Button>
        <Button
          onClick={() => {
            setMode('removing');
          }}
        >
          Delete…
        </Button>
      </div>
      {mode === 'removing' && (
        <div className={styles.acts}>
          <p>The program is no longer notified, and its {sent + failed} messages are deleted.</p>
          <Button
            color="error"
            variant="outlined"
            loading={remove.isPending}
            onClick={() => {
              remove.mutate(id);
            }}
          >
            Delete
          </Button>
          <Button onClick={shown}>Cancel</Button>
        </div>
      )}
      {error && <ErrorNote error={error} />}
    </li>
  );
}

interface FormProps {
  readonly hook?: HookIs;
  readonly error: Error | null;
  readonly isSaving: boolean;
  readonly save: (hook: HookIs) => void;
  readonly leave: () => void;
}

function HookForm({ hook, error, isSaving, save, leave }: FormProps) {
  const { handleSubmit, control } = useForm<HookIs>({
    defaultValues: { url: hook?.url ?? '', events: hook?.events ?? [] },
  });
  const submit = handleSubmit(({ url, events }) => {
    save({ url: url.trim(), events });
  });
  return (
    <form className={styles.hookForm} noValidate onSubmit={(event) => void submit(event)}>
      <FormText
        name="url"
        label="Address of the program"
        placeholder="https://"
        autoFocus
        control={control}
        rules={{ required: 'Write the address that events go to' }}
      />
      <Controller
        name="events"
        control={control}
        rules={{ validate: (events) => events.length > 0 || 'Choose at least one event' }}
        render={({ field: { value, onChange }, fieldState }) => (
          <Autocomplete
            multiple
            disableCloseOnSelect
            options={HOOK_CODES}
            value={value}
            getOptionLabel={(event) => EVENT_NAMES[event]}
            onChange={(_event, chosen) => {
              onChange(chosen);
            }}
            renderInput={(input) => (
              <TextField
                {...input}
                label="Events"
                error={Boolean(fieldState.error)}
                helperText={fieldState.error?.message}
              />
            )}
          />
        )}
      />
      {error && <ErrorNote error={error} />}
      <div className={styles.acts}>
        <Button type="submit" variant="contained" loading={isSaving}>
          {hook ? 'Save' : 'Add the web hook'}
        </Button>
        <Button onClick={leave}>Cancel</Button>
      </div>
    </form>
  );
}
