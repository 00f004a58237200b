import { FIELDS } from '#core/contract/formFields.ts';
import type { Form, FormField } from '#core/contract/askingCalls.ts';
import { localeFor, wordsIn } from '#core/texts/locale.ts';
import { toHtml } from '#core/texts/markdown.ts';
import { shopText, type Speaking } from '#core/texts/shopTexts.ts';
import type { Queryable } from '../db/database.ts';
import { invalid } from '../http/errors.ts';

const COLUMNS = 'code, fields, sent_text AS "sentText", empty_text AS "emptyText", go_to AS "goTo"';

export type FormRow = Form & { code: string };

/** A form; null when there is none of that code. */
export async function readForm(db: Queryable, code: string): Promise<FormRow | null> {
  return (await db.query<FormRow>(`SELECT ${COLUMNS} FROM forms WHERE code = $1`, [code])).rows[0] ?? null;
}

export async function allForms(db: Queryable): Promise<FormRow[]> {
  return (await db.query<FormRow>(`SELECT ${COLUMNS} FROM forms ORDER BY code`)).rows;
}

export async function writeForm(
  db: Queryable,
  { code, fields, sentText, emptyText, goTo }: FormRow,
  { by, at }: { by: string; at: Date },
): Promise<void> {
  const json = (value: unknown) => (value === null ? null : JSON.stringify(value));
  await db.query(
    `INSERT INTO forms (code, fields, sent_text, empty_text, go_to, saved_by, saved_at)
     VALUES ($1, $2, $3, $4, $5, $6, $7)
     ON CONFLICT (code) DO UPDATE
     SET fields = $2, sent_text = $3, empty_text = $4, go_to = $5, saved_by = $6, saved_at = $7`,
    [code, JSON.stringify(fields), json(sentText), json(emptyText), goTo, by, at],
  );
}

/** @returns whether there was such a form */
export async function deleteForm(db: Queryable, code: string): Promise<boolean> {
  return (await db.query('DELETE FROM forms WHERE code = $1', [code])).rowCount === 1;
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

function faultOf(field: FormField, value: string): string | null {
  if (value === '') return field.required ? 'an answer' : null;
  return FIELDS[field.kind].fault(value, field);
}

/** Confirmation of a form: the owner's text, else the default; and the page to go on to. */
export function onceSent(
  form: Form | null,
  ours: 'asked' | 'quoted',
  { locale, shop }: { readonly locale: string | null; readonly shop: Speaking },
): { html: string; goTo: string | null } {
  const custom = form?.sentText;
  const { locales } = shop;
  const html = custom
    ? toHtml(wordsIn(custom, localeFor(locale, locales), locales))
    : toHtml(shopText(`asking.${ours}`, locale, shop));
  return { html, goTo: form?.goTo ?? null };
}
