import type { StatusReader } from '../visitors/visitorCache.ts';
import { requestedProducts } from './quoteQueries.ts';

/** Quotes and enquiries of a customer. */
export const quoteStatuses: StatusReader = async ({ db }, customer) =>
  (await requestedProducts(db, customer)).map((product) => ({ ...product, status: { state: 'asked' } }));
