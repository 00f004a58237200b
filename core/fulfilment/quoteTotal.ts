/** A line of a quote: units at a price of one, in minor units; today's price stands where none was quoted. */
export interface PricedLine {
  readonly units: number;
  readonly unitPrice: number | null;
  readonly today: number;
}

/** Total of a quote in minor units, delivery included. */
export const quoteTotal = (lines: readonly PricedLine[], delivery: number | null): number =>
  lines.reduce((sum, { units, unitPrice, today }) => sum + units * (unitPrice ?? today), delivery ?? 0);
