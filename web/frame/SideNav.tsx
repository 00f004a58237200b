import { NavLink, useSearchParams } from 'react-router';
import { useAttention } from '../shared/usePageMap.ts';
import { useDraftPart } from '../draft/useDraft.ts';
import styles from './Frame.module.css';
import { GROUPS } from './screens.ts';
import { withMoment } from '../shared/useMoment.ts';

/** The screens that work, in their groups. */
export function SideNav() {
  const rules = useDraftPart(({ history }) => history?.now.rules.length);
  const waits = useAttention().data;
  return (
    <ScreenLinks
      groups={GROUPS}
      counts={{
        '/rules': rules,
        '/rehearsal': waits?.spotChecks,
        '/connection': waits?.pageMapBroken.length,
        '/sellers': waits?.sellers,
        '/waitlists': waits?.invitations,
        '/preorders': waits?.allocations,
        '/quotes': waits?.quotes,
        '/enquiries': waits?.enquiries,
        '/messages': waits?.messages,
      }}
    />
  );
}

interface ScreenLinksProps {
  readonly groups: readonly {
    readonly name: string;
    readonly screens: readonly { readonly to: string; readonly label: string }[];
  }[];
  /** Counts beside the screens; none for zero. */
  readonly counts: Readonly<Record<string, number | undefined>>;
}

/** Leads to screens, with how much waits on each. */
export function ScreenLinks({ groups, counts }: ScreenLinksProps) {
  const [search] = useSearchParams();
  return (
    <nav className={styles.rail} aria-label="Screens" data-screen-only>
      {groups.map(({ name, screens }) => (
        <section key={name} aria-label={name}>
          <h2>{name}</h2>
          {screens.map(({ to, label }) => (
            <NavLink key={to} to={withMoment(to, search)}>
              {label} {counts[to] ? <span className={styles.count}>{counts[to]}</span> : null}
            </NavLink>
          ))}
        </section>
      ))}
    </nav>
  );
}
