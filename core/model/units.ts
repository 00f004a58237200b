/** The most units of anything in one line: far more than any shop sells, and few enough that no column overflows when lines add up. */
export const MOST_UNITS = 1_000_000;

/** Whether this is a valid quantity of a line. */
export const isQuantity = (quantity: number): boolean =>
  Number.isInteger(quantity) && quantity >= 1 && quantity <= MOST_UNITS;
