const DAY = 24 * 60 * 60 * 1000;

/** The day on which the demo's files were written, as they see it: every date in them is laid around it. */
const WRITTEN_ON = Date.UTC(2026, 0, 1);

/** Moves every ISO date in a text by as many days as have passed since the demo was written. */
export function laidAround(today: Date, text: string): string {
  const shift = Math.floor(today.getTime() / DAY) * DAY - WRITTEN_ON;
  return text.replace(/\b\d{4}-\d{2}-\d{2}(?=\b|T)/g, (date) =>
    new Date(Date.parse(`${date}T00:00:00Z`) + shift).toISOString().slice(0, 10),
  );
}
