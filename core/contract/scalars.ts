import { z } from 'zod';
import { MOST_UNITS } from '../model/units.ts';

/** Ranges of the database's types, so that valid input never fails there. */

/** Number of a row in our database. */
export const RowId = z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER);

/** A number stored in 32 bits, such as an edition's. */
export const MOST_INT = 2_147_483_647;

/** An id of the shop's: of a product, a variant or a customer. */
export const Id = z
  .string()
  .min(1)
  .max(200)
  .regex(/^\P{Cc}+$/u, 'a text without line breaks and other control characters');

/** Number of an edition or publication, in an address. */
export const EditionNumber = z.coerce.number().int().min(1).max(MOST_INT);

/** Paging of a list whose order has no ids: how many were read already, and how many to read. */
export const PagedByPosition = {
  after: z.coerce.number().int().min(0).max(MOST_INT).default(0).describe('How many were read already'),
  limit: z.coerce.number().int().min(1).max(500).default(100),
};

/** Quantity of an order. */
export const Units = z.int().min(1).max(MOST_UNITS);

/** Minor units of the shop's currency. */
export const Price = z.int().min(0).max(1_000_000_000);

export const Email = z.string().trim().toLowerCase().max(320).pipe(z.email());

const [EARLIEST, LATEST] = [Date.UTC(1900, 0, 1), Date.UTC(3000, 0, 1)];
const isInReach = (instant: string) => {
  const at = Date.parse(instant);
  return at >= EARLIEST && at < LATEST;
};

/** ISO 8601 with an offset. */
export const Instant = z.iso.datetime({ offset: true }).refine(isInReach, 'a time between 1900 and 3000');

/** ISO 8601, without a time. */
export const Day = z.iso.date().refine(isInReach, 'a date between 1900 and 3000');
