import type { LocalisedText } from '#core/model/localisedText.ts';
import { wordsIn } from '#core/texts/locale.ts';

/** Title of a product, and of its variant if given, in a locale. */
export const titleOf = (
  { title, variantTitle }: { readonly title: LocalisedText; readonly variantTitle: string | null },
  locale: string | null,
  locales: readonly string[],
): string => [wordsIn(title, locale, locales), variantTitle].filter(Boolean).join(', ');

/** In SQL, the options of the variant `v`, as `titleOf` takes them. */
export const VARIANT_TITLE = `(SELECT string_agg(value, ', ') FROM jsonb_each_text(v.options))`;

/** In SQL, whether the title of the product `p` or of its variant `v` matches a pattern in any language. */
export const isTitled = (pattern: string): string =>
  `(p.title::text ILIKE ${pattern} OR ${VARIANT_TITLE} ILIKE ${pattern})`;
