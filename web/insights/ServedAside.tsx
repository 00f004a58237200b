import { Skeleton } from '@mui/material';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { Answers } from '#core/contract/demandCalls.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import work from '../shared/worklist.module.css';
import styles from './insights.module.css';
import { useAnswers, useWords, type Period } from './useInsights.ts';
import { queryText } from '../shared/useFilters.ts';

interface ServedAsideProps {
  readonly period: Period | undefined;
}

/** Response times, and words used in searches and enquiries. */
export function ServedAside({ period }: ServedAsideProps) {
  const answers = useAnswers(period);
  const words = useWords(period);
  return (
    <aside className={styles.behind} aria-label="Response times">
      <div className={styles.over}>
        <h2>Response times</h2>
        <a className={styles.file} href={`/api/insights/answers.csv?${queryText({ ...period })}`} download>
          CSV
        </a>
      </div>
      {answers.error && <ErrorNote error={answers.error} />}
      {answers.data ? <Served answers={answers.data} /> : <Skeleton variant="rounded" height={150} />}
      <div className={styles.over}>
        <h2>Search terms</h2>
        <a
          className={styles.file}
          href={`/api/insights/words.csv?${queryText({ ...period, limit: '10000' })}`}
          download
        >
          CSV
        </a>
      </div>
      {words.error && <ErrorNote error={words.error} />}
      {words.data ? <Words {...words.data} /> : <Skeleton variant="rounded" height={120} />}
    </aside>
  );
}

/** A length of time in hours, as one says it. */
function inWords(hours: number): string {
  if (hours < 1) return `${Math.max(1, Math.round(hours * 60))} min`;
  if (hours < 48) return `${Math.round(hours)} h`;
  return `${Math.round(hours / 24)} days`;
}

function Served({ answers: { invitations, quotes, enquiries } }: { readonly answers: Answers }) {
  const half = (hours: number | null) => hours !== null && <>, half of them within {inWords(hours)}</>;
  return (
    <ul className={styles.served}>
      <Line
        to="/waitlists?with=invited&state=invited"
        count={invitations.sent}
        of={['invitation was sent', 'invitations were sent']}
      >
        <Link to="/waitlists?with=bought&state=bought">{invitations.bought} bought</Link>, {invitations.open} still
        open, <Link to="/waitlists?with=lapsed&state=lapsed">{invitations.lapsed} lapsed</Link>
      </Line>
      <Line to="/quotes" count={quotes.asked} of={['price was asked for', 'prices were asked for']}>
        {quotes.answered} answered{half(quotes.medianHours)};{' '}
        <Link to="/quotes?state=accepted">{quotes.accepted} won</Link>, {quotes.declined} declined,{' '}
        <Link to="/quotes?state=lapsed">{quotes.lapsed} lapsed</Link>, {quotes.turnedDown} turned down
      </Line>
      <Line to="/enquiries" count={enquiries.asked} of={['enquiry came', 'enquiries came']}>
        {enquiries.answered} answered{half(enquiries.medianHours)}
      </Line>
    </ul>
  );
}

interface LineProps {
  readonly to: string;
  readonly count: number;
  /** Of one, and of several. */
  readonly of: readonly [one: string, many: string];
  readonly children: ReactNode;
}

function Line({ to, count, of, children }: LineProps) {
  return (
    <li>
      <Link to={to}>
        <b>{count}</b> {of[count === 1 ? 0 : 1]}
      </Link>
      {count > 0 && <small>{children}</small>}
    </li>
  );
}

interface WordsProps {
  readonly searched: readonly { readonly words: string; readonly times: number; readonly foundNone: number }[];
  readonly asked: readonly { readonly word: string; readonly enquiries: number }[];
}

const SHOWN = 10;

function Words({ searched, asked }: WordsProps) {
  return (
    <>
      {searched.length === 0 ? (
        <p>
          Search terms are listed here once the shop’s search page reports them;{' '}
          <a href="/api/docs">the API reference</a> says how.
        </p>
      ) : (
        <table className={work.table}>
          <thead>
            <tr>
              <th scope="col">Searched for</th>
              <th scope="col" className={work.number}>
                Times
              </th>
              <th scope="col" className={work.number}>
                Nothing found
              </th>
            </tr>
          </thead>
          <tbody>
            {searched.slice(0, SHOWN).map(({ words, times, foundNone }) => (
              <tr key={words}>
                <th scope="row">
                  <Link to={`/catalog?${queryText({ search: words })}`}>{words}</Link>
                </th>
                <td className={work.number}>{times}</td>
                <td className={work.number}>{foundNone === 0 ? '' : foundNone}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {asked.length === 0 ? (
        <p>Words used in more than one enquiry are listed here.</p>
      ) : (
        <p className={styles.words}>
          In enquiries:{' '}
          {asked.slice(0, 2 * SHOWN).map(({ word, enquiries }) => (
            <Link key={word} to={`/enquiries?${queryText({ search: word })}`}>
              {word} <span>{enquiries}</span>
            </Link>
          ))}
        </p>
      )}
    </>
  );
}
