import { Button } from '@mui/material';
import { Link } from 'react-router';
import type { Message } from '#core/contract/messageCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { useMay } from '../session/useMay.ts';
import { useShop } from '../goods/useShop.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/letters.module.css';
import { momentWords } from '../shared/times.ts';
import { queryOf, useFilters } from '../shared/useFilters.ts';
import { WorkPage } from '../shared/WorkPage.tsx';
import { CHANNEL_NAMES, EVENT_NAMES } from './eventNames.ts';
import { LetterPreview } from './LetterPreview.tsx';
import { useLook } from './useSettings.ts';
import { useMessages, useSendAgain } from './useMessages.ts';

const STATES = { waiting: 'on its way', sent: 'sent', dead: 'failed', held: 'held back' } as const;

/** Screen of sent messages, and of failed ones to retry. */
export function MessagesPage() {
  const filters = useFilters();
  const pages = useMessages(queryOf(filters[0], ['search', 'state', 'event']));
  const shop = useShop();
  const again = useSendAgain();
  const mayDesign = useMay('settings');
  const mayEdit = useMay('publish');
  const ofShop = useMay('read');
  const unsent = pages.total;
  return (
    <WorkPage
      title="Messages"
      one="message"
      findBy="address or subject"
      filters={filters}
      pages={{ ...pages, total: pages.items.length }}
      counted={unsent === 0 ? 'all delivered' : `${unsent} failed or held back`}
      states={STATES}
      about={{ name: 'event', options: Object.entries(EVENT_NAMES) }}
      none="No messages yet. They are sent when somebody joins a waitlist, reserves, or is invited."
      acts={
        <>
          {mayDesign && (
            <Button variant="outlined" component={Link} to="/messages/settings">
              Design and channels
            </Button>
          )}
          {ofShop && (
            <Button variant="contained" component={Link} to="/messages/words">
              {mayEdit ? 'Edit the templates' : 'See the templates'}
            </Button>
          )}
        </>
      }
      row={({ subject, recipient, channel, event, createdAt, state }) => ({
        title: channel === 'hook' ? EVENT_NAMES[event] : subject,
        more: (
          <>
            {channel !== 'email' && `${CHANNEL_NAMES[channel]} · `}
            {recipient} · {shop && momentWords(Date.parse(createdAt), shop.zone)}
            {state !== 'sent' && <em className={styles[state]}>{STATES[state]}</em>}
          </>
        ),
      })}
    >
      {(message) =>
        shop && (
          <Letter
            message={message}
            shop={shop}
            isTrying={again.isPending}
            error={again.error}
            tryAgain={() => {
              again.mutate(message.id);
            }}
          />
        )
      }
    </WorkPage>
  );
}

interface LetterProps {
  readonly message: Message;
  readonly shop: ShopFacts;
  readonly isTrying: boolean;
  readonly error: Error | null;
  readonly tryAgain: () => void;
}

function Letter({ message, shop, isTrying, error: notTried, tryAgain }: LetterProps) {
  const look = useLook();
  const mayAct = useMay('requests');
  const { event, channel, recipient, locale, subject, html, text, state, attempts, error, createdAt, sentAt } = message;
  return (
    <section className={styles.letter} aria-label={subject}>
      <header>
        <h2>{subject}</h2>
        <p>
          {EVENT_NAMES[event]} · {CHANNEL_NAMES[channel]} to {recipient} · created{' '}
          {momentWords(Date.parse(createdAt), shop.zone)}
          {sentAt !== null && `, sent ${momentWords(Date.parse(sentAt), shop.zone)}`} ({shop.zone.name})
        </p>
      </header>
      {state !== 'sent' && error !== null && (
        <div className={state === 'held' ? styles.heldBack : styles.failed}>
          <p>
            {state === 'held'
              ? 'Held back: anyone could have typed this address'
              : state === 'dead'
                ? `Failed after ${attempts} tries`
                : `Tried ${attempts} times`}
            : {error}
          </p>
          {mayAct && (state === 'dead' || state === 'held') && (
            <Button variant="outlined" sx={{ flex: 'none' }} loading={isTrying} onClick={tryAgain}>
              {state === 'held' ? 'Send it now' : 'Try again'}
            </Button>
          )}
        </div>
      )}
      {notTried && <ErrorNote error={notTried} />}
      {html === '' ? (
        <pre className={styles.body}>{channel === 'hook' ? indented(text) : text}</pre>
      ) : (
        look && <LetterPreview html={html} locale={locale} look={look} shop={shop} />
      )}
    </section>
  );
}

/** Formats a program's message for reading. */
const indented = (json: string) => JSON.stringify(JSON.parse(json), null, 2);
