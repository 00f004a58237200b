import type { Emit } from '../facts/fact.ts';
import { sameName } from '../model/names.ts';

/** By column and value, the places of those who have it. */
type Posted = Map<string, Map<string, number[]>>;

/** Collects which rows have which values, except values looked up one by one. */
export function posting(columns: Posted, place: number): Pick<Emit, 'value' | 'name' | 'id'> {
  return {
    value: (column, value) => {
      post(columns, place, column, value);
    },
    name: (column, name) => {
      if (name !== null && name !== undefined) post(columns, place, column, sameName(name));
    },
    id: () => undefined,
  };
}

/** Records a value at a position, once. */
export function post(columns: Posted, place: number, column: string, value: string | null | undefined): void {
  if (value === null || value === undefined) return;
  const ofColumn = columns.get(column) ?? new Map<string, number[]>();
  columns.set(column, ofColumn);
  const having = ofColumn.get(value);
  if (!having) ofColumn.set(value, [place]);
  else if (having.at(-1) !== place) having.push(place);
}
