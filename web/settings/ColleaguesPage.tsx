import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  Skeleton,
  TextField,
} from '@mui/material';
import { useState } from 'react';
import type { Colleague } from '#core/contract/colleagueCalls.ts';
import { STAFF_ROLES, type StaffRole } from '#core/contract/permissions.ts';
import { useMay } from '../session/useMay.ts';
import { useSession } from '../session/useSession.ts';
import { CopyLine } from '../shared/CopyLine.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { FEW, FindField, MoreButton, useFirstOf } from '../shared/pages.tsx';
import { momentWords } from '../shared/times.ts';
import { useFilters } from '../shared/useFilters.ts';
import { useShop } from '../goods/useShop.ts';
import { InviteForm } from './InviteForm.tsx';
import { ROLE_WORDS } from './roles.ts';
import styles from './settings.module.css';
import { useColleagues, useInviteAgain, useLetGo, useSetRole, useTakeSecondFactor } from './useColleagues.ts';

/** Colleagues and their roles. */
export function ColleaguesPage() {
  const colleagues = useColleagues();
  const mayChange = useMay('settings');
  if (colleagues.error) return <LoadFailed error={colleagues.error} retry={() => void colleagues.refetch()} />;
  if (!colleagues.data) return <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />;
  return (
    <div className={styles.columns}>
      <section aria-label="Who works here">
        <ColleaguesTable colleagues={colleagues.data} mayChange={mayChange} />
        {!mayChange && <p className={styles.hint}>Owners of the shop invite colleagues and say what they may do.</p>}
      </section>
      {mayChange && (
        <aside className={styles.aside}>
          <InviteForm />
        </aside>
      )}
    </div>
  );
}

interface ColleaguesTableProps {
  readonly colleagues: readonly Colleague[];
  readonly mayChange: boolean;
}

function ColleaguesTable({ colleagues, mayChange }: ColleaguesTableProps) {
  const [search, set] = useFilters();
  const words = (search.get('search') ?? '').toLowerCase();
  const found = colleagues.filter(({ name, email }) => `${name} ${email}`.toLowerCase().includes(words));
  const first = useFirstOf(found);
  return (
    <>
      {colleagues.length > FEW && (
        <FindField
          className={styles.find}
          label="Find a colleague"
          placeholder="Find by name or e-mail"
          search={search}
          set={set}
        />
      )}
      <table className={styles.people}>
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Role</th>
            <th scope="col">Last here</th>
            {mayChange && <td />}
          </tr>
        </thead>
        <tbody>
          {first.items.map((colleague) => (
            <Row key={colleague.id} colleague={colleague} mayChange={mayChange} />
          ))}
        </tbody>
      </table>
      {found.length === 0 && <p className={styles.hint}>No colleague has “{words}” in their name or e-mail.</p>}
      <MoreButton pages={first} />
    </>
  );
}

function Row({ colleague, mayChange }: { readonly colleague: Colleague; readonly mayChange: boolean }) {
  const { name, email, role, isInvited, seenAt, hasSecondFactor } = colleague;
  const shop = useShop();
  const session = useSession();
  const setRole = useSetRole();
  const again = useInviteAgain();
  const letGo = useLetGo();
  const takeFactor = useTakeSecondFactor();
  const [isAsking, setAsking] = useState(false);
  const isMe = session.data?.user?.id === colleague.id;
  const error = setRole.error ?? again.error ?? letGo.error ?? takeFactor.error;
  const seen = isInvited
    ? 'Invited, not here yet'
    : seenAt && shop
      ? momentWords(Date.parse(seenAt), shop.zone)
      : 'Not since this is written down';
  return (
    <>
      <tr>
        <th scope="row">
          {name}
          {isMe && ' (you)'}
          <small>{email}</small>
        </th>
        <td>
          {mayChange ? (
            <TextField
              select
              value={role}
              fullWidth={false}
              slotProps={{ htmlInput: { 'aria-label': `Role of ${name}` } }}
              sx={{ width: 140 }}
              onChange={({ target }) => {
                setRole.mutate({ id: colleague.id, role: target.value as StaffRole });
              }}
            >
              {STAFF_ROLES.map((one) => (
                <MenuItem key={one} value={one}>
                  {ROLE_WORDS[one].name}
                </MenuItem>
              ))}
            </TextField>
          ) : (
            ROLE_WORDS[role].name
          )}
          <small>{ROLE_WORDS[role].may}</small>
        </td>
        <td>
          {seen}
          {hasSecondFactor && <small>with a second factor</small>}
        </td>
        {mayChange && (
          <td className={styles.acts}>
            {isInvited && (
              <Button
                loading={again.isPending}
                onClick={() => {
                  again.mutate(colleague);
                }}
              >
                Invite again
              </Button>
            )}
            {hasSecondFactor && !isMe && (
              <Button
                loading={takeFactor.isPending}
                aria-label={`Remove the second factor of ${name}`}
                onClick={() => {
                  takeFactor.mutate(colleague);
                }}
              >
                Remove second factor
              </Button>
            )}
            <Button
              color="error"
              onClick={() => {
                setAsking(true);
              }}
            >
              {isInvited ? 'Withdraw' : 'Let go'}
            </Button>
          </td>
        )}
      </tr>
      {(error ?? again.data) && (
        <tr>
          <td colSpan={4}>
            {error && <ErrorNote error={error} />}
            {again.data &&
              (again.data.link === null ? (
                <p role="status">The invitation is on its way to {email} once more.</p>
              ) : (
                <CopyLine text={again.data.link} label={`the invitation for ${name}`} />
              ))}
          </td>
        </tr>
      )}
      <Dialog
        open={isAsking}
        onClose={() => {
          setAsking(false);
        }}
      >
        <DialogTitle>{isInvited ? `Withdraw the invitation of ${name}?` : `Let ${name} go?`}</DialogTitle>
        <DialogContent>
          {isInvited
            ? 'The link in their letter will not work any more.'
            : 'They are signed out everywhere at once. What they did stays on record under their name. To have them back, invite them again.'}
        </DialogContent>
        <DialogActions>
          <Button
            onClick={() => {
              setAsking(false);
            }}
          >
            Keep {name}
          </Button>
          <Button
            variant="contained"
            color="error"
            onClick={() => {
              setAsking(false);
              letGo.mutate(colleague);
            }}
          >
            {isInvited ? 'Withdraw' : 'Let go'}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
