import type { AnswerOf, CallNamed } from '#core/contract/callNames.ts';
import { rulesIn, sellerRuleId } from '#core/rulebook/entries.ts';
import { Skeleton } from '@mui/material';
import { lazy, Suspense, type ReactNode } from 'react';
import { Link } from 'react-router';
import { useAttention } from '../shared/usePageMap.ts';
import { useGoods } from '../goods/useGoods.ts';
import { useLive } from '../live/useEditions.ts';
import { useOpenings } from '../live/useOpenings.ts';
import { useSession } from '../session/useSession.ts';
import { useShop } from '../goods/useShop.ts';
import { useCalendar, useFindings } from '../rehearsal/useRehearsal.ts';
import { whatWords } from '../rehearsal/TimeLine.tsx';
import { useChanges, useDraft } from '../draft/useDraft.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { fieldTime, momentWords } from '../shared/times.ts';
import styles from './today.module.css';

const NEXT_SHOWN = 5;

/** Decides for every audience, which takes a script that the rest of the screen need not wait for. */
const ShownNow = lazy(async () => ({ default: (await import('./ShownNow.tsx')).ShownNow }));

/** Gone once a shop runs. */
const FirstSteps = lazy(async () => ({ default: (await import('./FirstSteps.tsx')).FirstSteps }));

/** Screen of the present state, the next scheduled changes and waiting work. */
export function TodayPage() {
  const shop = useShop();
  const live = useLive();
  const calendar = useCalendar('live');
  const goods = useGoods();
  const openings = useOpenings();
  const draft = useDraft();
  const error = live.error ?? calendar.error ?? openings.error ?? draft.error;
  if (error) return <LoadFailed error={error} />;
  if (!shop || !live.data || !calendar.data || !openings.data)
    return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;

  const { edition, rulebook } = live.data;
  const { instants, bars, at, until: horizon } = calendar.data;
  // The sentence, by which others are called, is no part of the first screen.
  const named = [
    ...rulesIn(rulebook).map(({ id, name }) => [id, name] as const),
    ...(goods.data?.sellers ?? []).flatMap((seller) =>
      seller.rules.map(
        ({ id, name = 'a rule' }) => [sellerRuleId(seller.id, id), `${name}, of ${seller.name}`] as const,
      ),
    ),
  ];
  const names = new Map(named);
  const nameOf = (id: string) => names.get(id) ?? 'Unnamed rule';
  const now = Date.parse(at);
  const isTimed = (id: string) =>
    bars.some(
      ({ rule, bars: ruleBars }) =>
        rule === id && ruleBars.some((bar) => Date.parse(bar.from) > now || bar.until !== horizon),
    );
  const onNow = bars.flatMap(({ rule, bars: ruleBars }) => {
    const bar = ruleBars.find(({ from, until }) => Date.parse(from) <= now && now < Date.parse(until));
    return bar && isTimed(rule) ? [{ rule, until: bar.until }] : [];
  });
  return (
    <main className={styles.page}>
      <header>
        <h1>Today</h1>
        <p>{new Intl.DateTimeFormat('en-GB', { dateStyle: 'full', timeZone: shop.zone.name }).format(now)}</p>
      </header>
      <Suspense>
        <FirstSteps />
      </Suspense>
      <div className={styles.columns}>
        <Waits />
        <div>
          <section aria-labelledby="on">
            <h2 id="on">On now</h2>
            <p className={styles.lead}>
              {edition ? (
                <>
                  <Link to="/editions">Edition {edition.number}</Link>, since{' '}
                  {momentWords(Date.parse(edition.publishedAt), shop.zone)}
                  {edition.note === null ? '.' : `: ${edition.note}`}
                </>
              ) : (
                <>
                  Nothing is live yet: the shop shows its own controls. <Link to="/rules">Write the first rule</Link>.
                </>
              )}
            </p>
            <ul className={styles.list}>
              {onNow.map(({ rule, until }) => (
                <Line key={rule} to={`/rules/${encodeURIComponent(rule)}`} what={nameOf(rule)}>
                  {until === horizon ? 'with no end date' : `until ${momentWords(Date.parse(until), shop.zone)}`}
                </Line>
              ))}
            </ul>
          </section>
          <section aria-labelledby="next">
            <h2 id="next">What changes next</h2>
            <ul className={styles.list}>
              {openings.data.map(({ id, at: opens, note }) => (
                <Line key={`opening ${id}`} to="/editions" what={note ?? 'The next edition opens'}>
                  {momentWords(Date.parse(opens), shop.zone)}
                </Line>
              ))}
              {instants.slice(0, NEXT_SHOWN).map((instant) => (
                <Line
                  key={instant.at}
                  to={`/rehearsal?${new URLSearchParams({ at: fieldTime(Date.parse(instant.at), shop.zone) }).toString()}`}
                  what={whatWords(instant, nameOf)}
                >
                  {momentWords(Date.parse(instant.at), shop.zone)}
                </Line>
              ))}
            </ul>
            {instants.length === 0 && openings.data.length === 0 && (
              <p className={styles.quiet}>Nothing changes by itself in the next 400 days.</p>
            )}
            {instants.length > NEXT_SHOWN && (
              <p>
                <Link to="/calendar">All {instants.length} in the calendar</Link>
              </p>
            )}
          </section>
        </div>
      </div>
      <Suspense fallback={<Skeleton variant="rounded" height={240} sx={{ mt: 3 }} />}>
        <ShownNow />
      </Suspense>
    </main>
  );
}

function Line({ to, what, children }: { readonly to: string; readonly what: string; readonly children: ReactNode }) {
  return (
    <li>
      <Link to={to}>
        <b>{what}</b>
        <span>{children}</span>
      </Link>
    </li>
  );
}

const some = (count: number, one: string, many: string) => (count === 1 ? `1 ${one}` : `${count} ${many}`);

interface Waiting {
  readonly attention: AnswerOf<CallNamed<'GET /api/attention'>> | undefined;
  readonly sendsLetters: boolean;
  /** Numbers of findings in the draft. */
  readonly faults: number;
  readonly warnings: number;
  /** Unpublished changes. */
  readonly changes: number;
}

/** Lists what does not work, each with the screen on which it is mended. */
function brokenLines({ attention, sendsLetters }: Waiting) {
  const { messages = 0, held = 0, feeds = [], imports = 0, pageMapBroken = [] } = attention ?? {};
  return [
    {
      count: sendsLetters ? 0 : 1,
      to: '/messages/settings',
      what: 'No letters are sent',
      is: 'no mail server is named',
    },
    {
      count: pageMapBroken.length,
      to: '/connection',
      what: 'The page map is broken',
      is: some(pageMapBroken.length, 'part is missing', 'parts are missing'),
    },
    {
      count: messages,
      to: '/messages?state=dead',
      what: 'Messages that could not be sent',
      is: some(messages, 'message', 'messages'),
    },
    {
      count: held,
      to: '/messages?state=held',
      what: 'Letters held back',
      is: some(held, 'letter that a stranger asked for', 'letters that strangers asked for'),
    },
    {
      count: feeds.length,
      to: `/${feeds[0] === 'people' ? 'people' : 'catalog'}?imports=recent`,
      what: 'Feeds that could not be fetched',
      is: some(feeds.length, 'address', 'addresses'),
    },
    {
      count: imports,
      to: '/catalog?imports=recent',
      what: 'Interrupted imports',
      is: `${some(imports, 'file', 'files')} to send again`,
    },
  ];
}

/** Lists the work that waits, each with the screen on which it is done. */
function workLines({ attention, faults, warnings, changes }: Waiting) {
  const { sellers = 0, quotes = 0, enquiries = 0, invitations = 0, allocations = 0, spotChecks = 0 } = attention ?? {};
  return [
    {
      count: spotChecks,
      to: '/rehearsal',
      what: 'Spot checks that the draft fails',
      is: some(spotChecks, 'check', 'checks'),
    },
    {
      count: faults + warnings,
      to: '/rehearsal',
      what: 'Findings in the draft',
      is: [
        ...(faults > 0 ? [some(faults, 'fault', 'faults')] : []),
        some(warnings, 'thing to check', 'things to check'),
      ].join(', '),
    },
    { count: sellers, to: '/sellers', what: 'Sellers who ask to publish', is: some(sellers, 'seller', 'sellers') },
    {
      count: quotes,
      to: '/quotes?state=asked',
      what: 'Quotes to price or answer',
      is: some(quotes, 'quote', 'quotes'),
    },
    {
      count: enquiries,
      to: '/enquiries?state=open',
      what: 'Enquiries to answer',
      is: some(enquiries, 'enquiry', 'enquiries'),
    },
    {
      count: invitations,
      to: '/waitlists',
      what: 'Invitations to send',
      is: `in stock for ${some(invitations, 'person', 'people')}`,
    },
    {
      count: allocations,
      to: '/preorders',
      what: 'Pre-orders to allocate',
      is: `${some(allocations, 'variant', 'variants')} in stock`,
    },
    {
      count: changes,
      to: '/review',
      what: 'Unpublished changes',
      is: some(changes, 'change', 'changes'),
    },
  ];
}

/** Waiting work, each line a link to it. */
function Waits() {
  const waits = useAttention();
  const session = useSession();
  const findings = useFindings();
  const changes = useChanges();
  if (waits.error) return <LoadFailed error={waits.error} retry={() => void waits.refetch()} />;
  const severities = findings.data?.findings.map(({ severity }) => severity) ?? [];
  const waiting: Waiting = {
    attention: waits.data,
    sendsLetters: session.data?.sendsLetters ?? true,
    faults: severities.filter((severity) => severity === 'fault').length,
    warnings: severities.filter((severity) => severity === 'warning').length,
    changes: changes?.length ?? 0,
  };
  const lines = [...brokenLines(waiting), ...workLines(waiting)].filter(({ count }) => count > 0);
  return (
    <section aria-labelledby="waits" aria-busy={waits.isPending || findings.isFetching}>
      <h2 id="waits">Waiting for you</h2>
      {waits.isPending ? (
        <Skeleton variant="rounded" height={120} />
      ) : lines.length === 0 ? (
        <p className={styles.quiet}>Nothing is waiting for you.</p>
      ) : (
        <ul className={styles.list}>
          {lines.map(({ to, what, is }) => (
            <Line key={what} to={to} what={what}>
              {is}
            </Line>
          ))}
        </ul>
      )}
    </section>
  );
}
