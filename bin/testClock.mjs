// When a run of the tests takes place by its own clock.

const DAY_MS = 86_400_000;
/** A random start is at most this far ahead. */
const DAYS_AHEAD = 4000;

/**
 * The instant that a run starts at: an ISO 8601 date-time in the time zone of the process, or one that a seed picks.
 * @throws {RangeError} for anything else
 */
export function startDate(at, seed) {
  // Spreads neighbouring seeds (Knuth's multiplicative hash).
  if (at === 'random')
    return new Date(Date.now() + (((seed * 2_654_435_761) % 2 ** 32) / 2 ** 32) * DAYS_AHEAD * DAY_MS);
  const start = new Date(at);
  if (Number.isNaN(start.getTime())) throw new RangeError(`--at takes an ISO 8601 date-time or random, not ${at}`);
  return start;
}

/** How far ahead of the real clock a run is, in whole seconds as ms. */
export const shiftOf = (start) => Math.round((start.getTime() - Date.now()) / 1000) * 1000;
