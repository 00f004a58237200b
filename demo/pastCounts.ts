import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import { Draw } from './draw.ts';

const SEED = 20_260_103;
export const DAYS = 90;

/** Counts of one hour, some days ago. */
export interface PastCount {
  readonly ago: number;
  readonly hour: number;
  readonly product: string;
  readonly rule: string;
  readonly control: string;
  readonly audience: string;
  readonly surface: 'listing' | 'product';
  readonly seen: number;
  readonly pressed: number;
  readonly finished: number;
  readonly refused: number;
}

/** Visitors by audience, in per cent. */
export const COMING = { Guest: 66, 'Signed in': 10, 'Circle member': 15, Trade: 9 } as const;
export type Coming = keyof typeof COMING;

/** Share of viewers who press a control, and share of presses that lead to a request or an order. */
const PRESSED: Readonly<Record<string, readonly [pressed: number, finished: number]>> = {
  buy: [0.11, 0.42],
  preorder: [0.085, 0.44],
  waitlist: [0.08, 0.62],
  quote: [0.12, 0.5],
  enquiry: [0.06, 0.5],
  ownPrice: [0.16, 0.55],
  severalAtOnce: [0.14, 0.5],
  signIn: [0.07, 0],
  link: [0.04, 0],
  choose: [0.2, 0],
};
/** Relative traffic by hour, from eight in the morning, and by day, from Monday. */
const HOURS = [2, 3, 4, 4, 5, 4, 3, 3, 4, 5, 7, 9, 10, 7, 3];
const WEEK = [0.9, 0.85, 0.9, 0.95, 1, 1.2, 1.35];
const A_DAY = 900;

/** Decisions for each audience, on listings and product pages. */
export type ShownTo = Readonly<Record<Coming, Readonly<Record<'listing' | 'product', DecisionsAnswer>>>>;

/** Period in which an edition was live, as days before today. */
export interface PastSpell {
  readonly from: number;
  readonly until: number;
  readonly shown: ShownTo;
  /** Factor on the usual share of presses, by rule. */
  readonly lifts: Readonly<Record<string, number>>;
}

/**
 * Makes ninety days of counts for a small shop, the same at every run: how often each decision was seen, pressed and led to
 * a request or an order.
 * @param weekday of today, 0 for Monday
 */
export function pastCounts(spells: readonly PastSpell[], weekday: number): PastCount[] {
  const draw = new Draw(SEED);
  const products = spells[0]?.shown.Guest.listing.products ?? [];
  const popular = new Map(products.map(({ id }) => [id, 1 / (4 + draw.between(0, 60))] as const));
  const whole = [...popular.values()].reduce((sum, weight) => sum + weight, 0);
  return spells.flatMap(({ from, until, shown, lifts }) =>
    Array.from({ length: from - until }, (_, index) => from - index).flatMap((ago) => {
      const season = (1 + 0.25 * (1 - ago / DAYS)) * (0.85 + draw.between(0, 30) / 100);
      const busy = A_DAY * season * WEEK[(((weekday - ago) % 7) + 7) % 7]!;
      return (Object.entries(COMING) as [Coming, number][]).flatMap(([audience, part]) =>
        (['listing', 'product'] as const).flatMap((surface) =>
          shown[audience][surface].products.flatMap(({ id, decision, variants }): PastCount[] => {
            const decided = shown[audience][surface].decisions[decision ?? variants[0]?.decision ?? -1];
            const expected = (busy * (part / 100) * (popular.get(id) ?? 0)) / whole;
            const seen = draw.times(expected * (surface === 'listing' ? 0.6 : 0.4));
            if (!decided || seen === 0) return [];
            const rule = decided.reasons.control[0] ?? '';
            const control = decided.control.kind;
            const [press, finish] = PRESSED[control] ?? [0, 0];
            const how = press * (lifts[rule] ?? 1) * (surface === 'product' ? 1.3 : 0.8);
            const pressed = Math.min(seen, draw.times(seen * how));
            const finished = Math.min(pressed, draw.times(pressed * finish));
            const refused = (control === 'waitlist' || control === 'signIn') && draw.happens(0.004) ? 1 : 0;
            const hour = 8 + hourOf(draw);
            return [{ ago, hour, product: id, rule, control, audience, surface, seen, pressed, finished, refused }];
          }),
        ),
      );
    }),
  );
}

const ALL_HOURS = HOURS.reduce((sum, weight) => sum + weight, 0);
function hourOf(draw: Draw): number {
  let left = draw.between(1, ALL_HOURS);
  return HOURS.findIndex((weight) => (left -= weight) <= 0);
}

/** Search terms, the share of days on which they occur, and whether products match. */
export const SEARCHES: readonly (readonly [words: string, often: number, isFound: boolean])[] = [
  ['dahlia', 160, true],
  ['hellebore', 70, true],
  ['blue poppy', 64, false],
  ['peat free compost', 58, false],
  ['tulip', 52, true],
  ['hornbeam hedging', 44, true],
  ['snowdrops in the green', 40, true],
  ['apple tree', 34, true],
  ['bare root roses', 31, false],
  ['hand fork', 24, true],
  ['trillium', 22, true],
  ['gift voucher', 18, true],
  ['rhubarb crown', 14, false],
];

export interface PastSearch {
  readonly ago: number;
  readonly words: string;
  readonly times: number;
  readonly isFound: boolean;
}

export function pastSearches(): PastSearch[] {
  const draw = new Draw(SEED + 1);
  return SEARCHES.flatMap(([words, often, isFound]) =>
    Array.from({ length: DAYS - 1 }, (_, index) => ({
      ago: index + 1,
      words,
      times: draw.times(often / 100),
      isFound,
    })).filter(({ times }) => times > 0),
  );
}
