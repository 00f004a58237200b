import type { PreorderGoods } from '#core/contract/preorderCalls.ts';

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
const day = (date: string) => DAY.format(new Date(date));

/** "3 of 10 units", or "3 units" without a cap. */
export const takenWords = (units: number, cap: number | null): string =>
  `${units}${cap === null ? '' : ` of ${cap}`} ${(cap ?? units) === 1 ? 'unit' : 'units'}`;

/** "ships from 20 May 2027". */
export function shipWords({ from, until }: PreorderGoods['ships']): string {
  if (from === null && until === null) return 'no ship date';
  if (until === null) return `ships from ${day(from ?? '')}`;
  return from === null ? `ships by ${day(until)}` : `ships ${day(from)} to ${day(until)}`;
}
