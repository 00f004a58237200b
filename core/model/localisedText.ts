import { z } from 'zod';

/** BCP 47 language tags, loosely: a language and any subtags. */
export const Locale = z.string().regex(/^[a-zA-Z]{2,3}(-[a-zA-Z0-9]{1,8})*$/, 'a language tag such as en or pt-BR');

/** Words for a page: one string for every language, or a map from locale to string. */
export type LocalisedText = string | Readonly<Record<string, string>>;
