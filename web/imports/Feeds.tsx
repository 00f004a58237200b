import { Button, MenuItem, TextField } from '@mui/material';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import type { Feed } from '#core/contract/feedCalls.ts';
import type { TargetName } from '#core/imports/fileReading.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { momentWords } from '../shared/times.ts';
import { useShop } from '../goods/useShop.ts';
import styles from './imports.module.css';
import { stateWords } from './RecentImports.tsx';
import { FormText } from '../shared/FormText.tsx';

const EVERY = { 15: 'every 15 minutes', 60: 'every hour', 360: 'every six hours', 1440: 'every day' } as const;
const everyWords = (minutes: number) => (EVERY as Record<number, string>)[minutes] ?? `every ${minutes} minutes`;
/** While something is fetched, it is asked for. */
const POLL_MS = 2000;

interface Given {
  readonly address: string;
  readonly everyMinutes: number;
  readonly mode: Feed['mode'];
  readonly secret: string;
}

/** Feeds with their results, and a form for another. */
export function Feeds({ target }: { readonly target: TargetName }) {
  const client = useQueryClient();
  const [isAdding, setAdding] = useState(false);
  const onSuccess = () => client.invalidateQueries();
  const feeds = useQuery({
    queryKey: keys.feeds,
    queryFn: async () => (await send('GET /api/feeds')).body,
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? POLL_MS : false),
  });
  const act = useMutation({
    mutationFn: async ({ id, how }: { readonly id: number; readonly how: 'fetch' | 'remove' }) => {
      if (how === 'fetch') await send('POST /api/feeds/{id}/fetch', { params: { id } });
      else await send('DELETE /api/feeds/{id}', { params: { id } });
    },
    onSuccess,
  });
  const add = useMutation({
    mutationFn: async ({ secret, ...given }: Given) => {
      const body = { ...given, target, ...(secret.trim() === '' ? {} : { secret: secret.trim() }) };
      await send('POST /api/feeds', { body });
    },
    onSuccess: async () => {
      setAdding(false);
      await onSuccess();
    },
  });
  const error = feeds.error ?? act.error;
  const mine = feeds.data?.filter((feed) => feed.target === target) ?? [];
  return (
    <section aria-labelledby="feeds-heading">
      <h3 id="feeds-heading">Files fetched on a schedule</h3>
      {error && <ErrorNote error={error} />}
      <ul className={styles.feeds}>
        {mine.map((feed) => (
          <li key={feed.id}>
            <b>{feed.address}</b>
            <FeedWords feed={feed} />
            <span className={styles.confirm}>
              <Button
                size="small"
                disabled={act.isPending}
                aria-label={`Fetch ${feed.address} now`}
                onClick={() => {
                  act.mutate({ id: feed.id, how: 'fetch' });
                }}
              >
                Fetch now
              </Button>
              <Button
                size="small"
                disabled={act.isPending}
                aria-label={`Remove ${feed.address}`}
                onClick={() => {
                  act.mutate({ id: feed.id, how: 'remove' });
                }}
              >
                Remove
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {isAdding ? (
        <FeedForm
          error={add.error}
          isPending={add.isPending}
          add={(given) => {
            add.mutate(given);
          }}
          cancel={() => {
            setAdding(false);
          }}
        />
      ) : (
        <Button
          variant="outlined"
          onClick={() => {
            setAdding(true);
          }}
        >
          Fetch a file on a schedule…
        </Button>
      )}
    </section>
  );
}

const isUnderWay = ({ nextAt, fetchedAt, error, newest }: Feed) =>
  (fetchedAt === null && error === null) ||
  Date.parse(nextAt) <= Date.now() ||
  (newest !== null && ['waiting', 'running'].includes(newest.state));

function FeedWords({ feed }: { readonly feed: Feed }) {
  const zone = useShop()?.zone;
  const { everyMinutes, mode, fetchedAt, nextAt, error, newest } = feed;
  if (!zone) return null;
  const when = (at: string) => momentWords(Date.parse(at), zone);
  return (
    <span>
      {everyWords(everyMinutes)}
      {mode === 'replace' && ', archives what it lacks'}
      {fetchedAt !== null && `; fetched ${when(fetchedAt)}`}
      {newest !== null &&
        `, newest file: ${stateWords(newest)}${newest.refused > 0 ? `, ${newest.refused} refused` : ''}`}
      {fetchedAt === null && error === null && '; being fetched'}
      {`; again ${when(nextAt)}`}
      {error !== null && <em role="alert">{error}</em>}
    </span>
  );
}

interface FeedFormProps {
  readonly error: Error | null;
  readonly isPending: boolean;
  readonly add: (given: Given) => void;
  readonly cancel: () => void;
}

function FeedForm({ error, isPending, add, cancel }: FeedFormProps) {
  const { register, handleSubmit, control } = useForm<Given>({
    defaultValues: { address: '', everyMinutes: 60, mode: 'merge', secret: '' },
  });
  const submit = handleSubmit((given) => {
    add({ ...given, address: given.address.trim() });
  });
  return (
    <form className={styles.feed} noValidate onSubmit={(event) => void submit(event)}>
      <FormText
        name="address"
        label="Address of the file"
        placeholder="https://…"
        autoFocus
        fullWidth
        control={control}
        rules={{
          validate: (address) => /^https?:\/\/\S+$/.test(address.trim()) || 'Begin with https://',
        }}
        help="A CSV file, read as files with its headings were read before"
      />
      <Controller
        name="everyMinutes"
        control={control}
        render={({ field }) => (
          <TextField
            select
            label="How often"
            {...field}
            onChange={({ target }) => {
              field.onChange(Number(target.value));
            }}
          >
            {Object.entries(EVERY).map(([minutes, words]) => (
              <MenuItem key={minutes} value={minutes}>
                {words}
              </MenuItem>
            ))}
          </TextField>
        )}
      />
      <Controller
        name="mode"
        control={control}
        render={({ field }) => (
          <TextField select label="What the file does not name" {...field}>
            <MenuItem value="merge">stays as it is</MenuItem>
            <MenuItem value="replace">is archived</MenuItem>
          </TextField>
        )}
      />
      <TextField
        label="Authorization, if it asks for one"
        placeholder="Bearer …"
        autoComplete="off"
        {...register('secret')}
      />
      {error && <ErrorNote error={error} />}
      <span className={styles.confirm}>
        <Button type="submit" variant="contained" loading={isPending}>
          Fetch now, then on this schedule
        </Button>
        <Button onClick={cancel}>Cancel</Button>
      </span>
    </form>
  );
}
