import { readFileSync } from 'node:fs';
import { parse } from 'csv-parse/sync';

export interface Customer {
  readonly id: string;
  readonly name: string;
  /** As the shop's own records have it, for the list on the sign-in page. */
  readonly roles: string;
}

export function readCustomers(file: string): Customer[] {
  const rows: Record<string, string>[] = parse(readFileSync(file, 'utf8'), { columns: true, bom: true });
  return rows.map((row) => ({
    id: row.customer_id ?? '',
    name: row.name ?? '',
    roles: (row.roles ?? '').split('|').join(', '),
  }));
}
