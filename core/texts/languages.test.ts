import { describe, expect, it } from 'vitest';
import { LISBON } from '#tests/support/arbitraries.ts';
import { LANGUAGES, TEXT_KEYS, textsOf } from './languages.ts';
import { fillWords, placeholdersIn, SAMPLE_VALUES } from './messages.ts';
import { directionOf, shopText } from './shopTexts.ts';

const { en } = LANGUAGES;
const linksIn = (text: string) => [...text.matchAll(/\]\(\{(\w+)\}\)/g)].map(([, name]) => name).sort();

describe.each(Object.entries(LANGUAGES))('the texts in %s', (language, texts) => {
  it('lack none, and say what the English ones say', () => {
    expect(Object.keys(texts)).toEqual(TEXT_KEYS);
    for (const key of TEXT_KEYS) {
      expect(texts[key].trim(), key).not.toBe('');
      expect(placeholdersIn(texts[key]).sort(), key).toEqual(placeholdersIn(en[key]).sort());
      expect(linksIn(texts[key]), key).toEqual(linksIn(en[key]));
    }
  });

  it('have a form for every number that the language tells apart', () => {
    const categories = new Intl.PluralRules(language).resolvedOptions().pluralCategories;
    const plurals = TEXT_KEYS.filter((key) => texts[key].includes(', plural,'));
    expect(plurals.length).toBe(3);
    for (const key of plurals) {
      // "many" of French, Spanish, Italian and Portuguese is of millions, which no list has.
      const needed = categories.filter((category) => category !== 'many' || language === 'pl');
      for (const category of needed) expect(texts[key], key).toContain(`${category} {`);
      for (const count of [1, 2, 5, 22, 25])
        expect(
          fillWords(texts[key], { ...SAMPLE_VALUES, shop: 'Quillfern', length: count, lines: count }, language),
        ).not.toMatch(/[{}]/);
    }
  });
});

describe('a shop’s texts', () => {
  it('are in its languages, the owner’s before ours, English where we have none', () => {
    const shop = {
      ...LISBON,
      locales: ['ar', 'de-AT'],
      texts: textsOf(['ar', 'de-AT'], { ar: { 'label.choose': 'انظر الأحجام' } }),
    };
    expect(shopText('label.choose', 'ar-EG', shop)).toBe('انظر الأحجام');
    expect(shopText('page.from', 'ar', shop)).toBe('from');
    expect(shopText('page.from', 'de', shop)).toBe('ab');
    // A language that is not the shop's is answered in the shop's first.
    expect(shopText('label.choose', 'fr', shop)).toBe('انظر الأحجام');
  });

  it('say one, few and many as Polish does', () => {
    const text = LANGUAGES.pl['message.waitlist.new.body'];
    const say = (length: number) => fillWords(text, { ...SAMPLE_VALUES, length }, 'pl');
    expect(say(1)).toContain('jest jedna osoba');
    expect(say(3)).toContain('są 3 osoby');
    expect(say(5)).toContain('jest 5 osób');
    expect(say(22)).toContain('są 22 osoby');
  });

  it.each([
    ['ar', 'rtl'],
    ['he-IL', 'rtl'],
    ['az-Arab', 'rtl'],
    ['ku-Latn', 'ltr'],
    ['en', 'ltr'],
    ['ja', 'ltr'],
  ] as const)('in %s go %s', (locale, direction) => {
    expect(directionOf(locale)).toBe(direction);
  });
});
