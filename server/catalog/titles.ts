import type { LocalisedText } from '#core/model/localisedText.ts';
import { wordsIn } from '#core/texts/locale.ts';

/** What a product, and its variant where one is meant, is called in a locale. */
export const titleOf = (
  { title, variantTitle }: { readonly title: LocalisedText; readonly variantTitle: string | null },
  locale: string | null,
  locales: readonly string[],
): string => [wordsIn(title, locale, locales), variantTitle].filter(Boolean).join(', ');
