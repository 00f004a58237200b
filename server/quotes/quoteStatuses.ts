import type { StatusReader } from '../visitors/visitorCache.ts';
import { requestedProducts } from './quoteQueries.ts';

/** What a customer has asked a price for, or about. */
export const quoteStatuses: StatusReader = async ({ db }, customer) =>
  (await requestedProducts(db, customer)).map((product) => ({ ...product, standing: { state: 'asked' } }));
