import { readFileSync } from 'node:fs';
import { parse } from 'csv-parse/sync';

export interface Customer {
  readonly id: string;
  readonly name: string;
  /** Roles in the shop's own records, for the list on the sign-in page. */
  readonly roles: string;
}

export function readCustomers(file: string): Customer[] {
  const rows: Record<string, string>[] = parse(readFileSync(file, 'utf8'), { columns: true, bom: true });
  return rows.map((row) => ({
    id: row.customer_id ?? '',
    name: row.name ?? '',
    roles: (row.roles ?? '').split('|').map(roleWords).join(', '),
  }));
}

/** `member@2026-01-01/2027-01-01` as "member from 2026-01-01 until 2027-01-01". */
function roleWords(written: string): string {
  const [role = '', dates = ''] = written.split('@');
  const [from, until] = dates.split('/');
  return [role, from && `from ${from}`, until && `until ${until}`].filter(Boolean).join(' ');
}
