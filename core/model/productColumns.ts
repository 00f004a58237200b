/** Values by type of column. */
interface ColumnValues {
  /** Compared without case and spacing; the shop's names are offered with their numbers of products. */
  readonly name: string;
  /** 0 or more. */
  readonly wholeNumber: number;
}

/** Largest whole number in a product's column: nine digits, as files may have them. */
export const MOST_NUMBER = 999_999_999;

interface ProductColumn {
  readonly type: keyof ColumnValues;
  /** Heading on screens. */
  readonly title: string;
  /** Meaning, as the import's list of columns gives it. */
  readonly holds: string;
  /** Headings in other shops' files, in the languages that we have texts in, the plainest first. */
  readonly headings: string;
}

/**
 * Product columns that hold one value each. Files, the database and our calls use the same names. The import, export,
 * catalog, search and screens go through this list, so a new column needs its entry here and a migration.
 */
export const PRODUCT_COLUMNS = {
  brand: {
    type: 'name',
    title: 'Brand',
    holds: 'brand',
    headings: 'brand, make, marke, hersteller, marque, marca, merk, marka, varumärke, ブランド',
  },
  kind: {
    type: 'name',
    title: 'Kind',
    holds: 'kind',
    headings: 'kind, type, product type, art, typ, produktart, genre, tipo, soort, rodzaj, 種類',
  },
  seller: {
    type: 'name',
    title: 'Seller',
    holds: 'seller',
    headings: `seller, vendor, supplier, verkäufer, anbieter, lieferant, vendeur, fournisseur, vendedor, proveedor, venditore,
      fornitore, verkoper, leverancier, fornecedor, sprzedawca, dostawca, säljare, leverantör`,
  },
  grams: {
    type: 'wholeNumber',
    title: 'Weight, g',
    holds: 'weight in grams',
    // Names the unit in each: a plain "weight" may be in kilograms or pounds.
    headings: `grams, weight g, weight in grams, gewicht g, gewicht in gramm, gramm, poids g, poids en grammes, grammes,
      peso g, peso en gramos, gramos, peso in grammi, grammi, gewicht in gram, peso em gramas, gramas, waga g,
      waga w gramach, vikt g, vikt i gram, 重量g`,
  },
} as const satisfies Readonly<Record<string, ProductColumn>>;

export type ProductColumnName = keyof typeof PRODUCT_COLUMNS;
export type ColumnType<Column extends ProductColumnName = ProductColumnName> = (typeof PRODUCT_COLUMNS)[Column]['type'];
export type NameColumn = {
  [Column in ProductColumnName]: ColumnType<Column> extends 'name' ? Column : never;
}[ProductColumnName];

/** A product's values in these columns; null where it has none. */
export type ProductColumnValues = {
  readonly [Column in ProductColumnName]: ColumnValues[ColumnType<Column>] | null;
};

export const PRODUCT_COLUMN_NAMES = Object.keys(PRODUCT_COLUMNS) as readonly ProductColumnName[];
export const NAME_COLUMNS = PRODUCT_COLUMN_NAMES.filter(
  (column) => PRODUCT_COLUMNS[column].type === 'name',
) as readonly NameColumn[];

type PerColumn<Made, Entry> = [Made] extends [never] ? Readonly<Record<ProductColumnName, Entry>> : Made;

/**
 * Makes a record with an entry for each column.
 * @template Made the record's type where its entries differ by column
 */
export const perColumn = <Made = never, Entry = unknown>(
  make: (column: ProductColumnName, type: ColumnType) => Entry,
): PerColumn<NoInfer<Made>, Entry> =>
  Object.fromEntries(
    PRODUCT_COLUMN_NAMES.map((column) => [column, make(column, PRODUCT_COLUMNS[column].type)]),
  ) as PerColumn<NoInfer<Made>, Entry>;
