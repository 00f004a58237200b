import { Button, Checkbox, FormControlLabel, TextField } from '@mui/material';
import { useState } from 'react';
import type { Waitlist } from '#core/contract/waitlistCalls.ts';
import { isAllowed, type CommandOf } from '#core/requests/machine.ts';
import { waitlist, WAITLIST_STATES } from '#core/requests/waitlist.ts';
import { CommandButton } from '../requests/CommandButton.tsx';
import { Allowed } from '../session/Allowed.tsx';
import type { Goods } from '../goods/useGoods.ts';
import { ChoosingTable, ListFilters, useChoice } from '../shared/SelectableTable.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import lists from '../shared/lists.module.css';
import { Toast } from '../shared/Toast.tsx';
import { useFilters, queryText } from '../shared/useFilters.ts';
import { EntryRow } from './EntryRow.tsx';
import { listQuery, useEntries, useInvite, usePatchEntries, useSettings } from './useWaitlists.ts';
import styles from '../shared/worklist.module.css';

const DAY_HOURS = 24;
const USUAL_DAYS = 3;
const STATES = Object.fromEntries(WAITLIST_STATES.map((state) => [state, state]));
const COLUMNS = ['Place', 'Who', 'State', 'Joined', 'Note'].map((name) => ({ name }));

/** One list: its people in order, and actions for them. */
export function ListSheet({ list, goods }: { readonly list: Waitlist; readonly goods: Goods }) {
  const filters = useFilters();
  const [search] = filters;
  const state = search.get('state') ?? '';
  const find = search.get('search') ?? '';
  const query = { ...listQuery(list), ...(state && { state }), ...(find && { search: find }) };
  const entries = useEntries(query);
  const invite = useInvite();
  const patch = usePatchEntries();
  const settings = useSettings();
  const [days, setDays] = useState(USUAL_DAYS);
  const [wanted, setNext] = useState(1);
  const [units, setUnits] = useState(1);
  const choice = useChoice(entries.items);
  const [message, setMessage] = useState<{ words: string; undo?: () => void } | null>(null);
  const { product, variant, title, waiting, invited, promised, stock, inviteForHours } = list;
  const key = { product, variant };
  // People may have left since the number was typed.
  const next = Math.min(wanted, Math.max(1, waiting));
  const free = stock === null ? null : Math.max(0, stock - promised);
  const hours = days > 0 ? days * DAY_HOURS : null;

  const invitePeople = (who: { next: number } | { entries: string[] }) => {
    invite.mutate(
      { ...key, hours, units, ...who },
      {
        onSuccess: (count) => {
          choice.clear();
          setMessage({ words: count === 1 ? 'One person was invited.' : `${count} people were invited.` });
        },
      },
    );
  };
  const change = (ids: readonly string[], state: 'removed' | 'waiting') => {
    patch.mutate(
      { ids, state },
      {
        onSuccess: () => {
          choice.clear();
          const undo = () => {
            patch.mutate({ ids, state: 'waiting' });
          };
          setMessage(
            state === 'removed'
              ? { words: `${ids.length} removed from the list.`, undo }
              : { words: `${ids.length} put back on the list.` },
          );
        },
      },
    );
  };
  const error = invite.error ?? patch.error ?? settings.error;
  const { chosen } = choice;
  const allowing = (command: CommandOf<typeof waitlist>) =>
    chosen.filter(({ state }) => isAllowed(waitlist, state, command, 'owner')).map(({ id }) => id);
  return (
    <section className={lists.main} aria-label={title} aria-busy={entries.isPending}>
      <header className={styles.head}>
        <h2>{title}</h2>
        <p className={lists.none}>
          {waiting} waiting, {invited} invited
          {stock !== null &&
            `, ${stock} in stock${invited > 0 ? `, ${free ?? 0} of them not promised to anybody` : ''}`}
        </p>
      </header>
      <Allowed permission="requests">
        <form
          className={styles.invite}
          onSubmit={(event) => {
            event.preventDefault();
            invitePeople({ next });
          }}
        >
          <span>Invite the next</span>
          <NumberField label="How many" value={next} set={setNext} least={1} most={Math.max(1, waiting)} />
          <span>to buy</span>
          <NumberField label="Units each" value={units} set={setUnits} least={1} />
          <span>each, valid for</span>
          <NumberField label="Days" value={days} set={setDays} least={0} />
          <span>{days > 0 ? 'days, then the next person' : 'days: for good'}</span>
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
                  settings.mutate({
                    ...key,
                    inviteForHours: target.checked ? (hours ?? USUAL_DAYS * DAY_HOURS) : null,
                  });
                }}
              />
            }
            label={
              inviteForHours === null
                ? 'Invite automatically when stock arrives'
                : `Invite automatically when stock arrives, valid for ${Math.round(inviteForHours / DAY_HOURS)} days`
            }
          />
        </form>
      </Allowed>
      {error && <ErrorNote error={error} />}
      <ListFilters
        filters={filters}
        label="Find a person"
        placeholder="Find a person"
        states={STATES}
        file={`/api/waitlists/entries.csv?${queryText(query)}`}
      />
      {chosen.length > 0 && (
        <Allowed permission="requests" quiet>
          <div className={styles.acts} role="group" aria-label="With the selected">
            <span>{chosen.length} chosen</span>
            <CommandButton
              variant="contained"
              label="Invite"
              reason={waitlist.transitions.invite.otherwise}
              fitting={allowing('invite').length}
              of={chosen.length}
              give={() => {
                invitePeople({ entries: allowing('invite') });
              }}
            />
            <CommandButton
              label="Remove from the list"
              reason={waitlist.transitions.remove.otherwise}
              fitting={allowing('remove').length}
              of={chosen.length}
              give={() => {
                change(allowing('remove'), 'removed');
              }}
            />
            <CommandButton
              label="Put back on the list"
              reason={waitlist.transitions.restore.otherwise}
              fitting={allowing('restore').length}
              of={chosen.length}
              give={() => {
                change(allowing('restore'), 'waiting');
              }}
            />
          </div>
        </Allowed>
      )}
      <ChoosingTable
        pages={entries}
        choice={choice}
        columns={COLUMNS}
        empty="Nobody on this list matches. Remove a filter."
        row={(entry, isPicked, pick) => (
          <EntryRow
            key={entry.id}
            entry={entry}
            zone={goods.shop.zone}
            isPicked={isPicked}
            pick={pick}
            note={(note) => {
              patch.mutate({ ids: [entry.id], note });
            }}
          />
        )}
      />
      <Toast
        words={message?.words ?? null}
        undo={message?.undo}
        done={() => {
          setMessage(null);
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
  /** 1000 if missing. */
  readonly most?: number;
}

function NumberField({ label, value, set, least, most = 1000 }: NumberProps) {
  return (
    <TextField
      type="number"
      value={value}
      onChange={({ target }) => {
        set(Math.min(most, Math.max(least, Math.floor(Number(target.value)))));
      }}
      slotProps={{ htmlInput: { min: least, max: most, 'aria-label': label } }}
      sx={{ width: 74 }}
    />
  );
}
