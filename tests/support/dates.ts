/** The shop's time zone, in which its screens and files write dates. */
const ZONE = 'Europe/Lisbon';

/**
 * Counts days from today in the shop's zone, so that no test types a date that will come to pass.
 * @returns an ISO 8601 date
 */
export function dayAhead(days: number): string {
  const at = new Date(Date.now() + days * 86_400_000);
  return new Intl.DateTimeFormat('en-CA', { timeZone: ZONE }).format(at);
}

/** Writes an ISO 8601 date as the screens do: 1 Mar 2029, or 1 March 2029 in a sentence. */
export function written(date: string, month: 'short' | 'long' = 'short'): string {
  return new Intl.DateTimeFormat('en-GB', { day: 'numeric', month, year: 'numeric', timeZone: 'UTC' }).format(
    new Date(date),
  );
}
