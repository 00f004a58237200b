import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, rule as anyRule, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, guest, make, product } from '#tests/support/oneVariant.ts';
import { DAY } from '../model/calendar.ts';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import type { ProductFacts, VisitorFacts } from '../model/subject.ts';
import type { Rule, Rulebook } from '../rulebook/rulebook.ts';
import { barsOf, comingInstants } from './calendar.ts';
import { groupKey } from './changeGroups.ts';
import { finished } from '#tests/support/finished.ts';
import { runs } from '#tests/support/sampling.ts';
import { Columns } from './columns.ts';
import { RuleMatcher } from './ruleMatcher.ts';
import { instantsOf, type Horizon } from './instants.ts';
import { aspectsBetween, changeBetween } from './outcomeDiffer.ts';

const NOTICE: Rule['then'] = { control: { kind: 'notice', text: 'No' } };
const utc = (text: string) => Date.parse(text);
const YEAR = { from: utc('2026-11-25T12:00Z'), until: utc('2026-11-25T12:00Z') + 400 * DAY };
const dahlia = { ...product, dates: { ships: '2027-03-15' } };
const around = make('ships', NOTICE, {
  fact: 'moment',
  op: 'around',
  value: { date: 'ships', from: '-P14D', until: 'P0D' },
});
const goods = { fact: 'product' as const, op: 'every' as const, value: true as const };
const shipping = { ...around, when: { all: [goods, around.when] } };
const DATES = new Map([['ships', new Set(['2027-03-15', '2027-05-01'])]]);

describe('the calendar', () => {
  it('names each instant at which a decision changes, and from what to what', () => {
    const coming = instantsIn(book(shipping), [guest.visitor], YEAR, [dahlia]);
    expect(
      coming.map(({ at, groups: [group], opens, closes }) => [
        new Date(at).toISOString(),
        group?.before.kind,
        group?.after.kind,
        opens,
        closes,
      ]),
    ).toEqual([
      ['2027-03-01T00:00:00.000Z', 'buy', 'notice', ['ships'], []],
      ['2027-03-15T00:00:00.000Z', 'notice', 'buy', [], ['ships']],
    ]);
  });

  it('names the rule that turns, where another says the same of the same goods at another time', () => {
    const closed = (id: string, from: string, until: string) =>
      make(id, NOTICE, { all: [goods, { fact: 'moment', op: 'between', value: { from, until } }] });
    const rules = book(closed('frost', '2026-12-20', '2027-01-04'), closed('stocktaking', '2027-06-01', '2027-06-08'));
    const coming = instantsIn(rules, [guest.visitor], YEAR, [dahlia]);
    expect(coming.map(({ opens, closes }) => [opens, closes])).toEqual([
      [['frost'], []],
      [[], ['frost']],
      [['stocktaking'], []],
      [[], ['stocktaking']],
    ]);
  });

  it('draws a rule’s windows, of all dates that goods have', () => {
    const days = (rule: Rule) =>
      barsOf(rule, LISBON, DATES, YEAR).map(({ from, until }) =>
        [from, until].map((at) => new Date(at).toISOString().slice(0, 10)),
      );
    expect(days(shipping)).toEqual([
      ['2027-03-01', '2027-03-15'],
      ['2027-04-16', '2027-04-30'],
    ]);
    expect(days(make('always', NOTICE))).toEqual([['2026-11-25', '2027-12-30']]);
    expect(days({ ...shipping, on: false })).toEqual([]);
    const closed = make('not then', NOTICE, { all: [goods, { none: [around.when] }] });
    expect(days(closed)).toEqual([['2026-11-25', '2027-12-30']]);
  });

  it('misses no change, and names none that is none', () => {
    const horizon = fc.record({ start: fc.integer({ min: -30, max: 900 }), days: fc.integer({ min: 1, max: 400 }) });
    fc.assert(
      fc.property(
        rulebook,
        subject,
        horizon,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 20 }),
        (rules, one, { start, days }, parts) => {
          const compiled = compile(rules, LISBON);
          const from = Date.UTC(2026, 0, 1) + start * DAY;
          const until = from + days * DAY;
          const goods = { ...one.product, variants: [one.variant] };
          const coming = instantsIn(rules, [one.visitor], { from, until }, [goods]);
          const at = (moment: number, surface: 'product' | 'listing') =>
            decide(compiled, { ...one, product: goods, page: null, moment, surface });
          // Every edge of every window, and whatever instants besides, within an hour of them as well.
          const dates = new Map(Object.entries(goods.dates).map(([name, date]) => [name, new Set([date])]));
          const roleEdges = one.visitor.roles.flatMap((role) => [role.from ?? from, role.until ?? from]);
          const edges = [...instantsOf(rules.rules, LISBON.zone, dates, { from, until }), ...roleEdges].filter(
            (edge) => edge > from && edge < until,
          );
          const sampled = parts.map((part) => from + Math.floor(part * (until - from - 1)));
          for (const moment of [...edges, ...edges.map((edge) => edge - 1), ...sampled]) {
            const since = coming.filter((change) => change.at <= moment).at(-1)?.at ?? from;
            for (const surface of ['product', 'listing'] as const)
              expect(aspectsBetween(at(since, surface), at(moment, surface))).toEqual([]);
          }
          for (const change of coming) {
            const outcomes = (['product', 'listing'] as const)
              .map((surface) => changeBetween(at(change.at - 1, surface), at(change.at, surface)))
              .filter(({ aspects }) => aspects.length > 0);
            expect(new Set(change.groups.map(({ key }) => key))).toEqual(new Set(outcomes.map(groupKey)));
          }
        },
      ),
      runs(300),
    );
  });

  it('has every instant at which a rule counts within its bars', () => {
    fc.assert(
      fc.property(anyRule, subject, fc.integer({ min: 0, max: 365 * 24 }), (rule, one, hour) => {
        const compiled = compile(book({ ...rule, on: true }), LISBON).rules[0];
        const from = Date.UTC(2026, 6, 1);
        const moment = from + hour * 3_600_000;
        const dates = new Map(Object.entries(one.product.dates).map(([name, date]) => [name, new Set([date])]));
        const bars = barsOf({ ...rule, on: true }, LISBON, dates, { from, until: from + 400 * DAY });
        if (compiled?.test({ ...one, moment }).matches)
          expect(bars.some((bar) => bar.from <= moment && moment < bar.until)).toBe(true);
      }),
      runs(500),
    );
  });
});

function instantsIn(...[rules, visitors, horizon, products]: Case) {
  return finished(comingInstants(new RuleMatcher(new Columns(products)), compile(rules, LISBON), visitors, horizon));
}
type Case = [Rulebook, readonly VisitorFacts[], Horizon, readonly ProductFacts[]];
