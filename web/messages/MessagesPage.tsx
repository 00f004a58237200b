import { Button, Skeleton } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { MESSAGE_STATES, type Message } from '#core/contract/messageCalls.ts';
import type { Zone } from '#core/decide/zone.ts';
import { useGoods } from '../goods/useGoods.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FindField, MoreButton } from '../shared/pages.tsx';
import { momentWords } from '../shared/times.ts';
import { queryOf, useFilters } from '../shared/useFilters.ts';
import { EVENT_NAMES } from './eventNames.ts';
import styles from '../shared/letters.module.css';
import { useMessages, useSendAgain } from './useMessages.ts';

const STATE_NAMES = { waiting: 'on its way', sent: 'sent', dead: 'not taken' } as const;

/** What was told to whom; and what could not be, to be tried again. */
export function MessagesPage() {
  const [search, set] = useFilters();
  const query = queryOf(search, ['search', 'state', 'event']);
  const pages = useMessages(query);
  const goods = useGoods();
  const again = useSendAgain();
  const [open, setOpen] = useState<string | null>(null);
  const error = pages.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void pages.refetch()} />;
  const { items: messages, total: dead } = pages;
  const shown = messages.find(({ id }) => id === open) ?? messages[0];
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Messages</h1>
        <span className={lists.count} role="status">
          {pages.isPending ? 'looking…' : dead === 0 ? 'all were taken' : `${dead} could not be sent`}
        </span>
        <FindField
          className={lists.search}
          label="Find a message"
          placeholder="Find by address or subject"
          search={search}
          set={set}
        />
        <Button variant="contained" component={Link} to="/messages/words">
          Change the words
        </Button>
      </header>
      <div className={styles.columns}>
        <section className={styles.list} aria-label="Messages" aria-busy={pages.isPending}>
          <div className={styles.filters}>
            {MESSAGE_STATES.map((state) => (
              <button
                key={state}
                type="button"
                aria-pressed={search.get('state') === state}
                onClick={() => {
                  set('state', search.get('state') === state ? null : state);
                }}
              >
                {STATE_NAMES[state]}
              </button>
            ))}
            <select
              aria-label="About"
              value={search.get('event') ?? ''}
              onChange={({ target }) => {
                set('event', target.value);
              }}
            >
              <option value="">about anything</option>
              {Object.entries(EVENT_NAMES).map(([event, name]) => (
                <option key={event} value={event}>
                  {name}
                </option>
              ))}
            </select>
          </div>
          {again.error && <ErrorNote error={again.error} />}
          {pages.isPending || !goods.data ? (
            [1, 2, 3, 4, 5].map((row) => <Skeleton key={row} variant="rounded" height={44} sx={{ m: 1 }} />)
          ) : messages.length === 0 ? (
            <p className={lists.empty}>
              {query === ''
                ? 'Nothing has been told yet. Messages go out when somebody joins a waitlist, reserves, or is invited.'
                : 'No message fits. Take a filter off.'}
            </p>
          ) : (
            <ul>
              {messages.map((message) => (
                <li key={message.id} className={message === shown ? styles.chosen : undefined}>
                  <button
                    type="button"
                    aria-current={message === shown}
                    onClick={() => {
                      setOpen(message.id);
                    }}
                  >
                    <b>{message.subject}</b>
                    <small>
                      {message.recipient} · {momentWords(Date.parse(message.createdAt), goods.data.shop.zone)}
                      {message.state !== 'sent' && (
                        <em className={styles[message.state]}>{STATE_NAMES[message.state]}</em>
                      )}
                    </small>
                  </button>
                </li>
              ))}
            </ul>
          )}
          <MoreButton pages={{ ...pages, total: messages.length }} />
        </section>
        {shown && goods.data && (
          <Letter
            message={shown}
            zone={goods.data.shop.zone}
            isTrying={again.isPending}
            tryAgain={() => {
              again.mutate(shown.id);
            }}
          />
        )}
      </div>
    </main>
  );
}

interface LetterProps {
  readonly message: Message;
  readonly zone: Zone;
  readonly isTrying: boolean;
  readonly tryAgain: () => void;
}

function Letter({ message, zone, isTrying, tryAgain }: LetterProps) {
  const { event, recipient, subject, html, state, attempts, error, createdAt, sentAt } = message;
  return (
    <section className={styles.letter} aria-label={subject}>
      <header>
        <h2>{subject}</h2>
        <p>
          {EVENT_NAMES[event]} · to {recipient} · written {momentWords(Date.parse(createdAt), zone)}
          {sentAt !== null && `, sent ${momentWords(Date.parse(sentAt), zone)}`} ({zone.name})
        </p>
      </header>
      {state !== 'sent' && error !== null && (
        <div className={styles.failed}>
          <p>
            {state === 'dead' ? `Given up after ${attempts} tries` : `Tried ${attempts} times`}: {error}
          </p>
          {state === 'dead' && (
            <Button variant="outlined" loading={isTrying} onClick={tryAgain}>
              Try again
            </Button>
          )}
        </div>
      )}
      <Body html={html} />
    </section>
  );
}

/** A letter's body as it is read. The core rendered it, with raw HTML escaped. */
export function Body({ html }: { readonly html: string }) {
  return (
    <article
      className={styles.body}
      dangerouslySetInnerHTML={{ __html: html.includes('<p>') ? html : `<p>${html}</p>` }}
      // Links in it are the customer's: pressing them here would use them up.
      onClickCapture={(event) => {
        event.preventDefault();
      }}
    />
  );
}
