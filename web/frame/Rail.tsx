import { NavLink, useSearchParams } from 'react-router';
import { useAttention } from '../connection/usePageMap.ts';
import { useDraft } from '../rules/useDraft.ts';
import styles from './Frame.module.css';
import { withMoment } from './useMoment.ts';

/** The screens that work, in their groups. */
export function Rail() {
  const { rulebook } = useDraft();
  const [search] = useSearchParams();
  const waits = useAttention().data;
  const broken = waits?.pageMapBroken.length ?? 0;
  const some = (count = 0) => (count > 0 ? count : undefined);
  const groups = [
    {
      name: 'Plan',
      screens: [
        { to: '/today', label: 'Today', count: undefined },
        { to: '/rules', label: 'Rules', count: rulebook?.rules.length },
        { to: '/rehearsal', label: 'Rehearsal', count: some(waits?.spotChecks) },
        { to: '/calendar', label: 'Calendar', count: undefined },
        { to: '/editions', label: 'Editions', count: undefined },
      ],
    },
    {
      name: 'Shop',
      screens: [
        { to: '/catalog', label: 'Catalog', count: undefined },
        { to: '/people', label: 'People', count: undefined },
        { to: '/connection', label: 'Connection', count: some(broken) },
      ],
    },
    {
      name: 'Serve',
      screens: [
        { to: '/waitlists', label: 'Waitlists', count: some(waits?.invitations) },
        { to: '/preorders', label: 'Pre-orders', count: some(waits?.allocations) },
        { to: '/quotes', label: 'Quotes', count: some(waits?.quotes) },
        { to: '/enquiries', label: 'Enquiries', count: some(waits?.enquiries) },
        { to: '/messages', label: 'Messages', count: some(waits?.messages) },
      ],
    },
  ];
  return (
    <nav className={styles.rail} aria-label="Screens">
      {groups.map(({ name, screens }) => (
        <section key={name} aria-label={name}>
          <h2>{name}</h2>
          {screens.map(({ to, label, count }) => (
            <NavLink key={to} to={withMoment(to, search)}>
              {label} {count !== undefined && <span className={styles.count}>{count}</span>}
            </NavLink>
          ))}
        </section>
      ))}
    </nav>
  );
}
