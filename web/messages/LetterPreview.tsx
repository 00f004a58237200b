import { useEffect, useRef } from 'react';
import type { MessageLook } from '#core/contract/channelCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { letterHtml } from '#core/texts/letter.ts';
import styles from '../shared/letters.module.css';

interface Props {
  /** Safe HTML of the body; the core rendered it, with raw HTML escaped. */
  readonly html: string;
  readonly locale: string | null;
  readonly look: MessageLook;
  readonly shop: ShopFacts;
}

/** A letter as mail programs show it. */
export function LetterPreview({ html, locale, look, shop }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const { logo, address } = look;
  const letter = letterHtml(html, look, {
    shop,
    locale,
    logo: logo && `data:${logo.type};base64,${logo.data}`,
    address,
  });
  useEffect(() => {
    if (!place.current) return;
    const root = place.current.shadowRoot ?? place.current.attachShadow({ mode: 'open' });
    // The content security policy forbids style attributes, so each property is set by script.
    root.innerHTML = letter.replaceAll(' style="', ' data-style="');
    for (const part of root.querySelectorAll<HTMLElement>('[data-style]'))
      part.style.cssText = part.dataset.style ?? '';
  }, [letter]);
  return (
    <div
      ref={place}
      className={styles.paper}
      lang={locale ?? undefined}
      // Links in it are the customer's: pressing them here would use them up.
      onClickCapture={(event) => {
        event.preventDefault();
      }}
    />
  );
}
