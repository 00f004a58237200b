import { Button, Checkbox, FormControlLabel, Skeleton, Snackbar, TextField } from '@mui/material';
import { useState } from 'react';
import { WAITLIST_STATES, type Waitlist } from '#core/contract/waitlistCalls.ts';
import type { Goods } from '../goods/useGoods.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FindField, MoreButton } from '../shared/pages.tsx';
import { useFilters } from '../shared/useFilters.ts';
import { EntryRow } from './EntryRow.tsx';
import { listQuery, useEntries, useInvite, usePatchEntries, useSettings } from './useWaitlists.ts';
import styles from '../shared/worklist.module.css';

const DAY_HOURS = 24;
const USUAL_DAYS = 3;

/** One list: the people on it in their order, and what can be done for them. */
export function ListSheet({ list, goods }: { readonly list: Waitlist; readonly goods: Goods }) {
  const [search, set] = useFilters();
  const state = search.get('state') ?? '';
  const find = search.get('search') ?? '';
  const query = listQuery(list, { ...(state && { state }), ...(find && { search: find }) });
  const entries = useEntries(query);
  const invite = useInvite();
  const patch = usePatchEntries();
  const settings = useSettings();
  const [days, setDays] = useState(USUAL_DAYS);
  const [next, setNext] = useState(Math.max(1, Math.min(list.waiting, (list.stock ?? 1) - list.invited)));
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [undo, setUndo] = useState<readonly string[] | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const { product, variant, title, waiting, invited, stock, inviteForHours } = list;
  const key = { product, variant };
  const free = stock === null ? null : Math.max(0, stock - invited);
  const hours = days > 0 ? days * DAY_HOURS : null;

  const invitePeople = (who: { next: number } | { entries: string[] }) => {
    invite.mutate(
      { ...key, hours, ...who },
      {
        onSuccess: (count) => {
          setPicked(new Set());
          setSaid(count === 1 ? 'One person was invited.' : `${count} people were invited.`);
        },
      },
    );
  };
  const remove = (ids: readonly string[]) => {
    patch.mutate(
      { ids, state: 'removed' },
      {
        onSuccess: () => {
          setPicked(new Set());
          setUndo(ids);
        },
      },
    );
  };
  const error = invite.error ?? patch.error ?? settings.error;
  const chosen = entries.items.filter(({ id }) => picked.has(id));
  const waitingChosen = chosen.filter((entry) => entry.state === 'waiting');
  return (
    <section className={lists.main} aria-label={title} aria-busy={entries.isPending}>
      <header className={styles.head}>
        <h2>{title}</h2>
        <p className={lists.none}>
          {waiting} waiting, {invited} invited
          {stock !== null && `, ${stock} in stock${invited > 0 ? `, ${free ?? 0} of them for nobody yet` : ''}`}
        </p>
      </header>
      <form
        className={styles.invite}
        onSubmit={(event) => {
          event.preventDefault();
          invitePeople({ next });
        }}
      >
        <span>Invite the next</span>
        <NumberField label="How many" value={next} set={setNext} least={1} />
        <span>for</span>
        <NumberField label="Days" value={days} set={setDays} least={0} />
        <span>{days > 0 ? 'days, then the person after' : 'days: for good'}</span>
        <Button type="submit" variant="contained" loading={invite.isPending} disabled={waiting === 0}>
          Invite
        </Button>
        <FormControlLabel
          className={styles.auto ?? ''}
          control={
            <Checkbox
              size="small"
              checked={inviteForHours !== null}
              onChange={({ target }) => {
                settings.mutate({ ...key, inviteForHours: target.checked ? (hours ?? USUAL_DAYS * DAY_HOURS) : null });
              }}
            />
          }
          label={
            inviteForHours === null
              ? 'By itself when stock lands'
              : `By itself when stock lands, for ${Math.round(inviteForHours / DAY_HOURS)} days`
          }
        />
      </form>
      {error && <ErrorNote error={error} />}
      <div className={styles.filters}>
        <FindField
          className={lists.search}
          label="Find a person"
          placeholder="Find a person"
          search={search}
          set={set}
        />
        {WAITLIST_STATES.map((name) => (
          <button
            key={name}
            type="button"
            className={styles.state}
            aria-pressed={state === name}
            onClick={() => {
              set('state', state === name ? null : name);
            }}
          >
            {name}
          </button>
        ))}
        <a className={styles.file} href={`/api/waitlists/entries.csv?${query}`} download>
          Take away as CSV
        </a>
      </div>
      {picked.size > 0 && (
        <div className={styles.acts} role="group" aria-label="For those chosen">
          <span>{picked.size} chosen</span>
          <Button
            variant="contained"
            disabled={waitingChosen.length === 0}
            onClick={() => {
              invitePeople({ entries: waitingChosen.map(({ id }) => id) });
            }}
          >
            Invite {waitingChosen.length === chosen.length ? 'them' : `the ${waitingChosen.length} who wait`}
          </Button>
          <Button
            variant="outlined"
            onClick={() => {
              remove(chosen.filter((entry) => ['waiting', 'invited'].includes(entry.state)).map(({ id }) => id));
            }}
          >
            Take off the list
          </Button>
        </div>
      )}
      {entries.error ? (
        <LoadFailed error={entries.error} retry={() => void entries.refetch()} />
      ) : entries.isPending ? (
        [1, 2, 3, 4].map((row) => <Skeleton key={row} variant="rounded" height={36} sx={{ mb: 1 }} />)
      ) : entries.items.length === 0 ? (
        <p className={lists.empty}>Nobody on this list fits. Take a filter off.</p>
      ) : (
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">
                <Checkbox
                  size="small"
                  checked={picked.size > 0 && chosen.length === entries.items.length}
                  indeterminate={picked.size > 0 && chosen.length < entries.items.length}
                  onChange={({ target }) => {
                    setPicked(new Set(target.checked ? entries.items.map(({ id }) => id) : []));
                  }}
                  slotProps={{ input: { 'aria-label': 'Choose all that are shown' } }}
                />
              </th>
              <th scope="col">Place</th>
              <th scope="col">Who</th>
              <th scope="col">State</th>
              <th scope="col">Joined</th>
              <th scope="col">Note</th>
            </tr>
          </thead>
          <tbody>
            {entries.items.map((entry) => (
              <EntryRow
                key={entry.id}
                entry={entry}
                zone={goods.shop.zone}
                isPicked={picked.has(entry.id)}
                pick={(isPicked) => {
                  const now = new Set(picked);
                  if (isPicked) now.add(entry.id);
                  else now.delete(entry.id);
                  setPicked(now);
                }}
                note={(note) => {
                  patch.mutate({ ids: [entry.id], note });
                }}
              />
            ))}
          </tbody>
        </table>
      )}
      <MoreButton pages={entries} />
      <Snackbar
        open={undo !== null || said !== null}
        autoHideDuration={10_000}
        message={undo === null ? said : `${undo.length} taken off the list.`}
        action={
          undo && (
            <Button
              color="inherit"
              onClick={() => {
                patch.mutate({ ids: undo, state: 'waiting' });
                setUndo(null);
              }}
            >
              Undo
            </Button>
          )
        }
        onClose={(_event, reason) => {
          if (reason === 'clickaway') return;
          setUndo(null);
          setSaid(null);
        }}
      />
    </section>
  );
}

interface NumberProps {
  readonly label: string;
  readonly value: number;
  readonly set: (value: number) => void;
  readonly least: number;
}

function NumberField({ label, value, set, least }: NumberProps) {
  return (
    <TextField
      type="number"
      value={value}
      onChange={({ target }) => {
        set(Math.max(least, Math.floor(Number(target.value))));
      }}
      slotProps={{ htmlInput: { min: least, max: 1000, 'aria-label': label } }}
      sx={{ width: 74 }}
    />
  );
}
