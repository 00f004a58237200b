import { Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { Counts, EditionEffect } from '#core/contract/insightCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import lists from '../shared/lists.module.css';
import { Progress } from '../shared/Progress.tsx';
import { momentWords, shortDay } from '../shared/times.ts';
import work from '../shared/worklist.module.css';
import { CountHeads } from './CountHeads.tsx';
import styles from './insights.module.css';
import { useEditionEffect } from './useInsights.ts';

interface EffectSheetProps {
  readonly number: number;
  readonly zone: Zone;
  readonly to: (path: string) => string;
}

/** Effect of an edition on presses and orders, with its confidence interval and the numbers behind it. */
export function EffectSheet({ number, zone, to }: EffectSheetProps) {
  const found = useEditionEffect(number);
  const effect = found.data;
  return (
    <section className={lists.main} aria-label={`What edition ${number} did`} aria-busy={found.isPending}>
      {found.error && <ErrorNote error={found.error} />}
      <Progress question={found} />
      {!effect ? (
        found.isPending && <Skeleton variant="rounded" height={260} />
      ) : (
        <>
          <div className={work.head}>
            <h2>{effect.edition.note ?? `Edition ${number}`}</h2>
            <p>
              Edition {number}, {momentWords(Date.parse(effect.edition.publishedAt), zone)}, shows{' '}
              {productsWords(effect)} otherwise in its first {effect.looked} days.{' '}
              <Link to={`/editions/${number}`}>See what changed</Link>
            </p>
          </div>
          {effect.touched === 0 ? (
            <p>
              There is nothing to compare: what it shows otherwise, it shows later, or on no product that there is now.
            </p>
          ) : (
            <>
              <Said name="pressed" done="pressed the button" effect={effect} />
              <Said name="finished" done="ordered or asked" effect={effect} />
              <Behind effect={effect} />
              <a className={styles.file} href={`/api/insights/editions/${number}/counts.csv`} download>
                Export CSV
              </a>
            </>
          )}
          {effect.meanwhile.length > 0 && (
            <p className={styles.below}>
              {effect.meanwhile.slice(0, MOST_NAMED).map(({ number: other }, place) => (
                <span key={other}>
                  {place > 0 && ', '}
                  <Link to={to(`/insights/editions/${other}`)}>
                    {place === 0 ? 'Edition' : 'edition'} {other}
                  </Link>
                </span>
              ))}
              {effect.meanwhile.length > MOST_NAMED && ` and ${effect.meanwhile.length - MOST_NAMED} more`}
              {effect.meanwhile.length === 1
                ? ' was published in the same period, so its effect is included.'
                : ' were published in the same period, so their effect is included.'}
            </p>
          )}
          <p className={styles.below}>
            We compare the share of viewers who pressed, over the same number of full days before and after, leaving out
            the day of publication. Changes that affect the whole shop, such as the season, are left out. The interval
            is right in 95 of 100 such comparisons.
          </p>
        </>
      )}
    </section>
  );
}

/** Editions of the same period that are linked by name. */
const MOST_NAMED = 10;

const productsWords = ({ touched }: EditionEffect) =>
  touched === 0 ? 'no product' : touched === 1 ? 'one product' : `${touched.toLocaleString('en-GB')} products`;

const TOO_FEW = {
  days: 'Too early to say: it takes five whole days before and after.',
  touched: 'Too few to say: fewer than 20 did, before or after, of the products that it touched.',
  others: 'Too few to say: fewer than 20 did, before or after, of the products to compare with.',
} as const;

const timesWords = (times: number) =>
  times.toLocaleString('en-GB', { minimumFractionDigits: 1, maximumFractionDigits: times < 1 ? 2 : 1 });

interface SaidProps {
  readonly name: 'pressed' | 'finished';
  readonly done: string;
  readonly effect: EditionEffect;
}

/** Effect on one event, as a sentence and an interval. */
function Said({ name, done, effect }: SaidProps) {
  const estimate = effect.effects[name];
  if ('tooFew' in estimate)
    return (
      <div className={styles.said}>
        <h3>How many {done}</h3>
        <p>{TOO_FEW[estimate.tooFew]}</p>
      </div>
    );
  const { times, low, high } = estimate;
  const between = `between ${timesWords(low)} and ${timesWords(high)}`;
  return (
    <div className={styles.said}>
      <h3>How many {done}</h3>
      <p>
        {low > 1 ? (
          <>
            <b>{timesWords(times)} times as many</b> as without it; {between}.
          </>
        ) : high < 1 ? (
          <>
            <b>Fewer: {timesWords(times)} times as many</b> as without it; {between}.
          </>
        ) : (
          <>
            <b>No measurable difference</b>: it may be {between} times as many.
          </>
        )}
      </p>
      <Interval times={times} low={low} high={high} />
    </div>
  );
}

const WIDTH = 420;
/** Scale from a quarter to four times; values beyond are drawn at the edge. */
const place = (times: number) => 20 + ((WIDTH - 40) * (Math.log2(Math.min(4, Math.max(0.25, times))) + 2)) / 4;

/** The estimate and its interval, on a logarithmic scale. */
function Interval({ times, low, high }: { readonly times: number; readonly low: number; readonly high: number }) {
  return (
    <svg
      className={styles.interval}
      viewBox={`0 0 ${WIDTH} 46`}
      role="img"
      aria-label={`${timesWords(times)} times, between ${timesWords(low)} and ${timesWords(high)}`}
    >
      {[0.25, 0.5, 1, 2, 4].map((tick) => (
        <g key={tick}>
          <line x1={place(tick)} x2={place(tick)} y1={2} y2={28} stroke="var(--hairline)" />
          <text x={place(tick)} y={42} textAnchor="middle" fontSize={11} fill="var(--ink-soft)">
            {tick === 1 ? 'as before' : `${tick}×`}
          </text>
        </g>
      ))}
      <line x1={place(1)} x2={place(1)} y1={2} y2={28} stroke="var(--hairline-firm)" strokeWidth={1.5} />
      <line
        x1={place(low)}
        x2={place(high)}
        y1={15}
        y2={15}
        stroke="var(--time)"
        strokeWidth={3}
        strokeLinecap="round"
      />
      <circle cx={place(times)} cy={15} r={5.5} fill="var(--outcome)" />
    </svg>
  );
}

const DAY_MS = 86_400_000;

function Behind({ effect: { before, after } }: { readonly effect: EditionEffect }) {
  if (before.from === before.until) return null;
  const period = ({ from, until }: typeof before) => {
    const last = new Date(Date.parse(until) - DAY_MS).toISOString().slice(0, 10);
    return from === last ? shortDay(from) : `${shortDay(from)} to ${shortDay(last)}`;
  };
  const rows = [
    ['Touched, before', period(before), before.touched],
    ['Touched, after', period(after), after.touched],
    ['All others, before', period(before), before.others],
    ['All others, after', period(after), after.others],
  ] as const;
  return (
    <div className={styles.table}>
      <table className={work.table}>
        <thead>
          <tr>
            <th scope="col">Products</th>
            <th scope="col">Days</th>
            <CountHeads />
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, days, counts]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td>{days}</td>
              <td className={work.number}>{counts.seen.toLocaleString('en-GB')}</td>
              <Part counts={counts} event="pressed" />
              <Part counts={counts} event="finished" />
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Part({ counts, event }: { readonly counts: Counts; readonly event: 'pressed' | 'finished' }) {
  const part = counts.seen === 0 ? null : (100 * counts[event]) / counts.seen;
  return (
    <td className={work.number}>
      {counts[event].toLocaleString('en-GB')}
      {part !== null && <small>{part.toLocaleString('en-GB', { maximumFractionDigits: 1 })} % of seen</small>}
    </td>
  );
}
