import { Button, Skeleton } from '@mui/material';
import { useState } from 'react';
import type { Person, Vocabulary } from '#core/contract/shopCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { send } from '../api/client.ts';
import { AudiencesButton } from '../audiences/AudiencesButton.tsx';
import { audienceWords } from '../audiences/rows.ts';
import { useMay } from '../session/useMay.ts';
import { keys } from '../api/keys.ts';
import { useMoment } from '../shared/useMoment.ts';
import { roleTitle, useGoods } from '../goods/useGoods.ts';
import { NEW, PersonDialog } from './PersonDialog.tsx';
import { ImportDialog } from '../imports/ImportDialog.tsx';
import { PEOPLE } from '../imports/targets.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { dayWords } from '../shared/times.ts';
import { FindField, MoreButton, usePages } from '../shared/pages.tsx';
import { queryOf, useFilters } from '../shared/useFilters.ts';
import styles from './people.module.css';

const PAGE = 60;

/** Screen of customers, their roles and memberships, and of audiences. */
export function PeoplePage() {
  const goods = useGoods();
  const [search, set] = useFilters();
  const mayChange = useMay('people');
  const person = search.get('person');
  const [isImporting, setImporting] = useState(search.has('imports'));
  const query = queryOf(search, ['search', 'role']);
  const isFiltered = Object.keys(query).length > 0;
  const pages = usePages(keys.people(query), async (after) => {
    const { body } = await send('GET /api/people', { query: { limit: PAGE, ...query, after } });
    return { ...body, items: body.people };
  });
  const { moment } = useMoment(goods.data?.shop.zone);
  const error = goods.error ?? pages.error;
  if (error) return <LoadFailed error={error} retry={() => void Promise.all([goods.refetch(), pages.refetch()])} />;
  const { items: people, total } = pages;
  const zone = goods.data?.shop.zone;
  const roles = goods.data?.vocabulary.roles ?? [];
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>People</h1>
        <span className={lists.count} role="status">
          {pages.isPending ? 'looking…' : `${total} customer${total === 1 ? '' : 's'}${isFiltered ? ' found' : ''}`}
        </span>
        <FindField
          className={lists.search}
          label="Find a customer"
          placeholder="Search by name, e-mail or id"
          search={search}
          set={set}
        />
        {mayChange && (
          <>
            <Button
              variant="outlined"
              onClick={() => {
                set('person', NEW);
              }}
            >
              Add a customer
            </Button>
            <Button
              variant="contained"
              onClick={() => {
                setImporting(true);
              }}
            >
              Import
            </Button>
          </>
        )}
      </header>
      <div className={lists.columns}>
        <aside className={lists.aside} aria-label="Roles and audiences">
          <h2>Roles</h2>
          <ul>
            {roles.map(({ name, count, title }) => {
              const isOn = search.get('role') === name;
              return (
                <li key={name}>
                  <button
                    type="button"
                    aria-pressed={isOn}
                    onClick={() => {
                      set('role', isOn ? null : name);
                    }}
                  >
                    <span>{title ?? name}</span>
                    <span className={lists.number}>{count}</span>
                  </button>
                </li>
              );
            })}
          </ul>
          <h2>Audiences</h2>
          <ul className={styles.audiences}>
            {goods.data?.audiences.map((audience) => (
              <li key={audience.name}>
                <b>{audience.name}</b> {audienceWords(audience, roles)}
              </li>
            ))}
          </ul>
          <AudiencesButton />
        </aside>
        <section className={lists.main} aria-label="Customers" aria-busy={pages.isPending}>
          {pages.isPending ? (
            [1, 2, 3, 4, 5, 6].map((row) => <Skeleton key={row} variant="rounded" height={40} sx={{ mb: 1 }} />)
          ) : people.length === 0 ? (
            <p className={lists.empty}>
              {isFiltered
                ? 'No customers match. Remove a filter or try another name.'
                : 'There are no customers yet. Import a CSV file with one row for each customer.'}
            </p>
          ) : (
            <table className={styles.table}>
              <thead>
                <tr>
                  <th scope="col">Name</th>
                  <th scope="col">E-mail</th>
                  <th scope="col">Id</th>
                  <th scope="col">Roles and memberships</th>
                </tr>
              </thead>
              <tbody>
                {people.map((person) => (
                  <tr key={person.id}>
                    <th scope="row">
                      <button
                        type="button"
                        className={styles.name}
                        aria-label={person.name ?? person.email ?? person.id}
                        onClick={() => {
                          set('person', person.id);
                        }}
                      >
                        {person.name ?? <span className={lists.none}>no name</span>}
                      </button>
                    </th>
                    <td>{person.email}</td>
                    <td>
                      <code>{person.id}</code>
                    </td>
                    <td>{zone && <Roles roles={person.roles} titles={roles} moment={moment} zone={zone} />}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <MoreButton pages={pages} />
        </section>
      </div>
      {person && zone && (
        <PersonDialog
          id={person}
          roles={roles}
          zone={zone}
          open={(id) => {
            set('person', id);
          }}
          onClose={() => {
            set('person', null);
          }}
        />
      )}
      {mayChange && isImporting && (
        <ImportDialog
          target={PEOPLE}
          onClose={() => {
            setImporting(false);
          }}
        />
      )}
    </main>
  );
}

interface RolesProps {
  readonly roles: Person['roles'];
  readonly titles: Vocabulary['roles'];
  readonly moment: number;
  readonly zone: Zone;
}

/** Roles as they are held at the moment looked at. */
function Roles({ roles, titles, moment, zone }: RolesProps) {
  if (roles.length === 0) return <span className={lists.none}>none</span>;
  return roles.map(({ code, from, until }) => {
    const isOver = until !== null && Date.parse(until) <= moment;
    const isYet = from !== null && moment < Date.parse(from);
    const state = isOver ? styles.over : isYet ? styles.yet : styles.held;
    const dates = [
      from !== null && `from ${dayWords(Date.parse(from), zone)}`,
      until !== null && `until ${dayWords(Date.parse(until), zone)}`,
    ].filter((part) => part !== false);
    return (
      <span key={`${code} ${from ?? ''}`} className={`${styles.role} ${state}`}>
        <b>{roleTitle(titles, code)}</b> {dates.join(' ')}
        {isOver ? ' (over)' : isYet ? ' (not yet)' : ''}
      </span>
    );
  });
}
