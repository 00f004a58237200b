/** One row as read: its cells by column, and where it stands in the file. */
export interface Row {
  readonly line: number;
  readonly cells: Readonly<Record<string, string>>;
}

/** Why a row does not go in. */
export interface Refusal {
  readonly line: number;
  readonly column: string | null;
  readonly reason: string;
}

type JsonCell = string | number | boolean | null | string[] | Record<string, string>;

/** JSON rows, brought to the form that a CSV file has. */
export function readJson(input: readonly Readonly<Record<string, JsonCell>>[]): { columns: string[]; rows: Row[] } {
  const columns = [...new Set(input.flatMap((row) => Object.keys(row)))];
  const rows = input.map((row, index) => ({
    line: index + 2,
    cells: Object.fromEntries(Object.entries(row).map(([name, value]) => [name, cellText(value)])),
  }));
  return { columns, rows };
}

function cellText(value: JsonCell): string {
  if (value === null) return '';
  if (Array.isArray(value)) return value.join('|');
  if (typeof value === 'object') {
    return Object.entries(value)
      .map(([name, inner]) => `${name}=${inner}`)
      .join('|');
  }
  return String(value).trim();
}
