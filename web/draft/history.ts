import type { Rulebook } from '#core/rulebook/rulebook.ts';

/** The draft and the way back and forth from it. */
export interface History {
  readonly past: readonly Rulebook[];
  readonly now: Rulebook;
  readonly future: readonly Rulebook[];
  /** Names the last change, so that keystrokes in one field are one step. */
  readonly stroke: string | undefined;
}

const REMEMBERED = 200;

export const startHistory = (now: Rulebook): History => ({ past: [], now, future: [], stroke: undefined });

export function changed(history: History, next: Rulebook, stroke: string | undefined): History {
  const sameStroke = stroke !== undefined && stroke === history.stroke;
  const past = sameStroke ? history.past : [...history.past, history.now].slice(-REMEMBERED);
  return { past, now: next, future: [], stroke };
}

export function undone({ past, now, future }: History): History | null {
  const before = past.at(-1);
  return before ? { past: past.slice(0, -1), now: before, future: [now, ...future], stroke: undefined } : null;
}

export function redone({ past, now, future }: History): History | null {
  const [next, ...rest] = future;
  return next ? { past: [...past, now], now: next, future: rest, stroke: undefined } : null;
}
