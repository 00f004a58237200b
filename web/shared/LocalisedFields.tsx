import { TextField } from '@mui/material';
import { useState } from 'react';
import { html } from '#core/texts/textRenderers.ts';
import { textFault } from '#core/texts/placeholders.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import { inert } from './inert.ts';
import styles from './localised.module.css';
import { nobody, useExample } from './example.ts';

interface LocalisedFieldsProps {
  readonly label: string;
  readonly text: LocalisedText | undefined;
  readonly locales: readonly string[];
  readonly multiline?: boolean;
  readonly autoFocus?: boolean;
  /** The words are Markdown, and are shown as shoppers will read them. */
  readonly preview?: boolean;
  /** Called with undefined if no language has a text. Invalid texts are not reported. */
  readonly onChange: (text: LocalisedText | undefined) => void;
}

const LANGUAGES = new Intl.DisplayNames('en', { type: 'language' });

/** Words in each of the shop's languages. */
export function LocalisedFields({
  label,
  text,
  locales,
  multiline,
  autoFocus,
  preview,
  onChange,
}: LocalisedFieldsProps) {
  const [words, setWords] = useState<Record<string, string>>(() =>
    typeof text === 'string' ? { [locales[0] ?? 'en']: text } : (text ?? {}),
  );
  const set = (locale: string, value: string) => {
    const next = { ...words, [locale]: value };
    setWords(next);
    const filled = Object.fromEntries(Object.entries(next).filter(([, text]) => text.trim() !== ''));
    if (Object.values(filled).some((text) => textFault(text))) return;
    const [only] = Object.values(filled);
    if (only === undefined) onChange(undefined);
    else onChange(locales.length === 1 && Object.keys(filled).length === 1 ? only : filled);
  };
  const fields = locales.map((locale, index) => {
    const text = words[locale] ?? '';
    const fault = text === '' ? null : textFault(text);
    return (
      <TextField
        key={locale}
        label={locales.length > 1 ? `${label}, ${LANGUAGES.of(locale) ?? locale}` : label}
        value={text}
        multiline={multiline === true}
        error={fault !== null}
        helperText={fault ?? undefined}
        autoFocus={autoFocus === true && index === 0}
        slotProps={{ htmlInput: { maxLength: 2000, lang: locale } }}
        onChange={({ target }) => {
          set(locale, target.value);
        }}
      />
    );
  });
  if (!preview) return fields;
  return (
    <>
      {fields}
      {locales.map((locale) => {
        const text = words[locale]?.trim() ?? '';
        if (text === '' || textFault(text)) return null;
        return <Preview key={locale} markdown={text} locale={locale} />;
      })}
    </>
  );
}

/** Preview of a text for products of the rule, in one language. */
function Preview({ markdown, locale }: { readonly markdown: string; readonly locale: string }) {
  const example = useExample();
  if (!example) return null;
  const { shop, product, variant, left } = example;
  const subject = { product, variant, visitor: nobody(locale), moment: 0, surface: 'product', page: null } as const;
  const rendered = html({ [locale]: markdown }, shop)(subject, left);
  return <div className={styles.preview} lang={locale} dangerouslySetInnerHTML={{ __html: inert(rendered) }} />;
}
