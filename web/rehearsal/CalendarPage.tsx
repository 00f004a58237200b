import { Button, Skeleton } from '@mui/material';
import { Link } from 'react-router';
import type { ComingInstant } from '#core/contract/rehearsalCalls.ts';
import { toLocal, toInstant, type Zone } from '#core/model/zone.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useGoods } from '../goods/useGoods.ts';
import { useLive } from '../live/useEditions.ts';
import { useOpenings } from '../live/useOpenings.ts';
import { useMoment } from '../shared/useMoment.ts';
import { useShop } from '../goods/useShop.ts';
import { Looks, othersIn } from '../proof/Looks.tsx';
import { useDraft } from '../draft/useDraft.ts';
import { Choice } from '../shared/Choice.tsx';
import { CopyLine } from '../shared/CopyLine.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { Progress } from '../shared/Progress.tsx';
import { fieldTime, momentWords } from '../shared/times.ts';
import { useFilters } from '../shared/useFilters.ts';
import styles from './calendar.module.css';
import { whatWords } from './TimeLine.tsx';
import { useCalendar, useCalendarAddress, useNewCalendarAddress } from './useRehearsal.ts';

const WHOSE = { live: 'Live', draft: 'Draft' } as const;

/** A lane a rule, its windows as bars, today's line; and every change that the clock will make. */
export function CalendarPage() {
  const [search, set] = useFilters();
  const of = search.get('of') === 'draft' ? 'draft' : 'live';
  return (
    <main className={styles.page}>
      <header>
        <h1>Calendar</h1>
        <Choice
          options={WHOSE}
          value={of}
          label="Whose rules"
          choose={(next) => {
            set('of', next === 'live' ? null : next);
          }}
        />
      </header>
      <ByRules key={of} of={of} />
    </main>
  );
}

/** Scheduled changes of a rulebook. */
function ByRules({ of }: { readonly of: 'live' | 'draft' }) {
  const shop = useShop();
  const live = useLive();
  const draft = useDraft();
  const openings = useOpenings();
  const calendar = useCalendar(of);
  const goods = useGoods();
  const { moment } = useMoment(shop?.zone);
  const error = calendar.error ?? live.error ?? draft.error;
  if (error) return <LoadFailed error={error} retry={() => void calendar.refetch()} />;
  if (!calendar.data || !shop || !live.data || !draft.rulebook)
    return (
      <div aria-busy="true">
        <Progress question={calendar} />
        {!calendar.isGivenUp && <Skeleton variant="rounded" height={320} />}
      </div>
    );

  const { instants, bars } = calendar.data;
  const { rules } = of === 'draft' ? draft.rulebook : live.data.rulebook;
  const nameOf = ruleNames(rules, {}, goods.data?.sellers);
  const [from, until] = [Date.parse(calendar.data.at), Date.parse(calendar.data.until)];
  const share = (instant: number) => `${((instant - from) / (until - from)) * 100}%`;
  const timed = bars.filter(
    ({ bars: ruleBars }) =>
      ruleBars.length !== 1 ||
      Date.parse(ruleBars[0]?.from ?? '') > from ||
      Date.parse(ruleBars[0]?.until ?? '') < until,
  );
  const always = bars.length - timed.length;
  return (
    <div aria-busy={calendar.isFetching}>
      <Progress question={calendar} />
      <section className={styles.lanes} aria-label="The rules’ times">
        <div className={styles.months} aria-hidden="true">
          {monthsIn(shop.zone, from, until).map(({ at, name }) => (
            <span key={at} style={{ insetInlineStart: share(at) }}>
              {name}
            </span>
          ))}
        </div>
        {timed.length === 0 && <p>No rule has a time: nothing changes by itself.</p>}
        <ul>
          {timed.map(({ rule, bars: ruleBars }) => (
            <li key={rule}>
              <Link to={`/rules/${encodeURIComponent(rule)}`}>{nameOf(rule)}</Link>
              <div className={styles.lane}>
                {ruleBars.map((bar) => (
                  <span
                    key={bar.from}
                    role="img"
                    aria-label={`${nameOf(rule)}: ${wordsOf(bar, shop.zone, from, until)}`}
                    title={wordsOf(bar, shop.zone, from, until)}
                    style={{
                      insetInlineStart: share(Date.parse(bar.from)),
                      width: share(from + Date.parse(bar.until) - Date.parse(bar.from)),
                    }}
                  />
                ))}
                {ruleBars.length === 0 && <small>not in the next 400 days</small>}
                {moment > from && moment < until && (
                  <i aria-hidden="true" style={{ insetInlineStart: share(moment) }} />
                )}
              </div>
            </li>
          ))}
        </ul>
        {always > 0 && (
          <p className={styles.quiet}>
            {always === 1 ? 'One other rule counts' : `${always} other rules count`} at all times.
          </p>
        )}
      </section>
      <div className={styles.columns}>
        <section aria-labelledby="changes">
          <h2 id="changes">What changes next</h2>
          <ol className={styles.changes}>
            {(openings.data ?? []).map(({ id, at, note }) => (
              <li key={id}>
                <time dateTime={at}>{momentWords(Date.parse(at), shop.zone)}</time>
                <div>
                  <Link to="/editions">The next edition opens</Link>
                  {note !== null && <p>{note}</p>}
                </div>
              </li>
            ))}
            {instants.map((instant) => (
              <Coming key={instant.at} instant={instant} zone={shop.zone} nameOf={nameOf} />
            ))}
          </ol>
          {instants.length === 0 && <p className={styles.quiet}>Nothing changes in the next 400 days.</p>}
        </section>
        <Elsewhere />
      </div>
    </div>
  );
}

const wordsOf = ({ from, until }: { from: string; until: string }, zone: Zone, first: number, last: number) => {
  const [begins, ends] = [Date.parse(from), Date.parse(until)];
  const beginning = begins > first ? `from ${momentWords(begins, zone)}` : 'now';
  return `${beginning}, ${ends < last ? `until ${momentWords(ends, zone)}` : 'no end in the next 400 days'}`;
};

const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' });

/** Width of a month's name, in days. */
const ROOM_FOR_NAME = 20 * 24 * 3_600_000;

/** First days of months in a period, in the shop's zone, with room for their names. */
function monthsIn(zone: Zone, from: number, until: number): { at: number; name: string }[] {
  const start = new Date(toLocal(zone, from));
  const months = Array.from({ length: 14 }, (_, index) =>
    Date.UTC(start.getUTCFullYear(), start.getUTCMonth() + 1 + index, 1),
  );
  return months
    .map((local) => {
      const name = MONTH.format(local);
      return { at: toInstant(zone, local), name: name === 'Jan' ? String(new Date(local).getUTCFullYear()) : name };
    })
    .filter(({ at }) => at < until - ROOM_FOR_NAME);
}

function Coming({
  instant,
  zone,
  nameOf,
}: {
  readonly instant: ComingInstant;
  readonly zone: Zone;
  readonly nameOf: (id: string) => string;
}) {
  const { at, groups, changed } = instant;
  const [first, ...others] = groups;
  const more = [
    ...(first ? othersIn(first) : []),
    ...(others.length > 0 ? [`${others.length} more ${others.length === 1 ? 'kind' : 'kinds'} of change`] : []),
  ];
  return (
    <li>
      <time dateTime={at}>{momentWords(Date.parse(at), zone)}</time>
      <div>
        <Link to={`/rehearsal?${new URLSearchParams({ at: fieldTime(Date.parse(at), zone) }).toString()}`}>
          {whatWords(instant, nameOf)}
        </Link>
        <p>
          {changed === 1 ? '1 variant' : `${changed} variants`}
          {first && <Looks group={first} />}
          {more.join(' · ')}
        </p>
      </div>
    </li>
  );
}

/** The secret address for other calendar programs. */
function Elsewhere() {
  const address = useCalendarAddress();
  const renew = useNewCalendarAddress();
  return (
    <section aria-labelledby="elsewhere">
      <h2 id="elsewhere">In your calendar</h2>
      <p className={styles.quiet}>
        Add this address to any calendar that reads iCalendar. It shows what is live and what is set to open. Whoever
        has the address can read it.
      </p>
      {address.data && <CopyLine text={address.data} label="the calendar’s address" />}
      {address.error && <ErrorNote error={address.error} />}
      {renew.error && <ErrorNote error={renew.error} />}
      <Allowed permission="draft" quiet>
        <Button
          size="small"
          loading={renew.isPending}
          onClick={() => {
            renew.mutate();
          }}
        >
          Make a new address and end this one
        </Button>
      </Allowed>
    </section>
  );
}
