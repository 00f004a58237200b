import type { Decision } from '../engine/decision.ts';
import type { CompiledRulebook } from '../engine/compile.ts';
import { reasonsOf, resolving } from '../engine/decide.ts';
import type { Surface, VisitorFacts } from '../model/subject.ts';
import { textInterner } from './readTrackedMemo.ts';
import { keyOfLook, RowOutcomes } from './rowOutcomes.ts';
import type { RuleMatcher } from './ruleMatcher.ts';

/** A variant that shows outcomes which those before it did not. */
export interface Representative {
  readonly product: string;
  readonly variant: string;
  /** Number of variants. */
  readonly shows: number;
}

/** Visitor, moment and surface. */
export interface ViewSpec {
  readonly visitors: readonly VisitorFacts[];
  /** Epoch ms. */
  readonly moments: readonly number[];
  readonly surfaces: readonly Surface[];
}

/** Key of an outcome: the deciding rules, and the kind of control. */
export const outcomeOf = ({ control: { kind, beside }, reasons }: Pick<Decision, 'control' | 'reasons'>): string =>
  JSON.stringify([kind, beside, reasons]);

/** Outcomes of a row so far, as a chain. */
interface Shown {
  readonly before: Shown | null;
  readonly outcome: number;
}

/** Few variants that show every outcome; yields its progress. */
export function* representativesOf(
  counts: RuleMatcher,
  rulebook: CompiledRulebook,
  { visitors, moments, surfaces }: ViewSpec,
): Generator<number, Representative[]> {
  const { columns } = counts;
  const outcomes = textInterner();
  const atRows = new RowOutcomes(counts, rulebook, (winning, subject) => {
    const { control } = resolving(winning, subject, rulebook.shop);
    return { outcome: outcomes(outcomeOf({ control, reasons: reasonsOf(winning, control) })) };
  });
  const looks = visitors.flatMap((visitor) =>
    moments.flatMap((moment) => surfaces.map((surface) => ({ visitor, moment, surface, page: null }))),
  );
  // Rows that show the same, look by look, have the same number.
  let shown = new Uint32Array(columns.rows);
  let all: (Shown | null)[] = [null];
  const seen = new Set<string>();
  for (const [place, view] of looks.entries()) {
    const look = atRows.look(view);
    if (seen.has(keyOfLook(look))) continue;
    seen.add(keyOfLook(look));
    const next = new Uint32Array(columns.rows);
    const after: Shown[] = [];
    const known = new Map<number, number>();
    const steps = atRows.visit(look, (row, { outcome }) => {
      const pair = shown[row]! * (columns.rows * looks.length + 1) + outcome;
      let number = known.get(pair);
      if (number === undefined) {
        number = after.push({ before: all[shown[row]!]!, outcome }) - 1;
        known.set(pair, number);
      }
      next[row] = number;
    });
    for (const part of steps) yield (place + part) / looks.length;
    [shown, all] = [next, after];
  }
  const first = new Map<number, number>();
  shown.forEach((number, row) => {
    if (!first.has(number)) first.set(number, row);
  });
  return covering([...first].map(([number, row]) => ({ row, outcomes: outcomesOf(all[number]!) }))).map(
    ({ row, shows }) => {
      const { product, variant } = columns.variantAt(row);
      return { product: product.id, variant: variant.id, shows };
    },
  );
}

function outcomesOf(shown: Shown | null): ReadonlySet<number> {
  const outcomes = new Set<number>();
  for (let one = shown; one; one = one.before) outcomes.add(one.outcome);
  return outcomes;
}

/** Rows that together show every outcome (greedy set cover). */
function covering(rows: readonly { readonly row: number; readonly outcomes: ReadonlySet<number> }[]) {
  const covered = new Set<number>();
  const chosen: { row: number; shows: number }[] = [];
  // Upper bounds of new outcomes a row shows; they only decrease.
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
