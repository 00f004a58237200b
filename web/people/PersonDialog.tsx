import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Skeleton } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import type { Vocabulary } from '#core/contract/shopCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { useMay } from '../session/useMay.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { MergePeople } from './MergePeople.tsx';
import styles from './people.module.css';
import { PersonData } from './PersonData.tsx';
import { PersonDetails } from './PersonDetails.tsx';
import { PersonRoles } from './PersonRoles.tsx';
import { Timeline } from './Timeline.tsx';

/** In the address, for a customer who is not there yet. */
export const NEW = 'new';

interface PersonDialogProps {
  /** The shop's id of theirs, or `new`. */
  readonly id: string;
  /** The roles that the shop has. */
  readonly roles: Vocabulary['roles'];
  readonly zone: Zone;
  readonly open: (id: string) => void;
  readonly onClose: () => void;
}

/** One customer: their timeline, details, memberships and personal data. */
export function PersonDialog({ id, roles, zone, open, onClose }: PersonDialogProps) {
  const mayChange = useMay('people');
  const query = { id };
  const found = useQuery({
    queryKey: keys.customers(query),
    queryFn: async () => (await send('GET /api/people', { query })).body.people[0] ?? null,
    enabled: id !== NEW,
  });
  const person = found.data;
  const title = id === NEW ? 'Add a customer' : (person?.name ?? person?.email ?? id);
  return (
    <Dialog open fullWidth maxWidth={id === NEW ? 'sm' : 'md'} onClose={onClose} aria-labelledby="person-title">
      <DialogTitle id="person-title">{title}</DialogTitle>
      <DialogContent className={styles.person}>
        {id === NEW ? (
          <PersonDetails person={null} done={open} />
        ) : found.error ? (
          <ErrorNote error={found.error} />
        ) : person === undefined ? (
          <Skeleton variant="rounded" height={260} />
        ) : person === null ? (
          <p>There is no customer {id} any more.</p>
        ) : mayChange ? (
          <>
            <Timeline person={person} zone={zone} />
            <PersonDetails key={JSON.stringify(person)} person={person} done={open} />
            <PersonRoles person={person} known={roles} zone={zone} />
            <MergePeople person={person} done={open} />
            <PersonData person={person} done={onClose} />
          </>
        ) : (
          <dl className={styles.facts}>
            <dt>E-mail</dt>
            <dd>{person.email ?? 'none'}</dd>
            <dt>Telephone</dt>
            <dd>{person.phone ?? 'none'}</dd>
            <dt>Id</dt>
            <dd>{person.id}</dd>
          </dl>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
