import { z } from 'zod';

/** Targets of an import. */
export const IMPORT_TARGETS = ['catalog', 'people'] as const;
export type TargetName = (typeof IMPORT_TARGETS)[number];

export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;
export type Encoding = (typeof ENCODINGS)[number];

export const SEPARATORS = [',', ';', '\t', '|'] as const;
export type Separator = (typeof SEPARATORS)[number];

/** In which order a date of three numbers names year, month and day. */
export const DATE_FORMS = ['ymd', 'dmy', 'mdy'] as const;
export type DateForm = (typeof DATE_FORMS)[number];

/** Options for reading a file in another format than our own. */
export const FileReading = z
  .strictObject({
    encoding: z.enum(ENCODINGS).describe('As the WHATWG’s Encoding Standard names it'),
    separator: z.enum(SEPARATORS).describe('What stands between two cells'),
    decimal: z.enum(['.', ',']).describe('What stands before the cents; signs between thousands are passed over'),
    dates: z.enum(DATE_FORMS).describe('In which order year, month and day stand, where all are numbers'),
    lists: z.enum(['|', ',', ';']).describe('What stands between two tags or roles of one cell'),
    columns: z
      .array(z.string().max(220).nullable())
      .min(1)
      .max(500)
      .describe(
        'What each column is, in the order of the file: one of our columns, or `attribute:`, `date:` or `option:` with a name; null for one that is left out',
      ),
  })
  .meta({ id: 'FileReading' });
export type FileReading = z.infer<typeof FileReading>;

/** Columns of which a file may have many, each with a name: what is in others of the kind stays. */
export const NAMED_KINDS = ['attribute', 'date', 'option'] as const;
export type NamedKind = (typeof NAMED_KINDS)[number];

/** The kind and the name of a column that is one of many, such as `date:Ships on`; null for others. */
export function namedColumn(column: string): { readonly kind: NamedKind; readonly name: string } | null {
  const [, kind, name] = /^(attribute|date|option):(.*\S.*)$/.exec(column) ?? [];
  return kind === undefined || name === undefined ? null : { kind: kind as NamedKind, name: name.trim() };
}
