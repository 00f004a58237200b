import type { FormField } from '#core/contract/askingCalls.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Queryable } from '../db/database.ts';
import { invalid } from '../errors.ts';

/** What a form asks for; null when there is no such form. */
export async function readForm(db: Queryable, code: string): Promise<FormField[] | null> {
  const { rows } = await db.query<{ fields: FormField[] }>('SELECT fields FROM forms WHERE code = $1', [code]);
  return rows[0]?.fields ?? null;
}

export async function writeForm(
  db: Queryable,
  code: string,
  { fields, by, at }: { fields: readonly FormField[]; by: string; at: Date },
): Promise<void> {
  await db.query(
    `INSERT INTO forms (code, fields, saved_by, saved_at) VALUES ($1, $2, $3, $4)
     ON CONFLICT (code) DO UPDATE SET fields = $2, saved_by = $3, saved_at = $4`,
    [code, JSON.stringify(fields), by, at],
  );
}

export interface Answer {
  readonly label: string;
  readonly value: string;
}

/**
 * The answers to a form in its order, with the labels that stood there.
 * @throws {ProblemError} 422 for what is missing or is not what was asked for
 */
export function answersTo(
  fields: readonly FormField[],
  given: Readonly<Record<string, string>>,
  locales: readonly string[],
): Answer[] {
  const faults = fields.flatMap((field) => {
    const value = given[field.name]?.trim() ?? '';
    const allowed = faultOf(field, value);
    return allowed === null ? [] : [{ pointer: `/answers/${field.name}`, found: JSON.stringify(value), allowed }];
  });
  if (faults.length > 0) throw invalid('What was sent', faults);
  return fields.flatMap(({ name, label }) => {
    const value = given[name]?.trim() ?? '';
    return value === '' ? [] : [{ label: wordsIn(label, null, locales), value }];
  });
}

function faultOf({ kind, required, choices }: FormField, value: string): string | null {
  if (value === '') return required ? 'an answer' : null;
  if (kind === 'number' && !Number.isFinite(Number(value))) return 'a number';
  if (kind === 'date' && !/^\d{4}-\d{2}-\d{2}$/.test(value)) return 'a date, YYYY-MM-DD';
  if (kind === 'choice' && !choices?.includes(value)) return `one of ${choices?.join(', ') ?? ''}`;
  return null;
}
