import { z } from 'zod';
import { textFault } from '../texts/placeholders.ts';

/** BCP 47 language tags, loosely: a language and any subtags. */
export const Locale = z.string().regex(/^[a-zA-Z]{2,3}(-[a-zA-Z0-9]{1,8})*$/, 'a language tag such as en or pt-BR');

const Words = z
  .string()
  .max(2000)
  .regex(/\S/, 'words that can be seen')
  .superRefine((text, context) => {
    const fault = textFault(text);
    if (fault) context.addIssue({ code: 'custom', message: fault });
  });

/** Words for a page: one string for every language, or a map from locale to string. */
export const LocalisedText = z
  .union([
    Words,
    z.record(Locale, Words).refine((map) => Object.keys(map).length > 0, 'words in at least one language'),
  ])
  .meta({ id: 'LocalisedText' });

export type LocalisedText = z.infer<typeof LocalisedText>;
