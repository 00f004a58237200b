import { categoryId } from '../model/names.ts';
import { namedColumn, type FileReading, type NamedKind, type TargetName } from './fileReading.ts';
import { writtenDate, writtenNumber, writtenTruth } from './values.ts';

type Cells = Record<string, string | undefined>;

/**
 * Converts a row of another format to our own columns. Values that cannot be parsed stay as written, so that the import
 * refuses the row with its original value.
 * @returns of each row's cells, in the order of the file, ours by column
 */
export function rowConverter(
  target: TargetName,
  reading: FileReading,
): (record: readonly string[]) => Record<string, string> {
  const columns = reading.columns.flatMap((column, index) =>
    column === null ? [] : [{ index, write: writer(column, reading) }],
  );
  const finish = target === 'catalog' ? finishVariant : finishPerson(reading);
  return (record) => {
    const cells: Cells = {};
    for (const { index, write } of columns) write(cells, (record[index] ?? '').trim());
    return finish(cells) as Record<string, string>;
  };
}

/** Returns a function that writes a cell of a column. */
function writer(column: string, reading: FileReading): (cells: Cells, text: string) => void {
  const named = namedColumn(column);
  if (named)
    return (cells, text) => {
      cells[column] = NAMED_VALUES[named.kind](text, reading) ?? text;
    };
  switch (column) {
    case 'price':
    case 'price_before':
      return (cells, text) => {
        const found = writtenNumber(text, reading.decimal);
        cells[column] = found?.decimal ?? text;
        if (found?.currency) cells.currency ??= found.currency;
      };
    case 'stock_quantity':
      return (cells, text) => {
        cells[column] = writtenNumber(text, reading.decimal)?.decimal.replace(/\.0+$/, '') ?? text;
      };
    case 'stock_tracked':
    case 'sell_past_zero':
      return (cells, text) => {
        cells[column] = writtenTruth(text) ?? text;
      };
    case 'tags':
    case 'roles':
      return (cells, text) => {
        cells[column] = reading.lists === '|' ? text : parts(text, reading.lists).join('|');
      };
    case 'path':
      return (cells, text) => {
        cells[column] =
          text.replace(/^https?:\/\/[^/?#]+(?=[/?#]|$)/i, '').replace(/#.*$/s, '') || (text === '' ? '' : '/');
      };
    default:
      return (cells, text) => {
        cells[column] = text;
      };
  }
}

/** Converts a value of a named column; null if it cannot be parsed. */
const NAMED_VALUES: Readonly<Record<NamedKind, (text: string, reading: FileReading) => string | null>> = {
  attribute: (text) => text,
  date: (text, { dates }) => writtenDate(text, dates),
  option: (text) => text,
};

const parts = (text: string, separator: string): string[] =>
  text
    .split(separator)
    .map((part) => part.trim())
    .filter((part) => part !== '');

/** A file without variants has a row a product: what it tells products by tells its only variant too. */
function finishVariant(cells: Cells): Cells {
  if (cells.variant_id !== undefined) return cells;
  const { sku, product_id: product, title = '' } = cells;
  return { variant_id: [sku, product, categoryId([title])].find(Boolean) ?? '', ...cells };
}

function finishPerson({ dates }: FileReading) {
  const day = (text = '') => writtenDate(text, dates) ?? text;
  return ({ first_name: first, last_name: last, role_from: from, role_until: until, ...cells }: Cells): Cells => {
    const hasParts = cells.name === undefined && (first !== undefined || last !== undefined);
    const isKnownByAddress = cells.customer_id === undefined && cells.email !== undefined;
    const during = from || until ? `@${day(from)}/${day(until)}` : '';
    const roles = cells.roles && parts(cells.roles, '|').map((role) => (role.includes('@') ? role : role + during));
    return {
      ...cells,
      ...(hasParts ? { name: [first, last].filter(Boolean).join(' ') } : {}),
      ...(isKnownByAddress ? { customer_id: cells.email?.toLowerCase() } : {}),
      ...(roles && during !== '' ? { roles: roles.join('|') } : {}),
    };
  };
}
