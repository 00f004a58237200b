import { useMemo } from 'react';
import { testOf } from '#core/facts/facts.ts';
import type { ShopFacts, Subject } from '#core/model/subject.ts';
import type { Leaf } from '#core/facts/facts.ts';
import { useMoment } from '../../shared/useMoment.ts';
import styles from '../fields/fields.module.css';
import { nobody } from '../../shared/example.ts';

const DAY = 86_400_000;
const WIDTH = 308;
const NOBODY: Omit<Subject, 'moment'> = {
  product: null,
  variant: null,
  visitor: nobody(null),
  surface: 'product',
  page: null,
};

interface MonthsProps {
  readonly leaf: Extract<Leaf, { fact: 'moment' }>;
  readonly shop: ShopFacts;
}

/** When a window is open in the coming months: the weeks ahead one by one, years at a glance. */
export function Months({ leaf, shop }: MonthsProps) {
  const { moment: start } = useMoment(shop.zone);
  const days = leaf.op === 'weekly' ? 42 : 396;
  const end = start + days * DAY;
  const spans = useMemo(() => openSpans(leaf, shop, start, end), [leaf, shop, start, end]);
  const at = (moment: number) => ((moment - start) / (end - start)) * WIDTH;
  return (
    <figure
      className={styles.months}
      aria-label={`Open ${spans.length} times in the coming ${leaf.op === 'weekly' ? '6 weeks' : '13 months'}`}
    >
      <svg viewBox={`0 0 ${WIDTH} 30`} width={WIDTH} height={30} aria-hidden>
        <rect x={0} y={2} width={WIDTH} height={11} rx={2} className={styles.shut} />
        {spans.map(({ from, until }) => (
          <rect
            key={from}
            x={at(from)}
            y={2}
            width={Math.max(1.5, at(until) - at(from))}
            height={11}
            className={styles.opened}
          />
        ))}
        {marks(start, end, leaf.op === 'weekly').map(({ moment, name }) => (
          <text key={moment} x={at(moment)} y={27}>
            {name}
          </text>
        ))}
      </svg>
      {spans.length === 0 && <figcaption>Not open in that time.</figcaption>}
    </figure>
  );
}

/** The stretches in which a window is open; the clock's own next change leads from one to the next. */
function openSpans(leaf: Leaf, shop: ShopFacts, start: number, end: number): { from: number; until: number }[] {
  const test = testOf(leaf, shop);
  const spans: { from: number; until: number }[] = [];
  for (let moment = start; moment < end;) {
    const { matches: holds, validUntil: until } = test({ ...NOBODY, moment });
    if (holds) spans.push({ from: moment, until: Math.min(until, end) });
    if (until <= moment) break;
    moment = until;
  }
  return spans;
}

/** Names under the strip: Mondays of the weeks ahead, or the first of each second month. */
function marks(start: number, end: number, byWeek: boolean): { moment: number; name: string }[] {
  const found: { moment: number; name: string }[] = [];
  for (let moment = Math.ceil(start / DAY) * DAY; moment < end - 12 * DAY * (byWeek ? 0.25 : 1); moment += DAY) {
    const date = new Date(moment);
    const isMark = byWeek ? date.getUTCDay() === 1 : date.getUTCDate() === 1 && date.getUTCMonth() % 2 === 0;
    if (isMark) found.push({ moment, name: (byWeek ? BY_DAY : BY_MONTH).format(date) });
  }
  return found;
}

const BY_DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
const BY_MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' });
