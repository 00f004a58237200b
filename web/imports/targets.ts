import type { TargetName } from '#core/imports/fileReading.ts';

/** A kind of file that can be brought in, as the screens speak of it. */
export interface ImportTarget {
  readonly name: TargetName;
  readonly title: string;
  readonly address: '/api/catalog/import' | '/api/people/import';
  readonly rowIs: string;
  /** Noun for the records, in the plural. */
  readonly things: string;
  /** Columns that identify a row. */
  readonly keyWords: string;
}

export const CATALOG: ImportTarget = {
  name: 'catalog',
  title: 'Import products',
  address: '/api/catalog/import',
  rowIs: 'variant, or a row a product',
  things: 'variants',
  keyWords: 'the variant’s or the product’s id, the SKU or the title',
};

export const PEOPLE: ImportTarget = {
  name: 'people',
  title: 'Import customers',
  address: '/api/people/import',
  rowIs: 'customer',
  things: 'customers',
  keyWords: 'the customer’s id or the e-mail address',
};
