import { Autocomplete, Button, TextField } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Person, Vocabulary } from '#core/contract/shopCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { send } from '../api/client.ts';
import { roleTitle } from '../goods/useGoods.ts';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { dayWords, fieldTime, instantOf } from '../shared/times.ts';
import styles from './people.module.css';

type Held = Person['roles'][number];

interface Holding {
  readonly role: string;
  readonly from: string | null;
  readonly until: string | null;
}

interface Changes {
  readonly grant?: readonly Holding[];
  readonly end?: readonly { readonly role: string }[];
  readonly drop?: readonly Holding[];
}

interface PersonRolesProps {
  readonly person: Person;
  /** The roles that the shop has. */
  readonly known: Vocabulary['roles'];
  readonly zone: Zone;
}

const holding = ({ code, from, until }: Held): Holding => ({ role: code, from, until });
const keyOf = ({ code, from, until }: Held) => `${code} ${from ?? ''} ${until ?? ''}`;

/** The roles and memberships that a customer holds, held and will hold, to be given, ended or given other dates. */
export function PersonRoles({ person: { id, roles }, known, zone }: PersonRolesProps) {
  const [now, setNow] = useState(() => Date.now());
  const [changing, setChanging] = useState<string | null>(null);
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: async (body: Changes) => {
      await send('PUT /api/people/{id}/roles', { params: { id }, body });
    },
    onSuccess: async () => {
      setNow(Date.now());
      setChanging(null);
      await client.invalidateQueries();
    },
  });
  const isOver = ({ until }: Held) => until !== null && Date.parse(until) <= now;
  return (
    <section aria-labelledby="roles-heading">
      <h3 id="roles-heading">Roles and memberships</h3>
      {roles.length === 0 && <p className={styles.hint}>None yet.</p>}
      <ul className={styles.heldRoles}>
        {[...roles.filter((one) => !isOver(one)), ...roles.filter(isOver)].map((one) => (
          <li key={keyOf(one)} className={isOver(one) ? styles.over : ''}>
            {changing === keyOf(one) ? (
              <RoleForm
                initial={one}
                known={known}
                zone={zone}
                isPending={change.isPending}
                submit="Save dates"
                onSubmit={(next) => {
                  change.mutate({ drop: [holding(one)], grant: [next] });
                }}
                onCancel={() => {
                  setChanging(null);
                }}
              />
            ) : (
              <>
                <b>{roleTitle(known, one.code)}</b>
                <span>{datesOf(one, zone) + (isOver(one) ? ' (over)' : '')}</span>
                <Button
                  size="small"
                  aria-label={`Change the dates of ${roleTitle(known, one.code)}`}
                  onClick={() => {
                    setChanging(keyOf(one));
                  }}
                >
                  Change dates
                </Button>
                {!isOver(one) && (
                  <Button
                    size="small"
                    aria-label={`End ${roleTitle(known, one.code)} now`}
                    disabled={change.isPending}
                    onClick={() => {
                      change.mutate({ end: [{ role: one.code }] });
                    }}
                  >
                    End now
                  </Button>
                )}
                <Button
                  size="small"
                  aria-label={`Remove ${roleTitle(known, one.code)}`}
                  disabled={change.isPending}
                  onClick={() => {
                    change.mutate({ drop: [holding(one)] });
                  }}
                >
                  Remove
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
      {change.error && <ErrorNote error={change.error} />}
      <RoleForm
        key={roles.length}
        known={known}
        zone={zone}
        isPending={change.isPending}
        submit="Add role"
        onSubmit={(next) => {
          change.mutate({ grant: [next] });
        }}
      />
    </section>
  );
}

function datesOf({ from, until }: Held, zone: Zone): string {
  const day = (at: string) => dayWords(Date.parse(at), zone);
  if (from === null && until === null) return 'for good';
  return [from !== null && `from ${day(from)}`, until !== null && `until ${day(until)}`].filter(Boolean).join(' ');
}

interface RoleFormProps {
  /** Role whose dates are edited; absent for a new one. */
  readonly initial?: Held;
  readonly known: Vocabulary['roles'];
  readonly zone: Zone;
  readonly isPending: boolean;
  readonly submit: string;
  readonly onSubmit: (holding: Holding) => void;
  readonly onCancel?: () => void;
}

/** A role, and from when until when it is held. */
function RoleForm({ initial, known, zone, isPending, submit, onSubmit, onCancel }: RoleFormProps) {
  const dayOf = (at: string | null | undefined) => (at ? fieldTime(Date.parse(at), zone).slice(0, 10) : '');
  const [role, setRole] = useState(initial?.code ?? '');
  const [from, setFrom] = useState(dayOf(initial?.from));
  const [until, setUntil] = useState(dayOf(initial?.until));
  const instant = (day: string) => {
    const at = day === '' ? null : instantOf(`${day}T00:00`, zone);
    return at === null ? null : new Date(at).toISOString();
  };
  const isBackwards = from !== '' && until !== '' && until <= from;
  const found = known.find(({ name, title }) => [name, title].includes(role.trim()));
  const isNew = role.trim() !== '' && found === undefined;
  return (
    <form
      className={styles.giveRole}
      aria-label={initial ? `Dates of ${roleTitle(known, initial.code)}` : 'Add a role'}
      onSubmit={(event) => {
        event.preventDefault();
        onSubmit({ role: initial?.code ?? found?.name ?? role.trim(), from: instant(from), until: instant(until) });
      }}
    >
      {initial ? (
        <b>{roleTitle(known, initial.code)}</b>
      ) : (
        <Autocomplete
          freeSolo
          options={known.map(({ title, name }) => title ?? name)}
          inputValue={role}
          onInputChange={(_event, value) => {
            setRole(value);
          }}
          renderInput={(input) => (
            <TextField
              {...input}
              label="Role"
              helperText={isNew ? 'Nobody has this role yet: it is a new one.' : undefined}
            />
          )}
        />
      )}
      <div className={styles.dates}>
        <DateTimeField kind="date" label="From (always if empty)" value={from} onChange={setFrom} clearable />
        <DateTimeField kind="date" label="Until (for good if empty)" value={until} onChange={setUntil} clearable />
      </div>
      {isBackwards && <p role="alert">The last day is before the first. Choose a later one.</p>}
      <div className={styles.acts}>
        <Button type="submit" variant="outlined" disabled={role.trim() === '' || isBackwards} loading={isPending}>
          {submit}
        </Button>
        {onCancel && <Button onClick={onCancel}>Cancel</Button>}
      </div>
    </form>
  );
}
