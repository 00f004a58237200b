import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema, ofView } from './fact.ts';
import { joined } from './wording.ts';

/** Matches a BCP 47 range with itself and narrower ones: `fr` matches `fr-CA` (RFC 4647, basic filtering). */
const isInRange = (locale: string, range: string) =>
  locale.toLowerCase() === range.toLowerCase() || locale.toLowerCase().startsWith(`${range.toLowerCase()}-`);

/** Locale named by the page's request. */
export const visitorLocale = defineFact({
  name: 'visitor.locale',
  schema: leafSchema('visitor.locale', ['in'], z.array(Locale).min(1).max(100)),
  about: 'people',
  rank: 4,
  dependsOn: ofView,
  actual: ({ visitor }) => visitor.locale,
  operators: {
    in: (expected) =>
      timeless(({ visitor: { locale } }) => locale !== null && expected.some((range) => isInRange(locale, range))),
  },
  predicate: ({ value }, make) =>
    make.among(
      'visitor',
      'locale',
      value.map((range) => range.toLowerCase()),
    ),
  emitVisitor: (visitor, emit) => {
    const locale = visitor.locale?.toLowerCase() ?? '';
    for (let end = locale.length; end > 0; end = locale.lastIndexOf('-', end - 1))
      emit.value('locale', locale.slice(0, end));
  },
  phrase: ({ value }) => `for visitors who read ${joined(value, 'or')}`,
  asked: {
    group: 'Languages',
    questions: [{ label: 'visitors who read a language', op: 'in', start: null, value: 'locales' }],
  },
});
