import { Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { Person } from '#core/contract/shopCalls.ts';
import type { TimelineEntry } from '#core/contract/peopleCalls.ts';
import { isAllowed, type Machine } from '#core/requests/machine.ts';
import { REQUESTS } from '#core/requests/requests.ts';
import type { Zone } from '#core/model/zone.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { MoreButton, usePages } from '../shared/pages.tsx';
import { momentWords } from '../shared/times.ts';
import styles from './people.module.css';

const KINDS: Readonly<Record<TimelineEntry['kind'], string>> = {
  waitlist: 'Waitlist',
  preorder: 'Pre-order',
  quote: 'Quote',
  enquiry: 'Enquiry',
  message: 'Letter',
  role: 'Role',
};

/** Commands that the shop would give next, the likeliest first, with the words of their links. */
const NEXT: Readonly<Partial<Record<TimelineEntry['kind'], readonly (readonly [command: string, words: string])[]>>> = {
  waitlist: [
    ['invite', 'Invite'],
    ['restore', 'Put back'],
  ],
  preorder: [
    ['allocate', 'Allocate'],
    ['fulfil', 'Mark as sent'],
  ],
  quote: [['price', 'Price it']],
  enquiry: [['answer', 'Answer']],
};

/** Words for states whose code is not a plain word. */
const STATES: Readonly<Partial<Record<string, string>>> = {
  turnedDown: 'turned down',
  fulfilled: 'sent',
  dead: 'failed',
};

const PAGE = 30;

/** All that a customer did, was sent and was given, the newest first, with the next thing to do about each. */
export function Timeline({ person, zone }: { readonly person: Person; readonly zone: Zone }) {
  const pages = usePages(keys.timeline(person.id), async (after) => {
    const query = { limit: PAGE, ...(after === undefined ? {} : { after: Number(after) }) };
    const { body } = await send('GET /api/people/{id}/timeline', { params: { id: person.id }, query });
    return { ...body, items: body.entries };
  });
  return (
    <section aria-labelledby="timeline" aria-busy={pages.isPending}>
      <h3 id="timeline">
        Timeline <span className={styles.soft}>{pages.total > 0 ? pages.total : ''}</span>
      </h3>
      {pages.error ? (
        <ErrorNote error={pages.error} />
      ) : pages.isPending ? (
        <Skeleton variant="rounded" height={80} />
      ) : pages.items.length === 0 ? (
        <p className={styles.soft}>No requests, orders or letters yet.</p>
      ) : (
        <ol className={styles.timeline}>
          {pages.items.map((entry) => (
            <Entry key={`${entry.kind} ${entry.key} ${entry.at}`} entry={entry} person={person} zone={zone} />
          ))}
        </ol>
      )}
      <MoreButton pages={pages} />
    </section>
  );
}

function Entry({
  entry,
  person,
  zone,
}: {
  readonly entry: TimelineEntry;
  readonly person: Person;
  readonly zone: Zone;
}) {
  const { kind, at, state, title, units, order } = entry;
  const address = ADDRESSES[kind](entry, person.email ?? person.name);
  const name = title ?? KINDS[kind];
  const next = nextOf(entry);
  return (
    <li>
      <time dateTime={at}>{momentWords(Date.parse(at), zone)}</time>
      <span className={styles.soft}>{KINDS[kind]}</span>
      <span>
        {address === null ? name : <Link to={address}>{name}</Link>}
        {units !== null && ` · ${units} ${units === 1 ? 'unit' : 'units'}`}
        {order !== null && ` · order ${order}`}
      </span>
      <span>{STATES[state] ?? state}</span>
      <span>{next !== null && address !== null && <Link to={address}>{next}</Link>}</span>
    </li>
  );
}

function nextOf({ kind, state }: TimelineEntry): string | null {
  const machine = (REQUESTS as Readonly<Partial<Record<string, unknown>>>)[kind] as Machine<string, string> | undefined;
  const found = NEXT[kind]?.find(([command]) => machine && isAllowed(machine, state, command, 'owner'));
  return found?.[1] ?? null;
}

const query = (parts: Readonly<Record<string, string | null>>): string =>
  new URLSearchParams(
    Object.entries(parts).flatMap(([part, value]) => (value === null ? [] : [[part, value]])),
  ).toString();

/** Screens on which entries are dealt with; `who` finds the customer there. */
const ADDRESSES: Readonly<Record<TimelineEntry['kind'], (entry: TimelineEntry, who: string | null) => string | null>> =
  {
    waitlist: ({ product, variant }, who) => `/waitlists?${query({ product, variant, search: who })}`,
    preorder: ({ variant, order }, who) => `/preorders?${query({ variant, search: order ?? who })}`,
    quote: ({ key }) => `/quotes?${query({ quote: key })}`,
    enquiry: ({ key }) => `/enquiries?${query({ enquiry: key })}`,
    message: (_entry, who) => `/messages?${query({ search: who })}`,
    role: () => null,
  };
