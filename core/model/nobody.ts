import { perColumn } from './productColumns.ts';
import type { ProductFacts, Subject, VariantFacts } from './subject.ts';

/** A product of which nothing is known. */
export const NO_PRODUCT: ProductFacts = {
  id: '',
  title: '',
  path: null,
  ...perColumn(() => null),
  tags: [],
  attributes: {},
  categories: [],
  dates: {},
  waiting: 0,
  variants: [],
};

/** A variant of it. */
export const NO_VARIANT: Omit<VariantFacts, 'stock'> = {
  id: '',
  title: '',
  options: {},
  price: 0,
  priceBefore: null,
  reserved: 0,
  waiting: 0,
};

/** An unknown visitor. */
export const NOBODY: Omit<Subject, 'moment'> = {
  product: NO_PRODUCT,
  variant: null,
  visitor: { signedIn: false, roles: [], customerId: null, locale: null, invitations: [] },
  surface: 'product',
  page: null,
};
