import { Autocomplete, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { putPersonRoles } from '#core/contract/peopleCalls.ts';
import type { Person } from '#core/contract/shopCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { send } from '../api/client.ts';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { dayWords, instantOf } from '../shared/times.ts';
import styles from './people.module.css';

interface Props {
  readonly person: Person;
  /** The roles that the shop has. */
  readonly known: readonly string[];
  readonly zone: Zone;
}

interface Changes {
  readonly grant?: readonly { role: string; from: string | null; until: string | null }[];
  readonly end?: readonly { role: string }[];
}

/** Gives a customer roles and memberships by hand, or ends them; what the shop does by a call. */
export function PersonRoles({ person: { id, name, roles }, known, zone }: Props) {
  const [isOpen, setOpen] = useState(false);
  const [now, setNow] = useState(() => Date.now());
  const [role, setRole] = useState('');
  const [from, setFrom] = useState('');
  const [until, setUntil] = useState('');
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: async (body: Changes) => {
      await send<typeof putPersonRoles>('put', `/api/people/${encodeURIComponent(id)}/roles`, { body });
    },
    onSuccess: async () => {
      setNow(Date.now());
      await client.invalidateQueries();
    },
  });
  const who = name ?? id;
  const instant = (day: string) => {
    const at = day === '' ? null : instantOf(`${day}T00:00`, zone);
    return at === null ? null : new Date(at).toISOString();
  };
  const current = roles.filter((one) => one.until === null || Date.parse(one.until) > now);
  return (
    <>
      <Button
        size="small"
        aria-label={`Roles of ${who}`}
        onClick={() => {
          setOpen(true);
        }}
      >
        Change
      </Button>
      <Dialog
        open={isOpen}
        fullWidth
        maxWidth="xs"
        onClose={() => {
          setOpen(false);
        }}
        aria-labelledby={`roles-${id}`}
      >
        <DialogTitle id={`roles-${id}`}>Roles of {who}</DialogTitle>
        <DialogContent>
          {current.length === 0 && <p>No roles.</p>}
          <ul className={styles.heldRoles}>
            {current.map((one) => (
              <li key={`${one.code} ${one.from ?? ''}`}>
                <b>{one.code}</b>
                <span>
                  {one.from !== null && `from ${dayWords(Date.parse(one.from), zone)} `}
                  {one.until !== null && `until ${dayWords(Date.parse(one.until), zone)}`}
                </span>
                <Button
                  aria-label={`End ${one.code} now`}
                  loading={change.isPending}
                  onClick={() => {
                    change.mutate({ end: [{ role: one.code }] });
                  }}
                >
                  End it now
                </Button>
              </li>
            ))}
          </ul>
          <form
            className={styles.giveRole}
            onSubmit={(event) => {
              event.preventDefault();
              change.mutate(
                { grant: [{ role: role.trim(), from: instant(from), until: instant(until) }] },
                {
                  onSuccess: () => {
                    setRole('');
                    setFrom('');
                    setUntil('');
                  },
                },
              );
            }}
          >
            <Autocomplete
              freeSolo
              options={known}
              inputValue={role}
              onInputChange={(_event, value) => {
                setRole(value);
              }}
              renderInput={(input) => <TextField {...input} label="Add a role" />}
            />
            <div className={styles.dates}>
              <DateTimeField kind="date" label="From (now if empty)" value={from} onChange={setFrom} clearable />
              <DateTimeField
                kind="date"
                label="Until (for good if empty)"
                value={until}
                onChange={setUntil}
                clearable
              />
            </div>
            {change.error && <ErrorNote error={change.error} />}
            <DialogActions sx={{ p: 0 }}>
              <Button
                onClick={() => {
                  setOpen(false);
                }}
              >
                Done
              </Button>
              <Button type="submit" variant="contained" disabled={role.trim() === ''} loading={change.isPending}>
                Add
              </Button>
            </DialogActions>
          </form>
        </DialogContent>
      </Dialog>
    </>
  );
}
