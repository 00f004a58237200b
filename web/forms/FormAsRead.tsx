import { createElement, useState } from 'react';
import type { FormField } from '#core/contract/askingCalls.ts';
import { FIELDS } from '#core/contract/formFields.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { wordsIn } from '#core/texts/locale.ts';
import letters from '../shared/letters.module.css';
import styles from './forms.module.css';

const LANGUAGES = new Intl.DisplayNames('en', { type: 'language' });

/** A form as shoppers read it, in one of the shop's languages. */
export function FormAsRead({ fields, shop }: { readonly fields: readonly FormField[]; readonly shop: ShopFacts }) {
  const [locale, setLocale] = useState(shop.locales[0] ?? 'en');
  return (
    <aside className={styles.read} aria-label="Preview">
      <div className={letters.filters}>
        {shop.locales.map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={name === locale}
            onClick={() => {
              setLocale(name);
            }}
          >
            {LANGUAGES.of(name)}
          </button>
        ))}
      </div>
      <div className={styles.sheet} lang={locale} inert>
        {fields.map(({ name, kind, label, required, choices = [] }) => (
          <label key={name}>
            {wordsIn(label, locale, shop.locales)} {!required && <small>optional</small>}
            {FIELDS[kind].element === 'select' ? (
              <select>
                {choices.map((choice) => (
                  <option key={choice}>{choice}</option>
                ))}
              </select>
            ) : (
              createElement(FIELDS[kind].element, { type: FIELDS[kind].type, rows: 3 })
            )}
          </label>
        ))}
        <label>
          E-mail <input type="email" />
        </label>
        <label>
          Name <small>optional</small> <input />
        </label>
      </div>
    </aside>
  );
}
