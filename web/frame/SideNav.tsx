import { NavLink, useSearchParams } from 'react-router';
import { useAttention } from '../shared/usePageMap.ts';
import { useDraftPart } from '../draft/useDraft.ts';
import styles from './Frame.module.css';
import { GROUPS } from './screens.ts';
import { withMoment } from '../shared/useMoment.ts';

/** The screens that work, in their groups. */
export function SideNav() {
  const rules = useDraftPart(({ history }) => history?.now.rules.length);
  const [search] = useSearchParams();
  const waits = useAttention().data;
  const some = (count = 0) => (count > 0 ? count : undefined);
  const counts: Readonly<Record<string, number | undefined>> = {
    '/rules': rules,
    '/rehearsal': some(waits?.spotChecks),
    '/connection': some(waits?.pageMapBroken.length),
    '/sellers': some(waits?.sellers),
    '/waitlists': some(waits?.invitations),
    '/preorders': some(waits?.allocations),
    '/quotes': some(waits?.quotes),
    '/enquiries': some(waits?.enquiries),
    '/messages': some(waits?.messages),
  };
  return (
    <nav className={styles.rail} aria-label="Screens">
      {GROUPS.map(({ name, screens }) => (
        <section key={name} aria-label={name}>
          <h2>{name}</h2>
          {screens.map(({ to, label }) => (
            <NavLink key={to} to={withMoment(to, search)}>
              {label} {counts[to] !== undefined && <span className={styles.count}>{counts[to]}</span>}
            </NavLink>
          ))}
        </section>
      ))}
    </nav>
  );
}
