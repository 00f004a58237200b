import { isSellers } from './entries.ts';
import type { Entry, Rulebook } from './rulebook.ts';

/** One difference between two rulebooks. */
export type Change =
  | { readonly kind: 'added'; readonly now: Entry }
  | { readonly kind: 'removed'; readonly was: Entry }
  | { readonly kind: 'switchedOn' | 'switchedOff' | 'renamed' | 'reworded'; readonly was: Entry; readonly now: Entry }
  /** Positions count from 1, among the rules that both have. */
  | { readonly kind: 'moved'; readonly now: Entry; readonly from: number; readonly to: number };

/** Lists the changes between two rulebooks by rule, in the later one's order, removals last. */
export function changesBetween(before: Rulebook, after: Rulebook): Change[] {
  const was = new Map(before.rules.map((rule) => [rule.id, rule]));
  const stays = new Set(after.rules.map(({ id }) => id));
  const moves = movesBetween(
    before.rules.filter(({ id }) => stays.has(id)).map(({ id }) => id),
    after.rules.filter(({ id }) => was.has(id)).map(({ id }) => id),
  );
  const kept = after.rules.flatMap((now): Change[] => {
    const earlier = was.get(now.id);
    if (!earlier) return [{ kind: 'added', now }];
    const move = moves.get(now.id);
    return [
      ...(earlier.on === now.on ? [] : [{ kind: now.on ? 'switchedOn' : 'switchedOff', was: earlier, now } as const]),
      ...(nameOf(earlier) === nameOf(now) ? [] : [{ kind: 'renamed', was: earlier, now } as const]),
      ...(sameDocument(sayingOf(earlier), sayingOf(now)) ? [] : [{ kind: 'reworded', was: earlier, now } as const]),
      ...(move ? [{ kind: 'moved', now, ...move } as const] : []),
    ];
  });
  const removed = before.rules.filter(({ id }) => !stays.has(id)).map((was): Change => ({ kind: 'removed', was }));
  return [...kept, ...removed];
}

/** The fewest rules whose moving turns one order into the other: all but a longest run that keeps its order. */
function movesBetween(before: readonly string[], after: readonly string[]): Map<string, { from: number; to: number }> {
  const position = new Map(before.map((id, index) => [id, index]));
  const order = after.map((id) => position.get(id) ?? 0);
  const runs: number[][] = [];
  order.forEach((position, index) => {
    const best = order
      .slice(0, index)
      .reduce<number[]>(
        (found, other, at) => (other < position && (runs[at]?.length ?? 0) > found.length ? (runs[at] ?? []) : found),
        [],
      );
    runs.push([...best, position]);
  });
  const still = new Set(runs.reduce<number[]>((longest, run) => (run.length > longest.length ? run : longest), []));
  return new Map(
    after.flatMap((id, index) => {
      const from = order[index] ?? 0;
      return still.has(from) ? [] : [[id, { from: from + 1, to: index + 1 }] as const];
    }),
  );
}

/** Texts of a rule's sentence. */
function sayingOf(entry: Entry) {
  if (isSellers(entry)) return [];
  const { when, then, stopHere, gather } = entry;
  return [when, then, stopHere === true, gather === false];
}

const nameOf = (entry: Entry) => (isSellers(entry) ? undefined : entry.name);

/** Compares documents regardless of key order. */
export function sameDocument(a: unknown, b: unknown): boolean {
  return JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));
}

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, inner]) => inner !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, inner]) => [key, sorted(inner)]),
  );
}
