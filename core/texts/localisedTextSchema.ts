import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { textFault } from './placeholders.ts';

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
