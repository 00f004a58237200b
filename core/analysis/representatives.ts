import type { Decision } from '../engine/decision.ts';
import type { CompiledRulebook } from '../engine/compile.ts';
import { reasonsOf, resolving } from '../engine/decide.ts';
import type { Surface, VisitorFacts } from '../model/subject.ts';
import { ReadTrackedMemo, IntTupleMap, visitorTextKey, textInterner } from './readTrackedMemo.ts';
import type { RuleMatcher } from './ruleMatcher.ts';
import { PRODUCT_SLOTS, noWinners, PER_WORD, BatchResolver } from './batchResolver.ts';

/** A variant that shows outcomes which those before it did not. */
export interface Representative {
  readonly product: string;
  readonly variant: string;
  /** How many of them. */
  readonly shows: number;
}

/** Who looks, when and where. */
export interface ViewSpec {
  readonly visitors: readonly VisitorFacts[];
  /** Epoch ms. */
  readonly moments: readonly number[];
  readonly surfaces: readonly Surface[];
}

/** What tells outcomes apart: which rules decided what, and what stands in the control's place. */
export const outcomeOf = ({ control: { kind, beside }, reasons }: Pick<Decision, 'control' | 'reasons'>): string =>
  JSON.stringify([kind, beside, reasons]);

/** What a row shows, as far as it was looked at: an outcome after all those before it. */
interface Shown {
  readonly before: Shown | null;
  readonly outcome: number;
}

/** Few variants that show every outcome; gives way with the part that is done. */
export function* representativesOf(
  counts: RuleMatcher,
  rulebook: CompiledRulebook,
  { visitors, moments, surfaces }: ViewSpec,
): Generator<number, Representative[]> {
  const { columns } = counts;
  const outcomes = textInterner();
  const lists = textInterner();
  const winners = new IntTupleMap<ReadTrackedMemo<{ readonly outcome: number }>>();
  const looks = visitors.flatMap((visitor) =>
    moments.flatMap((moment) => surfaces.map((surface) => ({ visitor, moment, surface, page: null }))),
  );
  // Rows that show the same, look by look, have the same number.
  let shown = new Uint32Array(columns.rows);
  let all: (Shown | null)[] = [null];
  const seen = new Set<string>();
  const won = noWinners();
  const numbers = new Int32Array(PRODUCT_SLOTS + 2);
  for (const [place, look] of looks.entries()) {
    const side = new BatchResolver(counts.of(rulebook, look));
    const textKey = visitorTextKey(look);
    const key = `${look.surface} ${textKey} ${side.key}`;
    if (seen.has(key)) continue;
    seen.add(key);
    numbers[PRODUCT_SLOTS] = lists(textKey);
    numbers[PRODUCT_SLOTS + 1] = lists(look.surface);
    const next = new Uint32Array(columns.rows);
    const after: Shown[] = [];
    const known = new Map<number, number>();
    for (let word = 0; word < columns.words; word++) {
      if (word % 256 === 255) yield (place + word / columns.words) / looks.length;
      side.fill(won, word, columns.all.bits[word]!);
      for (let at = 0; at < PER_WORD && word * PER_WORD + at < columns.rows; at++) {
        for (let slot = 0; slot < PRODUCT_SLOTS; slot++) numbers[slot] = side.numberAt(won, at, slot, 'place', lists);
        const representative = winners.get(numbers, () => {
          const winning = side.winningAt(won, at);
          return new ReadTrackedMemo(columns, (goods) => {
            const { control } = resolving(winning, { ...look, ...goods }, rulebook.shop);
            return { outcome: outcomes(outcomeOf({ control, reasons: reasonsOf(winning, control) })) };
          });
        });
        const row = word * PER_WORD + at;
        const { outcome } = representative.at(row);
        const pair = shown[row]! * (columns.rows * looks.length + 1) + outcome;
        let number = known.get(pair);
        if (number === undefined) {
          number = after.push({ before: all[shown[row]!]!, outcome }) - 1;
          known.set(pair, number);
        }
        next[row] = number;
      }
    }
    [shown, all] = [next, after];
  }
  const first = new Map<number, number>();
  shown.forEach((number, row) => {
    if (!first.has(number)) first.set(number, row);
  });
  return covering([...first].map(([number, row]) => ({ row, outcomes: outcomesOf(all[number]!) }))).map(
    ({ row, shows }) => {
      const { product, variant } = columns.goodsAt(row);
      return { product: product.id, variant: variant.id, shows };
    },
  );
}

function outcomesOf(shown: Shown | null): ReadonlySet<number> {
  const outcomes = new Set<number>();
  for (let one = shown; one; one = one.before) outcomes.add(one.outcome);
  return outcomes;
}

/** Rows that show every outcome: each time one that shows most of what is left (greedy set cover). */
function covering(rows: readonly { readonly row: number; readonly outcomes: ReadonlySet<number> }[]) {
  const covered = new Set<number>();
  const chosen: { row: number; shows: number }[] = [];
  // By how many new outcomes a row may show at most: what it shows can only become less.
  const byMost: (typeof rows)[number][][] = [];
  for (const one of rows) (byMost[one.outcomes.size] ??= []).push(one);
  for (let most = byMost.length - 1; most > 0; most--) {
    for (const one of byMost[most] ?? []) {
      const left = [...one.outcomes].filter((outcome) => !covered.has(outcome));
      if (left.length === most) {
        for (const outcome of left) covered.add(outcome);
        chosen.push({ row: one.row, shows: most });
      } else (byMost[left.length] ??= []).push(one);
    }
  }
  return chosen;
}
